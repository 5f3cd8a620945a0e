/** How far two shots are from each other: each joint on each frame in mm and degrees, contacts, keys, and the way that a joint goes from frame to frame. */
import { framesOf, inRange } from '../base/frame-range.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { measureContacts } from '../bodies/contact-measures.ts';
import { sameShape } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { contactsOf } from '../document/contacts.ts';
import type { Contact } from '../document/contacts.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { worldInto } from '../evaluation/evaluation.ts';
import type { Quaternion } from '../math/euler.ts';
import { angleBetween, conjugate, multiply } from '../math/quaternion.ts';
import { computeWorld, newWorldPose } from '../rig/pose.ts';
import type { WorldPose } from '../rig/pose.ts';
import { besideFrame } from './alignment.ts';
import type { Alignment } from './alignment.ts';
import type { Paired } from './paired.ts';

/** Places as they lie in the world, or from the middle of all joints of their character: then who stands elsewhere and does the same is alike. */
export type From = 'world' | 'middle';

export interface Differences {
  /** By joint, in the order of the pairs. */
  readonly names: readonly string[];
  /** Frames of the first, and those of the second that lie beside them. */
  readonly frames: Float64Array;
  readonly beside: Float64Array;
  /** Joint by joint, all frames of the first joint first. */
  readonly mm: Float32Array;
  readonly degrees: Float32Array;
}

/**
 * Differences on the whole frames of a range of the first. Orientations are compared by how far each has turned from its rest, so that joints whose axes lie otherwise can be compared; a second that has
 * ended stays as it is at its end.
 */
export function differencesOf(
  a: Shot,
  b: Shot,
  paired: Paired,
  alignment: Alignment,
  range: FrameRange = a.range,
  from: From = 'world',
): Differences {
  const frames = framesOf(range);
  const beside = frames.map((frame) => within(b.range, besideFrame(alignment, frame)));
  const { pairs } = paired;
  const count = frames.length;
  const mm = new Float32Array(pairs.length * count);
  const degrees = new Float32Array(pairs.length * count);
  const [first, second] = [poser(a), poser(b)];
  const [restA, restB] = [backToRest(a), backToRest(b)];
  const figures = from === 'middle' ? [...new Set(pairs.map(({ character }) => character))] : [];
  const ofFigure = figures.map((figure) => pairs.filter(({ character }) => character === figure));
  const shift = new Float64Array(3);
  for (let f = 0; f < count; f += 1) {
    const [one, two] = [first(frames[f]!), second(beside[f]!)];
    const shifts = ofFigure.map((members) => middleBetween(members, one, two));
    pairs.forEach(({ a: p, b: q, scale, unit, character }, j) => {
      const moved = figures.length > 0 ? shifts[figures.indexOf(character)]! : shift;
      let square = 0;
      for (let axis = 0; axis < 3; axis += 1) {
        const d =
          one.matrices[p * 16 + 12 + axis]! - two.matrices[q * 16 + 12 + axis]! * scale - moved[axis]!;
        square += d * d;
      }
      mm[j * count + f] = Math.sqrt(square) * unit * 10;
      const turned = multiply(turnOf(one, p), restA[p]!);
      const other = multiply(turnOf(two, q), restB[q]!);
      degrees[j * count + f] = angleBetween(turned, other);
    });
  }
  return { names: pairs.map(({ name }) => name), frames, beside, mm, degrees };
}

const within = ({ start, end }: FrameRange, frame: number) => Math.min(Math.max(frame, start), end);
const turnOf = ({ turns }: WorldPose, row: number) => turns.subarray(4 * row, 4 * row + 4);

/** Poses a shot at one frame after the other, into the same arrays. */
function poser(shot: Shot): (frame: number) => WorldPose {
  const rig = rigOf(shot);
  const values = new Float64Array(rig.channels.length);
  const pose = newWorldPose(rig);
  return (frame) => {
    worldInto(shot, frame, values, pose);
    return pose;
  };
}

/** For each row what takes its turn at rest away, where nothing is keyed and nobody follows anything. */
function backToRest(shot: Shot): Quaternion[] {
  const rig = rigOf({ ...shot, relations: [] });
  const pose = newWorldPose(rig);
  computeWorld(
    rig,
    rig.channels.map(({ rest }) => rest),
    pose,
  );
  return rig.nodes.map((_, row) => conjugate(turnOf(pose, row)));
}

