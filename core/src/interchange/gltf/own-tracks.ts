/**
 * Tracks that are the curves' own keys: where no pass lies over a node and no limb drives it, glTF can hold what the curves hold. Stepped
 * curves become STEP, straight ones LINEAR, cubic ones with handles of a third CUBICSPLINE; keys that one axis has and another has not
 * are set there first, which changes no shape. Rotations are quaternions in glTF: stepped ones are exact; cubic ones keep their keys and
 * get more where the turn would stray from what the Euler curves show.
 */
import type { FrameRange } from '../../base/frame-range.ts';
import { isWeighted, rowAtTime, SEGMENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { partOf } from '../../curve/part.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { quatFromEuler } from '../../math/euler.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { hermite } from '../../math/hermite.ts';
import { angleBetween, multiply, unit } from '../../math/quaternion.ts';
import type { Node } from '../../rig/node.ts';
import { constantCurve, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { looksOver, LocalTransforms, relatedNodes } from '../local-transforms.ts';

/** Frames within which two times are one: rounding parts them, and single precision would not. */
export const ONE_TIME = 1e-4;

type Mode = 'STEP' | 'LINEAR' | 'CUBICSPLINE';
export type TrackPath = 'translation' | 'rotation' | 'scale';

/** Values of one property of one node at rising times. */
export interface LocalTrack {
  readonly node: number;
  readonly path: TrackPath;
  readonly mode: Mode;
  /** Frames from the start of the shot. */
  readonly times: readonly number[];
  /** For each time `width` numbers; for CUBICSPLINE the tangent in, the value and the tangent out, tangents per frame. */
  readonly values: Float64Array;
  readonly width: number;
}

export const PATHS: readonly { readonly path: TrackPath; readonly names: readonly string[] }[] = [
  { path: 'translation', names: ['tx', 'ty', 'tz'] },
  { path: 'rotation', names: ['rx', 'ry', 'rz'] },
  { path: 'scale', names: ['sx', 'sy', 'sz'] },
];

/** The nodes whose base curves are what shows: no layer lies over them, no relation places them, or stands above and shears what hangs on it. */
export function plainNodes(shot: Shot): ReadonlySet<number> {
  const rig = rigOf(shot);
  const covered = new Set(
    shot.layers.flatMap(({ members, curves }) => [
      ...members.map((id) => rig.indexOf(id)),
      ...curves.flatMap((entry, row) => (entry && Object.keys(entry).length > 0 ? [row] : [])),
    ]),
  );
  for (const row of relatedNodes(shot)) covered.add(row);
  for (const row of sheared(shot)) covered.add(row);
  return new Set(shot.nodes.map((_, row) => row).filter((row) => !covered.has(row)));
}

/** Nodes that hang on something whose place cannot be said, at any time. */
function sheared(shot: Shot): ReadonlySet<number> {
  const found = new Set<number>();
  if (shot.relations.length === 0) return found;
  const rig = rigOf(shot);
  // Without uneven sizes nothing is sheared.
  const uneven = rig.nodes.some(
    ({ rest: { scale }, channels }) =>
      scale.some((size) => size !== scale[0]) || ['sx', 'sy', 'sz'].some((name) => channels.includes(name)),
  );
  if (!uneven) return found;
  const locals = new LocalTransforms(shot);
  for (const frame of looksOver(shot.range)) {
    locals.at(frame);
    rig.parents.forEach((parent, row) => {
      if (parent >= 0 && locals.isAstray(parent)) found.add(row);
    });
  }
  return found;
}

/**
 * The own keys of a property; null where they are of no one kind that glTF has, or nothing is keyed.
 * @param degrees how far a turn may stray
 */
export function ownTrack(shot: Shot, row: number, path: TrackPath, degrees: number): LocalTrack | null {
  const node = shot.nodes[row]!;
  const { names } = PATHS.find((one) => one.path === path)!;
  const rest = path === 'scale' ? 1 : 0;
  const given = names.map((name) => shot.curves[row]?.[name]);
  const keyed = given.filter((curve): curve is Curve => curve !== undefined && curve.times.length > 0);
  const parts = keyed.map((curve) => partOf(curve, shot.range));
  // Of what shows: keys beyond it may be of another kind.
  const mode = modeOf(parts);
  if (mode === null || !parts.every((part, i) => isShown(keyed[i]!, part, shot.range))) return null;
  const times = [...new Set(parts.flatMap(({ times: own }) => [...own]))].sort((a, b) => a - b);
  const near = times.filter((time, i) => i === 0 || time - times[i - 1]! > 1e-6);
  // Nearer ones are one time in single precision.
  if (near.some((time, i) => i > 0 && time - near[i - 1]! <= ONE_TIME)) return null;
  let at = 0;
  const axes = given.map((curve) =>
    curve !== undefined && curve.times.length > 0
      ? addKeysKeepingShape(parts[at++]!, near)
      : addKeysKeepingShape(constantCurve(rest), near),
  );
  if (path === 'rotation') return mode === 'LINEAR' ? null : turnTrack(node, row, near, axes, mode, degrees);
  const base = path === 'translation' ? node.rest.translation : node.rest.scale;
  const shownAs = (value: number, axis: number) =>
    path === 'scale' ? value * base[axis]! : value + base[axis]!;
  const slopeAs = (slope: number, axis: number) => (path === 'scale' ? slope * base[axis]! : slope);
  const per = mode === 'CUBICSPLINE' ? 9 : 3;
  const values = new Float64Array(near.length * per);
  near.forEach((time, k) =>
    axes.forEach((curve, axis) => {
      const key = rowAtTime(curve, time);
      const value = shownAs(curve.values[key]!, axis);
      const own =
        per === 3
          ? [value]
          : [slopeAs(curve.slopesIn[key]!, axis), value, slopeAs(curve.slopesOut[key]!, axis)];
      own.forEach((number, part) => (values[k * per + part * 3 + axis] = number));
    }),
  );
  return { node: row, path, mode, times: near, values, width: 3 };
}

/** Whether what repeats shows the same as keys, between frames too: where turns do not agree, keys hold over the frame at the seam. */
function isShown(curve: Curve, part: Curve, { start }: FrameRange): boolean {
  const [first, last] = [curve.times[0]!, curve.times[curve.times.length - 1]!];
  return Array.from(part.times).every((time, i) => {
    const gap = (part.times[i + 1] ?? time) - time;
    const from = start + time;
    if (from >= first - 1e-6 && from + gap <= last + 1e-6) return true;
    return PROBES.every((u) => {
      const shown = evaluate(curve, from + u * gap);
      return Math.abs(shown - evaluate(part, time + u * gap)) <= 1e-6 * (1 + Math.abs(shown));
    });
  });
}

/** The one kind of all segments. */
function modeOf(curves: readonly Curve[]): Mode | null {
  if (curves.length === 0) return null;
  const kinds = new Set<number>();
  for (const curve of curves)
    for (let row = 0; row + 1 < curve.times.length; row += 1) {
      if (isWeighted(curve, row)) return null;
      kinds.add(curve.segments[row]!);
    }
  if (kinds.size > 1) return null;
  const [kind] = kinds;
  return kind === SEGMENT.stepped ? 'STEP' : kind === SEGMENT.linear ? 'LINEAR' : 'CUBICSPLINE';
}

/** How often a segment of a turn is halved at most. */
const DEEPEST = 5;
const PROBES = [0.17, 0.34, 0.5, 0.66, 0.83];
/** Of a degree: over such a step a turn is straight. */
const STEP = 1e-4;

function turnTrack(
  node: Node,
  row: number,
  times: readonly number[],
  axes: readonly Curve[],
  mode: Mode,
  degrees: number,
): LocalTrack | null {
  const turnOf = (angles: Triple): Quaternion => {
    const own: Quaternion = [0, 0, 0, 1];
    quatFromEuler(own, 0, ...angles, node.order);
    return multiply(node.rest.rotation, own);
  };
  const anglesAt = (time: number) => axes.map((curve) => evaluate(curve, time)) as unknown as Triple;
  if (mode === 'STEP') {
    const values = new Float64Array(times.length * 4);
    times.forEach((time, k) => values.set(turnOf(anglesAt(time)), k * 4));
    return { node: row, path: 'rotation', mode, times, values, width: 4 };
  }
  /** A key of the spline: one side's tangent is of the segment that it is asked for. */
  const knot = (time: number, slopes: Triple) => {
    const angles = anglesAt(time);
    const moved = (by: number) =>
      turnOf(angles.map((angle, i) => angle + slopes[i]! * by) as unknown as Triple);
    const [before, after] = [moved(-STEP), moved(STEP)];
    return {
      turn: turnOf(angles),
      slope: after.map((part, i) => (part - before[i]!) / (2 * STEP)) as Quaternion,
    };
  };
  const slopesAt = (time: number, side: 'in' | 'out'): Triple =>
    axes.map((curve) => {
      const key = rowAtTime(curve, time);
      if (key >= 0) return (side === 'in' ? curve.slopesIn : curve.slopesOut)[key]!;
      return (evaluate(curve, time + STEP) - evaluate(curve, time - STEP)) / (2 * STEP);
    }) as unknown as Triple;
  const keys: { time: number; in: Quaternion; turn: Quaternion; out: Quaternion }[] = [];
  const push = (time: number, from: Quaternion | null) => {
    const into = knot(time, slopesAt(time, 'in'));
    const out = knot(time, slopesAt(time, 'out'));
    // One of the two quaternions of a turn: the one nearer to the key before.
    const sign = from && from.reduce((sum, part, i) => sum + part * into.turn[i]!, 0) < 0 ? -1 : 1;
    const turned = (q: Quaternion) => q.map((part) => part * sign) as Quaternion;
    keys.push({ time, in: turned(into.slope), turn: turned(into.turn), out: turned(out.slope) });
  };
  const strays = (): boolean => {
    const [a, b] = [keys[keys.length - 2]!, keys[keys.length - 1]!];
    const gap = b.time - a.time;
    return PROBES.some((u) => {
      const spline = a.turn.map((part, i) => hermite(part, a.out[i]! * gap, b.turn[i]!, b.in[i]! * gap, u));
      return angleBetween(unit(spline as Quaternion), turnOf(anglesAt(a.time + u * gap))) > degrees;
    });
  };
  push(times[0]!, null);
  for (const end of times.slice(1)) {
    // What is left to reach, nearest last.
    const ahead: { time: number; depth: number }[] = [{ time: end, depth: 0 }];
    while (ahead.length > 0) {
      const { time, depth } = ahead[ahead.length - 1]!;
      const from = keys[keys.length - 1]!;
      push(time, from.turn);
      if (!strays()) {
        ahead.pop();
        continue;
      }
      // A turn that needs so many keys is better sampled.
      if (depth >= DEEPEST) return null;
      keys.pop();
      ahead[ahead.length - 1] = { time, depth: depth + 1 };
      ahead.push({ time: (from.time + time) / 2, depth: depth + 1 });
    }
  }
  const values = Float64Array.from(keys.flatMap((key) => [...key.in, ...key.turn, ...key.out]));
  return { node: row, path: 'rotation', mode, times: keys.map(({ time }) => time), values, width: 4 };
}
