/**
 * A placement: an action that lies over the motion below as a block, from the first to the last frame of its layer's range. The action stands once
 * in the shot; a placement says where it begins, how long it takes, which part of it shows and how often, and how much of it counts.
 */
import { z } from 'zod';
import type { FrameRange } from '../../base/frame-range.ts';
import { inRange } from '../../base/frame-range.ts';
import type { Curve } from '../../curve/curve.ts';
import { onFrame, rising } from '../../base/frames.ts';
import { LIMITS } from '../../base/limits.ts';
import { afterPieces, factorOf, imagesOf, placeIn as placedAt } from '../../base/time-pieces.ts';
import type { TimePieces } from '../../base/time-pieces.ts';
import type { Triple } from '../../math/euler.ts';
import type { Rig } from '../../rig/rig.ts';
import { chooses, chosen } from '../choice.ts';
import { defineLayer } from '../layer.ts';
import type { Context, Layer, StoredAction, Want } from '../layer.ts';
import { ComputedSignal, constantSignal, shared, signalOf } from '../signal.ts';
import type { Signal } from '../signal.ts';
import { belowOf, eachTurn, mixedTurn, turnedToward, turnSlots } from '../turns.ts';
import { added, mixed, WeighedSignal, weightOf } from '../weight.ts';
import { endsOf, landingsOf, lengthOf, roundAt, roundsOf, sourceAt } from './block-time.ts';
import type { BlockTime } from './block-time.ts';
import { afterMove, moveBetween, movedValues, STAY, stanceOf } from './ground.ts';
import type { GroundMove, Stance } from './ground.ts';

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);

const placementSettings = z.object({
  action: z.string().min(1).describe('The id of an action of the shot'),
  first: frame.describe('The frame at which its part begins'),
  factor: z.number().min(0.01).max(100).default(1).describe('Frames here for each frame of the action'),
  from: z
    .number()
    .min(0)
    .max(LIMITS.frame)
    .default(0)
    .describe('Where its part begins, frames of the action'),
  to: z.number().min(0).max(LIMITS.frame).describe('Where its part ends'),
  repeats: z.number().min(0.01).max(1000).default(1).describe('How often the part shows'),
  backward: z
    .boolean()
    .default(false)
    .describe('Whether each time it runs from the part’s end to its beginning'),
  adds: z
    .boolean()
    .default(false)
    .describe('Whether it adds how far it goes from its first pose, instead of taking over'),
  goesOn: z
    .boolean()
    .default(false)
    .describe('Whether each time round begins over the ground where the one before came to'),
  sums: z
    .boolean()
    .default(false)
    .describe('Whether, where it adds and goes on, each time round adds to what the one before came to'),
  carry: z
    .object({ turn: z.number().min(-360).max(360), x: z.number(), z: z.number() })
    .nullable()
    .default(null)
    .describe('How what nothing carries is turned about the upright, degrees, and then moved, cm'),
  carriesOn: z
    .boolean()
    .default(false)
    .describe('Whether it is worked out anew how it is carried, so that it begins where the figure stands'),
  roots: z
    .array(z.string())
    .default([])
    .describe('What nothing carries; the first says where each time round comes to'),
  rotations: z
    .enum(['channels', 'orientations'])
    .default('channels')
    .describe('Whether a part of it mixes rotations per channel or as orientations, by the short way'),
  leaves: z.array(z.string()).default([]).describe('Channels of the action that do not count'),
  crosses: z.string().nullable().default(null).describe('The layer of a placement that it gives way to'),
  course: z
    .array(
      z.object({ from: z.number(), to: z.number(), old: z.object({ from: z.number(), to: z.number() }) }),
    )
    .min(1)
    .nullable()
    .default(null)
    .describe(
      'What became of time since it was laid: new frames and the old ones that they show, rising; null where it runs as it was laid',
    ),
});
export type PlacementSettings = z.output<typeof placementSettings>;
const settingsOf = (layer: Layer) => layer.settings as PlacementSettings;

/** Weights so near to 1 leave nothing of what lies below; frames so near are one. */
const NEAR = 1e-9;