function middleBetween(members: Paired['pairs'], one: WorldPose, two: WorldPose): Float64Array {
  const sum = new Float64Array(3);
  for (const { a, b, scale } of members)
    for (let axis = 0; axis < 3; axis += 1)
      sum[axis]! +=
        (one.matrices[a * 16 + 12 + axis]! - two.matrices[b * 16 + 12 + axis]! * scale) / members.length;
  return sum;
}

export interface GreatestDifference {
  readonly amount: number;
  /** A place in `names`, and in `frames`. */
  readonly joint: number;
  readonly at: number;
}

/** The greatest of a table; the first where several are as great. */
export function greatestOf({ frames }: Pick<Differences, 'frames'>, table: Float32Array): GreatestDifference {
  let best = 0;
  for (let i = 1; i < table.length; i += 1) if (table[i]! > table[best]!) best = i;
  const count = Math.max(1, frames.length);
  return { amount: table[best] ?? 0, joint: Math.floor(best / count), at: best % count };
}

export interface KeysCompared {
  readonly channel: string;
  /** Keys on the base and all passes; null where the shot lacks the channel. */
  readonly a: number | null;
  readonly b: number | null;
}

/** The channels whose keys are not the same, in the order of the first. */
export function keysCompared(a: Shot, b: Shot): KeysCompared[] {
  const [first, second] = [keyedChannels(a), keyedChannels(b)];
  return [...new Set([...first.keys(), ...second.keys()])].flatMap((channel): KeysCompared[] => {
    const [one, two] = [first.get(channel), second.get(channel)];
    const same =
      one && two && one.length === two.length && one.every((curve, i) => sameShape(curve, two[i]!));
    if (same) return [];
    const keys = (curves: typeof one) => curves?.reduce((sum, { times }) => sum + times.length, 0) ?? null;
    return [{ channel, a: keys(one), b: keys(two) }];
  });
}

function keyedChannels(shot: Shot) {
  const found = new Map<string, Curve[]>();
  shot.nodes.forEach(({ id, channels }, row) => {
    for (const name of channels) {
      const own = [shot.curves[row]?.[name], ...shot.layers.map(({ curves }) => curves[row]?.[name])];
      found.set(
        `${id}.${name}`,
        own.filter((curve) => curve !== undefined),
      );
    }
  });
  return found;
}

export interface ContactCompared {
  readonly node: string;
  readonly point: string;
  readonly start: number;
  readonly end: number;
  /** How far it slides, mm; null where the other shot says nothing of it. */
  readonly a: number | null;
  readonly b: number | null;
}

/** Contacts of both, those of the same point that overlap in one row. */
export function contactsCompared(a: Shot, b: Shot, alignment: Alignment): ContactCompared[] {
  const others = measureContacts(b, contactsOf(b)).map((one) => ({ ...one, taken: false }));
  const rows = measureContacts(a, contactsOf(a)).map(({ contact, greatest }): ContactCompared => {
    const { node, point, start, end } = contact;
    const span = { start: besideFrame(alignment, start), end: besideFrame(alignment, end) };
    const partner = others.find((one) => !one.taken && isBeside(one.contact, contact, span));
    if (partner) partner.taken = true;
    return { node, point, start, end, a: greatest * 10, b: partner ? partner.greatest * 10 : null };
  });
  const alone = others.filter(({ taken }) => !taken);
  return [
    ...rows,
    ...alone.map(({ contact: { node, point, start, end }, greatest }) => ({
      ...{ node, point, start, end },
      a: null,
      b: greatest * 10,
    })),
  ];
}

const isBeside = (other: Contact, one: Contact, span: FrameRange): boolean =>
  other.node === one.node &&
  other.point === one.point &&
  (inRange(span, other.start) || inRange(other, span.start));

/** How far a joint goes from each frame to the next, mm: even steps are an even pace, and the last is as the one before. */
export function spacingOf(shot: Shot, row: number, frames: ArrayLike<number>, unit: number): Float32Array {
  const pose = poser(shot);
  const places = Array.from(frames, (frame) => pose(frame).matrices.slice(row * 16 + 12, row * 16 + 15));
  return Float32Array.from(places, (_, f) => {
    const from = Math.min(f, Math.max(0, places.length - 2));
    const [p, q] = [places[from]!, places[from + 1] ?? places[from]!];
    return Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!, p[2]! - q[2]!) * unit * 10;
  });
}
