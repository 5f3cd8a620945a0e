/** Writing what signals show as keys: what merging passes, baking filters and baking out share. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { framesOf } from '../../base/frame-range.ts';
import { rising } from '../../base/frames.ts';
import type { Work } from '../../base/work.ts';
import type { Curve } from '../../curve/curve.ts';
import { curveThrough, curveWithin } from '../../curve/curve-through.ts';
import type { Shown } from '../../curve/curve-through.ts';
import { hasLead } from '../../curve/lead.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { timesWithRepeats } from '../../curve/repeated-times.ts';
import { kindOf } from '../../layers/kinds.ts';
import type { Layer } from '../../layers/layer.ts';
import { channelKind } from '../../rig/node.ts';
import { contextOf } from '../../evaluation/context.ts';
import { LOOKS_PER_FRAME } from '../../evaluation/measure.ts';
import { rigOf, splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import type { Measure } from '../edit.ts';
import { motionMeasures, notKept, sameMotion } from './same-motion.ts';
import type { SameMotion } from './same-motion.ts';
import { toleranceOption } from './tolerance-option.ts';
import { unwound } from './unwound.ts';
import { withinSpace } from '../clean/within-space.ts';

/** So often it is tried again with less where turns stray. */
const MOST_ROUNDS = 4;
/** Frames times channels: more is baked once, and what is not kept is said, since the hand waits for it. */
const MOST_AGAIN = 20_000;
/** Where the tolerance in space cannot be held by any fit, channels are held to this, in their units. */
const NOTHING_HELD = 1e-4;

const tolerance = (title: string, unit: string, step: number, start: number, most: number) =>
  toleranceOption(
    { title, unit, step, description: 'Greatest distance from what shows, between frames too.' },
    start,
    most,
    { keys: 'needed' },
  );

export const bakeOptions = {
  keys: z
    .enum(['union', 'every', 'needed'])
    .default('needed')
    .meta({
      title: 'Keys',
      labels: { union: 'where keys are', every: 'every frame', needed: 'as needed' },
      description: 'Where the layers have keys; on every frame; or as few as hold the tolerances.',
    }),
  space: tolerance('In space', 'mm', 0.5, 1, 1000),
  turn: tolerance('In turn', '°', 0.05, 0.2, 180),
  other: tolerance('Other channels', '', 0.001, 0.01, 100),
};
export interface BakeWishes {
  readonly keys: 'union' | 'every' | 'needed';
  readonly space: number;
  readonly turn: number;
  readonly other: number;
}

/** A channel to be baked: what it shows, and where keys stand that make it. */
export interface Baked {
  readonly shown: Shown;
  readonly times: readonly number[];
  /** A curve that is what shows, with its repeats, where there is one: nothing needs to be fitted. */
  readonly exact?: Curve | null;
}

/** Places within a segment at which it is tried whether a change is the same everywhere: a cubic that is nothing on these and on its ends is nothing. */
const TRIED = [0, 0.2, 0.5, 0.8];

/**
 * A curve moved by a constant, where that is all that layers with so few keys make of it: its keys and repeats stay what they are. Null where they
 * make more of it.
 * @param times where keys of the layers stand for the channel
 */
export function movedAlike(
  { range }: Shot,
  curve: Curve,
  below: Shown,
  above: Shown,
  times: readonly number[],
): Curve | null {
  if (times.length > 1 || curve.times.length === 0) return null;
  const by = (frame: number) => above.at(frame) - below.at(frame);
  const first = by(range.start);
  const near = 1e-9 * (1 + Math.abs(first));
  const shown = rising([range.start, range.end], timesWithRepeats(curve, range), times);
  for (let i = 0; i < shown.length; i += 1) {
    const [from, to] = [shown[i]!, shown[i + 1] ?? shown[i]! + 1];
    if (TRIED.some((part) => Math.abs(by(from + part * (to - from)) - first) > near)) return null;
  }
  return rebuild(curve, null, (columns) => {
    for (let row = 0; row < columns.values.length; row += 1) columns.values[row]! += first;
  });
}

export interface Bake {
  readonly shot: Shot;
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  /** What the baked shot shows against what showed, on frames and between them. */
  readonly measures: readonly Measure[];
  /** Where that is more than was asked. */
  readonly findings: readonly Finding[];
}

