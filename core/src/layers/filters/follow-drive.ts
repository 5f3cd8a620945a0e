/** What drives follow-through: which controls hang on which, how long their rods are, and where what carries them goes. */
import type { FrameRange } from '../../base/frame-range.ts';
import { quatFromEuler } from '../../math/euler.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { conjugate, multiply, rotate } from '../../math/quaternion.ts';
import type { Drive, Link } from '../../motion/chain-run.ts';
import { bodyPoints, partFor } from '../../rig/influence.ts';
import { computeWorld, newWorldPose, seatIn } from '../../rig/pose.ts';
import { newSeat } from '../../rig/relations/seat.ts';
import type { Rig } from '../../rig/rig.ts';
import { chooses } from '../choice.ts';
import type { Context, Layer } from '../layer.ts';
import { shared } from '../signal.ts';
import type { Signals } from '../signal.ts';

/** Frames that it goes on for: of more, what is kept would fill the memory. */
export const MOST_FRAMES = 60_000;
/** Shorter than this, cm, a control has no bone that could swing. */
const SHORT = 1e-4;

/** Rows of a chain, from the first on. */
export type Chain = readonly number[];

/** By whose controls they are: the same chains while those are the same, so that what is worked out for one can be kept by it. */
const kept = new WeakMap<
  readonly string[],
  { readonly of: readonly unknown[]; readonly chains: readonly Chain[] }
>();

/** Controls that hang on one another; where several hang on one, the first goes on with its chain. */
export function chainsOf(context: Context, { members }: Layer, led: boolean): readonly Chain[] {
  const of = [context.rig, context.base, led];
  const known = kept.get(members);
  if (known?.of.every((one, i) => one === of[i])) return known.chains;
  const chains = foundChains(context, members, led);
  kept.set(members, { of, chains });
  return chains;
}

function foundChains({ rig, base }: Context, members: readonly string[], led: boolean): Chain[] {
  const turns = (row: number) =>
    [3, 4, 5].some((slot) => {
      const c = rig.slots[row * 9 + slot]!;
      return c >= 0 && !chooses({ rig, base }, c);
    });
  const rows = new Set(members.map(rig.indexOf).filter((row) => row >= 0 && turns(row)));
  const chains: number[][] = [];
  for (const row of rig.order) {
    if (!rows.has(row)) continue;
    const above = chains.find((chain) => chain.at(-1) === rig.parents[row]);
    if (above) above.push(row);
    else chains.push([row]);
  }
  return chains
    .map((chain) => (led && chain.length > 1 ? chain.slice(1) : chain))
    .map((chain) => chain.filter((row) => linkOf(rig, row, chain).length > SHORT))
    .filter((chain) => chain.length > 0);
}

/** The bone of a control: to the next of its chain, else to what hangs on it first, else as far as it reaches. */
export function linkOf(rig: Rig, row: number, chain: Chain): Link {
  const { rest } = rig.nodes[row]!;
  const children = rig.nodes.flatMap((_, child) => (rig.parents[child] === row ? [child] : []));
  const next = children.find((child) => chain.includes(child)) ?? children[0];
  const end =
    next === undefined
      ? bodyPoints(rig).find(({ node, at }) => node === row && Math.hypot(...at) > SHORT)?.at
      : rig.nodes[next]!.rest.translation;
  // Without anything to go by it goes on as its parent's bone does.
  const own =
    end ?? rotate(conjugate([...rest.rotation] as Quaternion), ...([...rest.translation] as Triple));
  const scaled = own.map((value, axis) => value * rest.scale[axis]!) as Triple;
  const size = Math.hypot(...scaled);
  const bone = scaled.map((value) => value / (size || 1)) as Triple;
  const [p, q] = [rig.restPlaces[row]!, next === undefined ? null : rig.restPlaces[next]!];
  const length = q ? Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]) : size;
  return { bone, length, scale: [...rest.scale] as Triple };
}

/** The times at which a chain is driven. */
export interface Grid {
  readonly over: FrameRange;
  /** Steps a frame, and how many there are. */
  readonly pace: number;
  readonly steps: number;
  /** The frame of a row: they begin one step before the first. */
  readonly frameOf: (row: number) => number;
}

export const gridOver = (over: FrameRange, pace: number): Grid => ({
  over,
  pace,
  steps: Math.min(Math.max(1, Math.round((over.end - over.start) * pace)), MOST_FRAMES * pace),
  frameOf: (row) => over.start + (row - 1) / pace,
});

/** Whose values say where what carries a control is, and whether nothing but its parent carries it. */
function carriedBy(rig: Rig, first: number) {
  const parent = rig.parents[first]!;
  const free = rig.relations[first] === undefined;
  return { parent, free, part: partFor(rig, free ? (parent < 0 ? [] : [parent]) : [first]) };
}