export const placement = defineLayer({
  kind: 'placement',
  title: 'Placement',
  summary: 'Shows a saved action as a block.',
  words: 'clip block action',
  keyed: false,
  // Its action is flipped with it, which is the edit's work.
  flip: () => null,
  effect: ({ adds }) => (adds ? 'adds' : 'covers'),
  isBlock: true,
  settings: placementSettings,
  over(layer, below, context) {
    const settings = settingsOf(layer);
    const above = [...below];
    const own = ownSignals(layer, context);
    const next = nextOf(layer, context);
    for (const [c, signal] of own) {
      const weight = weightOf(next?.has(c) ? withoutRampOut(layer) : layer);
      const slots = turning(settings, own, context.rig, c);
      if (slots) {
        // Once for the three.
        if (slots.find((slot) => own.has(slot)) !== c) continue;
        mixedTurn(
          slots.map((slot) => below[slot]!),
          slots.map((slot) => own.get(slot) ?? below[slot]!),
          weight,
          context.rig.nodes[context.rig.channels[c]!.node]!.order,
          turnedToward,
        ).forEach((turned, axis) => (above[slots[axis]!] = turned));
        continue;
      }
      const choice = chooses(context, c);
      if (choice && settings.adds) continue;
      const combine = choice ? chosen : settings.adds ? added : mixed;
      above[c] = shared(
        below[c]!,
        ['placement', signal, weight, combine],
        () => new WeighedSignal(below[c]!, signal, weight, combine),
      );
    }
    return above;
  },
  under(layer, wants, _, context) {
    const own = ownSignals(layer, context);
    const next = nextOf(layer, context);
    const { rig } = context;
    const settings = settingsOf(layer);
    const weightAt = (c: number, at: number) => weightOf(next?.has(c) ? withoutRampOut(layer) : layer).at(at);
    return eachTurn(wants, rig, {
      // Where all of it counts each angle is its own.
      slots(node, at) {
        const first = turnSlots(rig, node)?.find((slot) => own.has(slot)) ?? -1;
        const full = first >= 0 && Math.abs(1 - weightAt(first, at)) < NEAR;
        return full ? null : turning(settings, own, rig, first);
      },
      alone(c, want) {
        const signal = own.get(c);
        const weight = weightAt(c, want.frame);
        if (!signal || weight === 0) return want;
        const value = signal.at(want.frame);
        return settings.adds
          ? { ...want, value: want.value - weight * value }
          : uncovered(want, weight, value);
      },
      turned(slots, angles, at, order) {
        const share = weightAt(
          slots.find((slot) => own.has(slot))!,
          at,
        );
        if (share === 0) return angles;
        return belowOf(
          angles,
          slots.map((slot) => own.get(slot)?.at(at)),
          share,
          order,
        );
      },
    });
  },
  together: (layer, rig, node) =>
    (settingsOf(layer).rotations === 'orientations' && turnSlots(rig, node)) || [],
  time: { is: 'through', through },
  keyTimes({ settings, range }, node, name, { actions }) {
    const given = settings as PlacementSettings;
    const times = actionOf(given, actions)?.curves[node]?.[name]?.times ?? [];
    return landingsOf(given, [...times]).filter(
      (time) => range === null || (time > range.start && time < range.end),
    );
  },
});

/** The rotation channels of a node that are mixed as one orientation, of which a channel is one. */
function turning(
  { rotations, adds }: PlacementSettings,
  own: ReadonlyMap<number, Signal>,
  rig: Rig,
  channel: number,
): Triple | null {
  if (rotations !== 'orientations' || adds || channel < 0) return null;
  const slots = turnSlots(rig, rig.channels[channel]!.node);
  return slots?.includes(channel) && slots.some((slot) => own.has(slot)) ? slots : null;
}

const uncovered = ({ frame: at, value }: Want, weight: number, own: number) =>
  Math.abs(1 - weight) < NEAR ? 'hidden' : { frame: at, value: (value - weight * own) / (1 - weight) };

export const actionOf = (
  { action }: Pick<PlacementSettings, 'action'>,
  actions: readonly StoredAction[],
): StoredAction | null => actions.find(({ id }) => id === action) ?? null;

/** The channels that a placement shows, and what it shows on them if all of it counts. */
export function ownSignals(layer: Layer, context: Context): ReadonlyMap<number, Signal> {
  const settings = settingsOf(layer);
  const action = actionOf(settings, context.actions);
  const result = new Map<number, Signal>();
  if (!action) return result;
  const { rig } = context;
  const moves = movesOf(settings, action, rig);
  const leaves = new Set(settings.leaves);
  for (const member of layer.members) {
    const node = rig.indexOf(member);
    const entries = action.curves[node];
    if (!entries) continue;
    const carried =
      moves && settings.roots.includes(member) ? movedSignals(settings, action, rig, node, moves) : null;
    for (let c = rig.firstChannel[node]!; c < rig.firstChannel[node + 1]!; c += 1) {
      const { id, name } = rig.channels[c]!;
      const curve = entries[name];
      const moved = carried?.get(c);
      if ((!curve && !moved) || leaves.has(id)) continue;
      const shown =
        moved ??
        shared(curve!, ['shown', ...timeInputs(settings)], () => new ShownSignal(settings, signalOf(curve!)));
      const each = settings.roots.includes(member) ? addsEach(settings, name, curve) : 0;
      result.set(
        c,
        settings.adds
          ? shared(
              shown,
              ['from its first', curve, endsOf(settings)[0], each, ...timeInputs(settings)],
              () => new Difference(shown, signalOf(curve!).at(endsOf(settings)[0]), settings, each),
            )
          : shown,
      );
    }
  }
  return result;
}