/** What is baked with the angles of each node as they are to be written. */
function withAnglesUnwound(shot: Shot, baked: ReadonlyMap<ChannelId, Baked>): ReadonlyMap<ChannelId, Baked> {
  const result = new Map(baked);
  for (const node of shot.nodes) {
    const ids = ['rx', 'ry', 'rz'].map((name) => `${node.id}.${name}`);
    const three = ids.map((id) => baked.get(id));
    if (!three.every((one) => one !== undefined && !one.exact)) continue;
    const turned = unwound(three.map((one) => one!.shown) as never, node.order, shot.range);
    turned?.forEach((shown, axis) => result.set(ids[axis]!, { ...three[axis]!, shown }));
  }
  return result;
}

/** The whole frames of the shot, its ends, and what has keys outside. */
const everyFrame = ({ range }: Shot, times: readonly number[]): number[] =>
  rising(
    framesOf(range),
    [range.end],
    times.filter((time) => time < range.start || time > range.end),
  );

/**
 * Bakes channels, and compares.
 * @param put the shot with the baked curves in it; what it shows is held against what `shot` shows
 */
export function* bake(
  shot: Shot,
  baked: ReadonlyMap<ChannelId, Baked>,
  wishes: BakeWishes,
  put: (curves: ReadonlyMap<ChannelId, Curve>) => Shot,
): Work<Bake> {
  const channels = [...baked.keys()];
  const written = remembered(withAnglesUnwound(shot, baked));
  // Fits are tried again with less where that is needed: what is held to the same keeps its curve.
  const fitted = new Map<ChannelId, { readonly tolerance: number; readonly curve: Curve }>();
  const fit = (channel: ChannelId, shown: Shown, times: readonly number[], tolerance: number): Curve => {
    const known = fitted.get(channel);
    if (known?.tolerance === tolerance) return known.curve;
    const curve = curveWithin(shown, times, tolerance);
    fitted.set(channel, { tolerance, curve });
    return curve;
  };
  function* curvesFor(
    toleranceOf: (channel: ChannelId) => number,
  ): Work<{ shot: Shot; curves: Map<ChannelId, Curve> }> {
    const curves = new Map<ChannelId, Curve>();
    for (const [i, [channel, { shown, times, exact }]] of [...written].entries()) {
      if (i > 0) yield { done: i / written.size };
      if (exact) {
        curves.set(channel, exact);
        continue;
      }
      const places = wishes.keys === 'every' ? everyFrame(shot, times) : withEnds(shot, shown, times);
      curves.set(
        channel,
        wishes.keys === 'needed'
          ? fit(channel, shown, places, toleranceOf(channel))
          : curveThrough(shown, places),
      );
    }
    return { shot: put(curves), curves };
  }
  // What a turn may be off by is shared out over a limb: less for each round in which more was seen.
  let most = wishes.turn / 2;
  const toleranceOf = (held: (channel: ChannelId) => number) => (channel: ChannelId) => {
    const kind = channelKind(splitChannel(channel).name);
    return kind === 'other'
      ? wishes.other
      : kind === 'rotation'
        ? Math.min(held(channel), most)
        : held(channel);
  };
  const goal = { channels, limit: wishes.space / 10, range: shot.range, looksPerFrame: LOOKS_PER_FRAME };
  // For one frame beside a jump keys must hold, whatever showed: fits are held against the best that keys can be, or none would ever be near enough.
  const jumps = [...written.values()].some(
    ({ shown, exact }) => !exact && shown.jumps(shot.range).length > 0,
  );
  const reachable =
    wishes.keys === 'needed' && jumps ? (yield* curvesFor(toleranceOf(() => NOTHING_HELD))).shot : shot;
  let before = Infinity;
  for (let round = 0; ; round += 1) {
    const held =
      wishes.keys === 'needed'
        ? yield* withinSpace(reachable, goal, (of) => curvesFor(toleranceOf(of)))
        : null;
    const { shot: after, curves } = held?.fit ?? (yield* curvesFor(toleranceOf(() => NOTHING_HELD)));
    const found = shownAgainst(shot, after, channels);
    const promised = { mm: wishes.space, degrees: wishes.turn };
    const avoidable = reachable === shot ? found : shownAgainst(reachable, after, channels);
    const [far, turned] = (['place', 'turn'] as const).map((of) =>
      Math.max(avoidable.onFrames[of].amount, avoidable.between[of].amount),
    ) as [number, number];
    // Less for turns helps where turns stray alone, and only as long as it does.
    const helps = far * 10 <= wishes.space && turned > wishes.turn && turned < 0.9 * before;
    const again = helps && (shot.range.end - shot.range.start) * channels.length <= MOST_AGAIN;
    before = turned;
    if (wishes.keys !== 'needed' || !again || round === MOST_ROUNDS)
      return {
        shot: after,
        curves,
        measures: motionMeasures(found),
        findings: notKept(found, promised),
      };
    most *= 0.4;
  }
}

