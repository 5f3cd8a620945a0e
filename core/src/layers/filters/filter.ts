/**
 * What live filters share. A filter makes a signal of its own out of the one below, channel by channel, and its strength (the layer's weight
 * within its range) says how much of it counts.
 */
import type { z } from 'zod';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { onFrame } from '../../base/frames.ts';
import { defineLayer } from '../layer.ts';
import { chooses } from '../choice.ts';
import type { Answers, Context, Drawings, Layer, LayerKind, LayerTime } from '../layer.ts';
import { shared } from '../signal.ts';
import type { Signal } from '../signal.ts';
import type { Source } from './other-time.ts';
import { mixed, WeighedSignal, weightOf } from '../weight.ts';

/** The channel that is filtered, and what surrounds it. */
export interface FilterSite {
  readonly channel: number;
  readonly name: string;
  readonly node: string;
  /** The node's place among the members, from 0. */
  readonly member: number;
  /** The frames over which the filter lives: the layer's range, or the shot's. */
  readonly over: FrameRange;
  /** How much of it counts. */
  readonly strength: Signal;
  /** The cycle that a loop-aware filter goes by: the layer's range, or the shot's period from its first frame. */
  readonly cycle: FrameRange;
}

interface FilterPlan<Schema extends z.ZodObject> {
  readonly kind: string;
  readonly title: string;
  readonly summary: string;
  readonly words: string;
  readonly settings: Schema;
  /** Whether frames come to lie between those that are asked for: see the contract. */
  readonly movesTime?: boolean;
  /** See the contract. */
  readonly spins?: true;
  readonly problem?: (settings: z.output<Schema>, context: Context) => Finding | null;
  readonly time: LayerTime<z.output<Schema>>;
  readonly flip: LayerKind<Schema>['flip'];
  readonly fresh?: Partial<z.output<Schema>>;
  /** Whether what it makes has its strength in it already. */
  readonly takesStrength?: (settings: z.output<Schema>) => boolean;
  /** Whether channels without keys are filtered too. */
  readonly still?: (settings: z.output<Schema>) => boolean;
  /** All that the signal depends on beside the signal below: equal inputs, equal signal. */
  readonly inputs: (settings: z.output<Schema>, place: FilterSite, context: Context) => readonly unknown[];
  readonly filtered: (
    settings: z.output<Schema>,
    below: Signal,
    place: FilterSite,
    context: Context,
  ) => Signal;
  /** For a filter that shows another time: the frame whose value shows. */
  readonly source?: (settings: z.output<Schema>, place: FilterSite, context: Context) => Source;
  /** For a filter that holds drawings: when which one shows. */
  readonly drawings?: (
    settings: z.output<Schema>,
    place: Pick<FilterSite, 'over'>,
    context: Context,
  ) => Drawings;
  /** For a filter that adds something of its own, whatever lies below: what it adds. */
  readonly added?: (
    settings: z.output<Schema>,
    place: FilterSite,
    context: Context,
  ) => (frame: number) => number;
}

/** Strengths so near to 0 or 1 are that. */
const NEAR = 1e-9;

export function defineFilter<Schema extends z.ZodObject>(plan: FilterPlan<Schema>): LayerKind<Schema> {
  const { source, added } = plan;
  return defineLayer<Schema>({
    kind: plan.kind,
    title: plan.title,
    summary: plan.summary,
    words: plan.words,
    settings: plan.settings,
    keyed: false,
    effect: () => 'changes',
    ...(plan.movesTime && { movesTime: true }),
    ...(plan.spins && { spins: true }),
    ...(plan.problem && { problem: plan.problem }),
    ...(plan.drawings && {
      drawings: (layer: Layer, context: Context) =>
        plan.drawings!(layer.settings as z.output<Schema>, { over: layer.range ?? context.range }, context),
    }),
    time: plan.time,
    flip: plan.flip,
    ...(plan.fresh && { fresh: plan.fresh }),
    over(layer, below, context) {
      const settings = layer.settings as z.output<Schema>;
      const weight = weightOf(layer);
      const above = [...below];
      for (const place of placesOf(layer, context)) {
        const under = below[place.channel]!;
        if (under.still && !plan.still?.(settings)) continue;
        const inputs = [plan.kind, weight, place.channel, ...plan.inputs(settings, place, context)];
        above[place.channel] = shared(under, inputs, () => {
          const own = plan.filtered(settings, under, place, context);
          return plan.takesStrength?.(settings) ? own : new WeighedSignal(under, own, weight, mixed);
        });
      }
      return above;
    },
    under(layer, wants, below, context) {
      const settings = layer.settings as z.output<Schema>;
      const weight = weightOf(layer);
      const places = new Map(placesOf(layer, context).map((place) => [place.channel, place]));
      const answers: Answers = new Map();
      for (const [c, want] of wants) {
        const place = places.get(c);
        const strength = weight.at(want.frame);
        const passes =
          !place || Math.abs(strength) < NEAR || (below[c]!.still && !plan.still?.(settings) && !source);
        if (passes) answers.set(c, want);
        else if (added)
          answers.set(c, {
            ...want,
            value: want.value - strength * added(settings, place, context)(want.frame),
          });
        else if (source && (Math.abs(strength - 1) < NEAR || plan.takesStrength?.(settings))) {
          const { at, travelled } = source(settings, place, context);
          const value = want.value - (travelled?.(want.frame, below[c]!) ?? 0);
          answers.set(c, { frame: onFrame(at(want.frame)), value });
        } else answers.set(c, 'blocked');
      }
      return answers;
    },
  });
}

/** The channels that a filter is laid over, whether they are keyed or not. */
function placesOf(layer: Layer, context: Context): FilterSite[] {
  const { members, channels, range } = layer;
  const strength = weightOf(layer);
  const { rig, range: shotRange, period } = context;
  const over = range ?? shotRange;
  const cycle = range ?? { start: over.start, end: period === null ? over.end : over.start + period };
  return members.flatMap((node, member) => {
    const row = rig.indexOf(node);
    if (row < 0) return [];
    const places: FilterSite[] = [];
    for (let channel = rig.firstChannel[row]!; channel < rig.firstChannel[row + 1]!; channel += 1) {
      const { name, id } = rig.channels[channel]!;
      const meant = channels === null || channels.includes(name) || channels.includes(id);
      if (meant && !chooses(context, channel))
        places.push({ channel, name, node, member, over, strength, cycle });
    }
    return places;
  });
}