/** What travels over the ground, and how it is turned. */
const TRAVELS: ReadonlySet<string> = new Set(['tx', 'tz', 'ry']);

/** How much farther each time round begins, of a placement that adds and goes on. */
function addsEach(settings: PlacementSettings, name: string, curve: Curve | undefined): number {
  if (!settings.sums || !settings.goesOn || !curve || !TRAVELS.has(name)) return 0;
  const [begins, ends] = endsOf(settings).map((frame) => signalOf(curve).at(frame)) as [number, number];
  return ends - begins;
}

/** Whether a node's values are the action's own, wherever the block lies. */
export const movesNothing = ({ carry, goesOn, repeats, roots }: PlacementSettings, node: string): boolean =>
  !roots.includes(node) || (carry === null && !(goesOn && repeats > 1));

const timeInputs = ({ first, factor, from, to, repeats, backward, course }: BlockTime) => [
  ...[first, factor, from, to, repeats, backward],
  course,
];

class ShownSignal extends ComputedSignal {
  private readonly time: BlockTime;
  private readonly curve: Signal;

  constructor(time: BlockTime, curve: Signal) {
    super();
    [this.time, this.curve] = [time, curve];
  }
  protected valueAt(at: number): number {
    return this.curve.at(onFrame(sourceAt(this.time, at)));
  }
  jumps(range: FrameRange): readonly number[] {
    return jumpsIn(this.time, range, [this.curve]);
  }
}

/** Frames at which what shows may jump: where the action does, and where a time round begins. */
const jumpsIn = (time: BlockTime, range: FrameRange, curves: readonly Signal[]): readonly number[] => {
  const part = { start: time.from, end: time.to };
  const inside = curves.flatMap((curve) => [...curve.jumps(part)]);
  return rising(landingsOf(time, inside)).filter((frame) => inRange(range, frame));
};

/** How far a placement goes from its first pose. */
class Difference extends ComputedSignal {
  private readonly shown: Signal;
  private readonly start: number;
  private readonly time: BlockTime;
  private readonly each: number;

  /** @param start the value of its first pose @param each how much more each time round adds */
  constructor(shown: Signal, start: number, time: BlockTime, each: number) {
    super();
    [this.shown, this.start, this.time, this.each] = [shown, start, time, each];
  }
  protected valueAt(at: number): number {
    return this.shown.at(at) - this.start + (this.each === 0 ? 0 : this.each * roundAt(this.time, at));
  }
  jumps(range: FrameRange): readonly number[] {
    return this.shown.jumps(range);
  }
}

/** How what nothing carries is moved each time round; null where it stays. */
function movesOf(settings: PlacementSettings, action: StoredAction, rig: Rig): readonly GroundMove[] | null {
  const { carry, goesOn, repeats, roots, adds } = settings;
  const rounds = roundsOf(repeats);
  const main = rig.indexOf(roots[0] ?? '');
  if (adds || main < 0 || (carry === null && !(goesOn && repeats > 1))) return null;
  const moves = [carry ?? STAY];
  if (!goesOn) return Array.from({ length: rounds }, () => moves[0]!);
  const { rest, order } = rig.nodes[main]!;
  const at = (frame: number) =>
    stanceOf(
      valuesOf(action, main, rig).map((one) => one.at(frame)),
      rest,
      order,
    );
  const [begins, ends] = endsOf(settings);
  const round = moveBetween(at(begins), at(ends));
  while (moves.length < rounds) moves.push(afterMove(moves[moves.length - 1]!, round));
  return moves;
}

/**
 * Where a block would begin if it were carried nowhere: what moves the figure, and where that stands at its first frame; null where nothing does.
 */
export function beginningOf(
  layer: Layer,
  context: Context,
): { readonly node: number; readonly stance: Stance; readonly turns: boolean } | null {
  const settings = settingsOf(layer);
  const action = actionOf(settings, context.actions);
  const node = context.rig.indexOf(settings.roots[0] ?? '');
  if (!action || !layer.range || node < 0 || settings.adds) return null;
  const { rest, order } = context.rig.nodes[node]!;
  const { start } = layer.range;
  const source = onFrame(sourceAt(settings, start));
  const values = valuesOf(action, node, context.rig).map((one) => one.at(source));
  const moves = movesOf({ ...settings, carry: null }, action, context.rig);
  const shown = moves ? movedValues(values, moves[roundAt(settings, start)]!, rest, order) : values;
  const turns = SIX.slice(3).some((name) => action.curves[node]?.[name] !== undefined);
  return { node, stance: stanceOf(shown, rest, order), turns };
}

