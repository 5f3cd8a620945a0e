/**
 * Cycles that turn: a walk in a curve ends farther on and facing another way, so that its next turn begins there, place and heading
 * together. What a turn does to the root it does to all that stands in the world with it.
 */
import type { FrameRange } from '../../base/frame-range.ts';
import { SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { evaluate, slopeAt } from '../../curve/evaluate.ts';
import { buildCurve, rebuild } from '../../curve/rebuild.ts';
import type { SeamWinner } from '../../curve/seam.ts';
import { eulerFromQuat, quatFromEuler } from '../../math/euler.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { conjugate, multiply, rotate, slerp } from '../../math/quaternion.ts';
import type { Node } from '../../rig/node.ts';
import { curveOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

/** How one turn of the cycle moves the world of a character: about the upright, then along the ground. */
export interface CycleHeading {
  readonly character: string | null;
  readonly node: string;
  /** To the left, degrees. */
  readonly degrees: number;
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
}

const PLACES = ['tx', 'tz'] as const;
const ANGLES = ['rx', 'ry', 'rz'] as const;
/** Less than this is no turn, degrees; and so much of all turning must remain at the end. */
const LEAST_TURN = 1;
const REMAINS = 0.5;

/** The characters whose root, a control without a parent, has turned when the range ends. */
export function cycleHeadings(shot: Shot, range: FrameRange): CycleHeading[] {
  const found = new Map<string | null, CycleHeading>();
  for (const node of shot.nodes) {
    if (node.parent !== null || found.has(node.character) || !isRoot(node)) continue;
    const read = rootReader(shot, node);
    let [heading, low, high] = [0, 0, 0];
    let before = headingOf(read(range.start).turn);
    const steps = Math.max(2, Math.ceil(range.end - range.start));
    for (let k = 1; k <= steps; k += 1) {
      const next = headingOf(read(range.start + ((range.end - range.start) * k) / steps).turn);
      heading += ((next - before + 540) % 360) - 180;
      before = next;
      low = Math.min(low, heading);
      high = Math.max(high, heading);
    }
    // Where the heading is an angle of its own, that says it to the bit.
    const ry = curveOf(shot, null, `${node.id}.ry`);
    const own = evaluate(ry, range.end) - evaluate(ry, range.start);
    if (isHeading(node) && Math.abs(own - heading) < 45) heading = own;
    if (Math.abs(heading) < LEAST_TURN || Math.abs(heading) < REMAINS * (high - low)) continue;
    const [from, to] = [read(range.start).place, read(range.end).place];
    found.set(node.character, { character: node.character, node: node.id, degrees: heading, from, to });
  }
  return [...found.values()];
}

/** Whether a control stands and turns in the world by its own channels. */
const isRoot = (node: Node) =>
  node.parent === null && [...PLACES, ...ANGLES].every((name) => node.channels.includes(name));

/** The controls that a turning takes along: those of its character that stand in the world. */
export const takenAlong = (shot: Shot, turning: CycleHeading): readonly Node[] =>
  shot.nodes.filter((node) => node.character === turning.character && isRoot(node));

interface Stand {
  /** On the ground, x and z, cm. */
  readonly place: [number, number];
  readonly turn: Quaternion;
}

function rootReader(shot: Shot, node: Node): (frame: number) => Stand {
  const channel = (name: string) => curveOf(shot, null, `${node.id}.${name}`);
  const places = PLACES.map(channel);
  const angles = ANGLES.map(channel);
  return (frame) => {
    const turn: Quaternion = [0, 0, 0, 1];
    const [x, y, z] = angles.map((curve) => evaluate(curve, frame)) as Triple;
    quatFromEuler(turn, 0, x, y, z, node.order);
    const [px, pz] = places.map((curve) => evaluate(curve, frame)) as [number, number];
    const { translation, rotation } = node.rest;
    return { place: [translation[0] + px, translation[2] + pz], turn: multiply(rotation, turn) };
  };
}

/** Where what faced along z at rest faces, degrees to the left. */
function headingOf(turn: Quaternion): number {
  const [x, , z] = rotate(turn, 0, 0, 1);
  return (Math.atan2(x, z) * 180) / Math.PI;
}

/** The place that a place comes to after `times` turns. */
function turnedPlace(
  { degrees, from, to }: CycleHeading,
  [x, z]: readonly [number, number],
  times: number,
): [number, number] {
  const angle = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  let place: [number, number] = [x, z];
  for (let k = 0; k < times; k += 1) {
    const [dx, dz] = [place[0] - from[0], place[1] - from[1]];
    place = [to[0] + c * dx + s * dz, to[1] - s * dx + c * dz];
  }
  return place;
}

/**
 * The five channels of a control over one turn of the cycle, `times` turns on. Keys stay keys where place and heading are curves of
 * their own; a control whose angles mix with the heading is keyed on every frame.
 * @param cycle the five curves, keyed on both ends of the range
 */
export function turnedCycle(
  node: Node,
  turning: CycleHeading,
  cycle: ReadonlyMap<string, Curve>,
  range: FrameRange,
  times: number,
  seam: Seam,
): ReadonlyMap<string, Curve> {
  const shift = (range.end - range.start) * times;
  const union = [...new Set([...cycle.values()].flatMap((curve) => [...curve.times]))].filter(
    (time) => time >= range.start - 1e-6 && time <= range.end + 1e-6,
  );
  const flows = PLACES.every((name) => cycle.get(name)!.segments.every((kind) => kind === SEGMENT.cubic));
  const weighted = [...cycle.values()].some(({ flags }) => flags.some((flag) => (flag & 12) !== 0));
  const keys = flows && !weighted ? union : [...new Set([...union, ...wholeFrames(range)])];
  keys.sort((a, b) => a - b);
  const [tx, tz] = PLACES.map((name) => cycle.get(name)!) as [Curve, Curve];
  const angle = (turning.degrees * times * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const [rx, , rz] = node.rest.translation;
  const slopes = (time: number): [number, number, number, number] => {
    const [ix, iz] = [slopeInto(tx, time), slopeInto(tz, time)];
    const [ox, oz] = [slopeFrom(tx, time), slopeFrom(tz, time)];
    return [c * ix + s * iz, -s * ix + c * iz, c * ox + s * oz, -s * ox + c * oz];
  };
  const result = new Map<string, Curve>();
  PLACES.forEach((name, axis) => {
    result.set(
      name,
      buildCurve(keys.length, (columns) => {
        keys.forEach((time, i) => {
          const place = turnedPlace(turning, [rx + evaluate(tx, time), rz + evaluate(tz, time)], times);
          columns.times[i] = time + shift;
          columns.values[i] = place[axis]! - (axis === 0 ? rx : rz);
          columns.slopesIn[i] = slopes(time)[axis]!;
          columns.slopesOut[i] = slopes(time)[2 + axis]!;
        });
        columns.tangentsIn.fill(TANGENT.free);
        columns.tangentsOut.fill(TANGENT.free);
      }),
    );
  });
  for (const [name, curve] of turnedAngles(node, turning, times, cycle, range, seam)) result.set(name, curve);
  return result;
}

/** How the ends of a cycle are made to agree. */
export interface Seam {
  readonly blend: number;
  readonly winner: SeamWinner;
}

function turnedAngles(
  node: Node,
  turning: CycleHeading,
  times: number,
  cycle: ReadonlyMap<string, Curve>,
  range: FrameRange,
  seam: Seam,
): [string, Curve][] {
  const shift = (range.end - range.start) * times;
  if (isHeading(node))
    return ANGLES.map((name) => [
      name,
      moved(cycle.get(name)!, shift, name === 'ry' ? turning.degrees * times : 0),
    ]);
  const frames = wholeFrames(range);
  const once = aboutUpright(node, turning.degrees);
  const own = closedTurns(
    frames.map((frame) =>
      quaternionOf(ANGLES.map((name) => evaluate(cycle.get(name)!, frame)) as Triple, node),
    ),
    frames,
    once,
    seam,
  );
  const all = aboutUpright(node, turning.degrees * times);
  let near: Triple | null = null;
  const rows = frames.map((frame, i) => {
    const was = ANGLES.map((name) => evaluate(cycle.get(name)!, frame)) as Triple;
    near = eulerFromQuat(multiply(all, own[i]!), node.order, near ?? was);
    return near;
  });
  return ANGLES.map((name, axis) => [
    name,
    buildCurve(frames.length, (columns) => {
      frames.forEach((frame, i) => {
        columns.times[i] = frame + shift;
        columns.values[i] = rows[i]![axis]!;
      });
    }),
  ]);
}

/** Whether a control's heading is an angle of its own. */
export function isHeading(node: Node): boolean {
  const [x, , z] = aboutUpright(node, 90);
  return node.order[0] === 'y' && Math.hypot(x, z) < 1e-12;
}

/** A turn about the world's upright, seen in a control's rest. */
function aboutUpright(node: Node, degrees: number): Quaternion {
  const half = (degrees * Math.PI) / 360;
  const about: Quaternion = [0, Math.sin(half), 0, Math.cos(half)];
  return multiply(multiply(conjugate(node.rest.rotation), about), node.rest.rotation);
}

function quaternionOf(angles: Triple, node: Node): Quaternion {
  const turn: Quaternion = [0, 0, 0, 1];
  quatFromEuler(turn, 0, ...angles, node.order);
  return turn;
}

/** Orientations over a cycle, their last the first turned once: what is missing fades in over the blend. */
function closedTurns(
  turns: readonly Quaternion[],
  frames: readonly number[],
  once: Quaternion,
  { blend, winner }: Seam,
): Quaternion[] {
  const [start, end] = [frames[0]!, frames[frames.length - 1]!];
  const [first, last] = [turns[0]!, turns[turns.length - 1]!];
  const share = winner === 'first' ? 1 : winner === 'middle' ? 0.5 : 0;
  const missing = multiply(multiply(once, first), conjugate(last));
  const atEnd = slerp([0, 0, 0, 1], missing, share);
  // To the bit, whatever was shared: the first is the last turned back.
  const atStart = multiply(multiply(conjugate(once), multiply(atEnd, last)), conjugate(first));
  const faded = (u: number) => (u < 1 ? 1 - u * u * (3 - 2 * u) : 0);
  return turns.map((turn, i) => {
    const one = slerp([0, 0, 0, 1], atEnd, faded((end - frames[i]!) / blend));
    const other = slerp([0, 0, 0, 1], atStart, faded((frames[i]! - start) / blend));
    return multiply(multiply(one, other), turn);
  });
}

/** The two places over a cycle with one velocity at the seam: the mean of how the turn ends and how the next begins. */
export function withEvenPace(turning: CycleHeading, tx: Curve, tz: Curve): [Curve, Curve] {
  const lasts = [tx, tz].map((curve) => curve.times.length - 1) as [number, number];
  const flows = [tx, tz].every(
    (curve, k) => curve.segments[0] === SEGMENT.cubic && curve.segments[lasts[k]! - 1] === SEGMENT.cubic,
  );
  if (!flows) return [tx, tz];
  const angle = (turning.degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const [ox, oz] = [tx.slopesOut[0]!, tz.slopesOut[0]!];
  const x = (tx.slopesIn[lasts[0]]! + c * ox + s * oz) / 2;
  const z = (tz.slopesIn[lasts[1]]! - s * ox + c * oz) / 2;
  return [withEndSlopes(tx, c * x - s * z, x), withEndSlopes(tz, s * x + c * z, z)];
}

function withEndSlopes(curve: Curve, out: number, into: number): Curve {
  const last = curve.times.length - 1;
  return rebuild(curve, null, (columns) => {
    columns.tangentsIn[0] = columns.tangentsOut[0] = TANGENT.free;
    columns.tangentsIn[last] = columns.tangentsOut[last] = TANGENT.free;
    columns.slopesIn[0] = columns.slopesOut[0] = out;
    columns.slopesIn[last] = columns.slopesOut[last] = into;
  });
}

/** A curve later and higher. */
const moved = (curve: Curve, frames: number, by: number): Curve => ({
  ...curve,
  times: curve.times.map((time) => time + frames),
  values: curve.values.map((value) => value + by),
});

function wholeFrames({ start, end }: FrameRange): number[] {
  const inside = Array.from(
    { length: Math.max(Math.floor(end) - Math.ceil(start) + 1, 0) },
    (_, k) => Math.ceil(start) + k,
  );
  return [...new Set([start, ...inside, end])];
}

const slopeFrom = (curve: Curve, time: number) => slopeAt(curve, time);

/** The slope with which the curve comes to a time. */
function slopeInto(curve: Curve, time: number): number {
  const row = curve.times.findIndex((key) => Math.abs(key - time) < 1e-6);
  return row > 0 ? curve.slopesIn[row]! : slopeAt(curve, time);
}

/** What a channel of a control is called. */
export const channelOf = (node: Node, name: string): ChannelId => `${node.id}.${name}`;

/** The channels that a turning mixes or turns. */
export const TURNING_CHANNELS: readonly string[] = [...PLACES, ...ANGLES];