/** What carries a control, by row: the three axes and the origin, twelve numbers. Chains that hang on one control share it. */
function carrierOver(rig: Rig, below: Signals, first: number, grid: Grid): Float64Array {
  const { parent, free, part } = carriedBy(rig, first);
  const signals = part.channels.map((c) => below[c]!);
  const who = free ? parent : rig.nodes.length + first;
  const { over, pace, steps, frameOf } = grid;
  return shared(signals[0] ?? rig, ['follow carrier', rig, who, over.start, steps, pace, ...signals], () => {
    const result = new Float64Array(12 * (steps + 3));
    const values = new Float64Array(rig.channels.length);
    const pose = newWorldPose(rig);
    const seat = newSeat();
    const still = signals.every((signal) => signal.still);
    for (let row = 0; row < steps + 3; row += 1) {
      if (row === 0 || !still) {
        for (const c of part.channels) values[c] = below[c]!.at(frameOf(row));
        computeWorld(rig, values, pose, null, part.order);
        seatIn(seat, rig, values, pose, first);
      }
      for (let k = 0; k < 12; k += 1) result[12 * row + k] = seat.matrix[4 * Math.floor(k / 3) + (k % 3)]!;
    }
    return result;
  });
}

/** What drives a chain over some frames. @param obstacles what is in its way */
export function driveOf(
  rig: Rig,
  below: Signals,
  chain: Chain,
  grid: Grid,
  obstacles: Drive['obstacles'],
): Drive {
  const [first] = chain as [number];
  const { steps, frameOf } = grid;
  const rows = steps + 3;
  const [places, axes, turns] = [
    new Float64Array(3 * rows),
    new Float64Array(9 * rows),
    new Float64Array(4 * chain.length * rows),
  ];
  const carrier = carrierOver(rig, below, first, grid);
  const { translation } = rig.nodes[first]!.rest;
  const own = [0, 1, 2].map((axis) => rig.slots[first * 9 + axis]!);
  const at: Triple = [0, 0, 0];
  for (let row = 0; row < rows; row += 1) {
    const m = 12 * row;
    own.forEach((c, axis) => {
      at[axis] = translation[axis]! + (c < 0 ? 0 : below[c]!.at(frameOf(row)));
    });
    for (let k = 0; k < 9; k += 1) axes[9 * row + k] = carrier[m + k]!;
    for (let k = 0; k < 3; k += 1)
      places[3 * row + k] =
        carrier[m + k]! * at[0] +
        carrier[m + 3 + k]! * at[1] +
        carrier[m + 6 + k]! * at[2] +
        carrier[m + 9 + k]!;
  }
  chain.forEach((node, i) => {
    const channels = [3, 4, 5].map((slot) => rig.slots[node * 9 + slot]!);
    const { rest, order } = rig.nodes[node]!;
    const keyed = channels.some((c) => c >= 0 && !below[c]!.still);
    const own: Quaternion = [0, 0, 0, 1];
    let turn: Quaternion = [0, 0, 0, 1];
    for (let row = 0; row < rows; row += 1) {
      if (row === 0 || keyed) {
        const [x, y, z] = channels.map((c) => (c < 0 ? 0 : below[c]!.at(frameOf(row)))) as Triple;
        quatFromEuler(own, 0, x, y, z, order);
        const made = multiply([...rest.rotation] as Quaternion, own);
        // Of the two that are the same turn, the one near to that before.
        const along = made.reduce((sum, value, k) => sum + value * turn[k]!, 0);
        turn = along < 0 ? (made.map((value) => -value) as Quaternion) : made;
      }
      turns.set(turn, 4 * (row * chain.length + i));
    }
  });
  return { steps, places, axes, turns, obstacles };
}

/** A frame at which what carries a chain leaps, and by how much the end of its first link would, cm. */
export interface Leap {
  readonly frame: number;
  readonly distance: number;
}
/** Frames on either side of a leap at which it is looked at; and cm that are rounding. */
const [BESIDE, LEVEL] = [1e-4, 1e-2];

/** Where what carries a chain leaps within some frames, since it is stepped or its space changes there: each leap is a kick. */
export function leapsOf(rig: Rig, below: Signals, chain: Chain, over: FrameRange): Leap[] {
  const [first] = chain as [number];
  const { part } = carriedBy(rig, first);
  const own = [0, 1, 2].map((axis) => rig.slots[first * 9 + axis]!);
  const read = new Set([...part.channels, ...own].filter((c) => c >= 0));
  const frames = new Set([...read].flatMap((c) => [...below[c]!.jumps(over)]));
  const values = new Float64Array(rig.channels.length);
  const [pose, seat] = [newWorldPose(rig), newSeat()];
  const { rest } = rig.nodes[first]!;
  const { bone, length } = linkOf(rig, first, chain);
  const along = rotate([...rest.rotation] as Quaternion, ...bone);
  const endAt = (frame: number): Triple => {
    for (const c of read) values[c] = below[c]!.at(frame);
    computeWorld(rig, values, pose, null, part.order);
    seatIn(seat, rig, values, pose, first);
    const at = own.map(
      (c, axis) => rest.translation[axis]! + (c < 0 ? 0 : values[c]!) + along[axis]! * length,
    ) as Triple;
    const { matrix: m } = seat;
    return [0, 1, 2].map((k) => m[k]! * at[0] + m[4 + k]! * at[1] + m[8 + k]! * at[2] + m[12 + k]!) as Triple;
  };
  return [...frames].flatMap((frame) => {
    if (frame <= over.start || frame >= over.end) return [];
    const [before, after] = [endAt(frame - BESIDE), endAt(frame + BESIDE)];
    const distance = Math.hypot(after[0] - before[0], after[1] - before[1], after[2] - before[2]);
    return distance > LEVEL ? [{ frame, distance }] : [];
  });
}