const SIX = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'] as const;
const NOTHING_KEYED = constantSignal({}, 0);

const valuesOf = ({ curves }: StoredAction, node: number, rig: Rig): readonly Signal[] => {
  const held = SIX.map((name) => curves[node]?.[name]);
  return held.map((curve, slot) =>
    curve && rig.slots[node * 9 + slot]! >= 0 ? signalOf(curve) : NOTHING_KEYED,
  );
};

/** The six values of a node that is moved over the ground; the last frame that was asked for is kept for the other five. */
class MovedNode {
  private last: { readonly frame: number; readonly values: readonly number[] } | null = null;
  private readonly ask: (frame: number) => readonly number[];
  readonly jumps: (range: FrameRange) => readonly number[];

  constructor(ask: (frame: number) => readonly number[], jumps: (range: FrameRange) => readonly number[]) {
    [this.ask, this.jumps] = [ask, jumps];
  }
  at(at: number): readonly number[] {
    if (this.last?.frame !== at) this.last = { frame: at, values: this.ask(at) };
    return this.last.values;
  }
}

class MovedValue extends ComputedSignal {
  private readonly node: MovedNode;
  private readonly slot: number;

  constructor(node: MovedNode, slot: number) {
    super();
    [this.node, this.slot] = [node, slot];
  }
  protected valueAt(at: number): number {
    return this.node.at(at)[this.slot]!;
  }
  jumps(range: FrameRange): readonly number[] {
    return this.node.jumps(range);
  }
}

function movedSignals(
  settings: PlacementSettings,
  action: StoredAction,
  rig: Rig,
  node: number,
  moves: readonly GroundMove[],
): ReadonlyMap<number, Signal> {
  const own = valuesOf(action, node, rig);
  const { rest, order } = rig.nodes[node]!;
  const inputs = [...timeInputs(settings), ...moves.flatMap(({ turn, x, z: side }) => [turn, x, side])];
  const six = shared(action.curves[node]!, ['moved', rest, order, ...inputs], () => {
    const moved = new MovedNode(
      (at) => {
        const source = onFrame(sourceAt(settings, at));
        return movedValues(
          own.map((one) => one.at(source)),
          moves[roundAt(settings, at)]!,
          rest,
          order,
        );
      },
      (range) => jumpsIn(settings, range, own),
    );
    return SIX.map((_, slot) => new MovedValue(moved, slot));
  });
  // What is turned may need angles, and what is moved places, that the action itself does not key.
  const keyed = SIX.map((name) => action.curves[node]?.[name] !== undefined);
  const [places, angles] = [keyed.slice(0, 3).includes(true), keyed.slice(3).includes(true)];
  const turns = moves.some(({ turn }) => turn !== 0);
  return new Map(
    six.flatMap((signal, slot) => {
      const c = rig.slots[node * 9 + slot]!;
      const counts = keyed[slot] || (slot < 3 ? places && (turns || slot !== 1) : angles && turns);
      return c >= 0 && counts ? [[c, signal] as const] : [];
    }),
  );
}

const withoutRampOut = (layer: Layer): Layer => ({
  ...layer,
  range: layer.range && { ...layer.range, rampOut: 0 },
});

/** The channels on which a placement gives way to the next: all of it counts until that has come in, so that the two together are one. */
function nextOf(layer: Layer, context: Context): ReadonlySet<number> | null {
  const { crosses } = settingsOf(layer);
  const next = crosses === null ? null : context.layers.find(({ id }) => id === crosses);
  if (next?.kind !== layer.kind || !next.range || !layer.range || settingsOf(next).adds) return null;
  const isOver = context.layers.indexOf(next) > context.layers.findIndex(({ id }) => id === layer.id);
  const { start, rampIn } = next.range;
  const meets = start >= layer.range.start && start + rampIn <= layer.range.end + NEAR;
  return isOver && meets ? new Set(ownSignals(next, context).keys()) : null;
}

/** As time takes it: a course of one even piece is no more than another beginning and length. */
function through(settings: PlacementSettings, pieces: TimePieces): PlacementSettings {
  const laid = { start: settings.first, end: settings.first + lengthOf(settings) };
  const course = settings.course ? afterPieces(settings.course, pieces) : pieces;
  const images = imagesOf(course, laid);
  const [only] = images;
  const factor = only && factorOf(only.piece);
  if (images.length === 1 && only && factor && factor > 0)
    return {
      ...settings,
      first: placedAt(only.piece, settings.first),
      factor: Math.min(Math.max(settings.factor * factor, 0.01), 100),
      course: null,
    };
  // Through more pieces than one it stays as it was carried: another beginning would show another motion.
  return {
    ...settings,
    carriesOn: false,
    course: course.map(({ from, to, old }) => ({ from, to, old: { ...old } })),
  };
}