/** Values that are kept while fits are tried again and again at the same places; more are worked out anew. */
const MOST_REMEMBERED = 2e6;

function remembered(baked: ReadonlyMap<ChannelId, Baked>): ReadonlyMap<ChannelId, Baked> {
  let left = MOST_REMEMBERED;
  return new Map(
    [...baked].map(([channel, one]): [ChannelId, Baked] => {
      const known = new Map<number, number>();
      const at = (frame: number) => {
        let value = known.get(frame);
        if (value === undefined) {
          value = one.shown.at(frame);
          if ((left -= 1) > 0) known.set(frame, value);
        }
        return value;
      };
      return [channel, { ...one, shown: { at, jumps: (range) => one.shown.jumps(range) } }];
    }),
  );
}

/** The times with the shot's ends, where more shows beyond the first and the last of them than their values. */
function withEnds({ range }: Shot, shown: Shown, times: readonly number[]): number[] {
  const at = (frame: number) => shown.at(frame);
  const [first, last] = [times[0] ?? range.start, times[times.length - 1] ?? range.start];
  const moves = (from: number, to: number, held: number) =>
    from < to && framesOf({ start: from, end: to }).some((frame) => at(frame) !== at(held));
  return rising(
    times,
    times.length === 0 || moves(range.start, first, first) ? [range.start] : [],
    moves(last, range.end, last) || (last < range.end && at(range.end) !== at(last)) ? [range.end] : [],
  );
}

/** The channels whose repeats are keys now, and end with the shot: to be said. */
export const repeatsEnded = (
  baked: ReadonlyMap<ChannelId, Baked>,
  keyed: (channel: ChannelId) => Curve,
): Finding[] => {
  const ended = [...baked]
    .filter(([channel, { exact }]) => !exact && hasLead(keyed(channel)))
    .map(([channel]) => channel);
  return ended.length > 0 ? [finding('repeatsBaked', {}, ended)] : [];
};

/** What one shot shows against another of what channels move, on frames and between them. */
export const shownAgainst = (before: Shot, after: Shot, channels: readonly ChannelId[]): SameMotion =>
  sameMotion(before, after, [...new Set(channels.map((id) => splitChannel(id).node))], [before.range]);

/** Where keys of a layer, of its weight and the ends of its range and ramps stand for a channel, rising. */
export function timesOf(shot: Shot, layer: Layer, channel: ChannelId): number[] {
  const { node, name } = splitChannel(channel);
  const rig = rigOf(shot);
  const row = rig.indexOf(node);
  const together = kindOf(layer)?.together?.(layer, rig, row, false) ?? [];
  const names = together.includes(rig.channelIndex(channel))
    ? together.map((c) => rig.channels[c]!.name)
    : [name];
  const curves = names.map((one) => layer.curves[row]?.[one]);
  const { range, weight } = layer;
  const ends = range
    ? [
        ...(range.rampIn === 0 ? [range.start - 1] : []),
        range.start,
        range.start + range.rampIn,
        range.end - range.rampOut,
        range.end,
        ...(range.rampOut === 0 ? [range.end + 1] : []),
      ]
    : [];
  const times = [
    ...curves.flatMap((curve) => (curve ? timesWithRepeats(curve, shot.range) : [])),
    ...(weight.times.length > 1 ? timesWithRepeats(weight, shot.range) : []),
    ...ends,
  ];
  // A filter makes something of every frame.
  const { keyed, keyTimes } = kindOf(layer) ?? {};
  if (keyTimes) times.push(...keyTimes(layer, row, name, contextOf(shot)));
  else if (keyed === false) times.push(...framesOf(shot.range));
  return rising(times);
}
