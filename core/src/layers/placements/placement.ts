/**
 * A placement: an action that lies over the motion below as a block, from the first to the last frame of its layer's range. The action stands once
 * in the shot; a placement says where it begins, how long it takes, which part of it shows and how often, and how much of it counts.
 */
import type { Curve } from '../../curve/curve.ts';
import { afterPieces, factorOf, imagesOf, placeIn as placedAt } from '../../base/time-pieces.ts';
import type { TimePieces } from '../../base/time-pieces.ts';
import type { Triple } from '../../math/euler.ts';
import type { Rig } from '../../rig/rig.ts';
import { chooses, chosen } from '../choice.ts';
import { defineLayer } from '../layer.ts';
import type { Context, Layer, Want } from '../layer.ts';
import { shared, signalOf } from '../signal.ts';
import type { Signal } from '../signal.ts';
import { belowOf, eachTurn, mixedTurn, turnedToward, turnSlots } from '../turns.ts';
import { added, mixed, WeighedSignal, weightOf } from '../weight.ts';
import { endsOf, landingsOf, lengthOf } from './block-time.ts';
import { movedSignals, movesOf } from './over-ground.ts';
import { actionOf, placementSettings, settingsOf } from './placement-settings.ts';
import type { PlacementSettings } from './placement-settings.ts';
import { Difference, ShownSignal, timeInputs } from './shown-signal.ts';

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
