/**
 * Kneader's own keys beside glTF's tracks. A track says what shows, and not which keys made it: a turn is a quaternion there, of no rotation order, with keys wherever one of its axes has
 * one. So beside each node's name its order stands, and its curves where they are all that shows. They are believed as far as the tracks still say the same: whoever has changed those
 * has changed the motion. They stand in the document's `extras`, since common readers fall over lists in those of nodes.
 */
import { z } from 'zod';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Curve } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { curveFromJson, curveSchema, curveToJson } from '../../document/parts/curve-json.ts';
import type { CurveJson } from '../../document/parts/curve-json.ts';
import type { Shot } from '../../document/shot.ts';
import { EULER_ORDERS, quatFromEuler } from '../../math/euler.ts';
import type { Quaternion } from '../../math/euler.ts';
import { angleBetween, multiply, unit } from '../../math/quaternion.ts';
import type { Node } from '../../rig/node.ts';
import { PATHS } from './own-tracks.ts';
import type { TrackPath } from './own-tracks.ts';
import { trackAt } from './track.ts';
import type { Track } from './track.ts';

export const ownNodeSchema = z.object({
  name: z.string(),
  order: z.enum(EULER_ORDERS),
  curves: z.record(z.string(), curveSchema).optional(),
});
export type OwnNode = z.infer<typeof ownNodeSchema>;

/** Captured motion comes back as well from its tracks, and would be twice as large with them. */
const isDense = ({ times }: Curve, { start, end }: FrameRange) => times.length > 16 + (end - start) / 2;

/** @param plain whether the node's curves are all that shows of it */
export function keysBeside({ nodes, curves, range }: Shot, row: number, plain: boolean): OwnNode {
  const own = Object.entries((plain && curves[row]) || {}).filter(([, { times }]) => times.length > 0);
  const kept = PATHS.flatMap(({ names }) => {
    const part = own.filter(([name]) => names.includes(name));
    return part.some(([, curve]) => isDense(curve, range)) ? [] : part;
  });
  const { id: name, order } = nodes[row]!;
  const json = Object.fromEntries(kept.map(([channel, curve]) => [channel, curveToJson(curve)]));
  return { name, order, ...(kept.length > 0 && { curves: json }) };
}

const CM_PER_METRE = 100;
/** Twice what an export may stray, and what single precision leaves. */
const NEAR = { translation: 0.012, rotation: 0.06, scale: 1e-3 };
/** Beside keys, where a reader steps over, single precision tells no sides. */
const PROBES = [0.02, 0.35, 0.65, 0.98];
/** Frames over which a jump is drawn at most. */
const JUMPS = 1 / 32;

/**
 * The curves of a property that stand beside a node, as far as its track says the same; null where there are none, or it does not.
 * @param track null where the property rests
 * @param range the frames that the file shows
 */
export function keptCurves(
  node: Node,
  { curves = {} }: OwnNode,
  path: TrackPath,
  track: Track | null,
  range: FrameRange,
): Readonly<Record<string, Curve>> | null {
  const { names } = PATHS.find((one) => one.path === path)!;
  const own: Record<string, Curve> = {};
  for (const name of names)
    if (curves[name]) {
      const read = readCurve(curves[name], `${node.id}.${name}`);
      if (read === null) return null;
      own[name] = read;
    }
  if (Object.keys(own).length === 0) return null;
  return agrees(node, path, own, track, range) ? own : null;
}

function readCurve(json: CurveJson, name: string): Curve | null {
  try {
    return curveFromJson(json, name);
  } catch {
    return null;
  }
}

function agrees(
  node: Node,
  path: TrackPath,
  own: Readonly<Record<string, Curve>>,
  track: Track | null,
  range: FrameRange,
): boolean {
  const keys = track
    ? [...track.times]
    : Object.values(own).flatMap(({ times }) => [...times].filter((t) => t > range.start && t < range.end));
  const stations = [...new Set([range.start, ...keys, range.end])].sort((a, b) => a - b);
  const shown = (frame: number) =>
    track ? trackAt(track, frame).map((n) => n * unitOf(path)) : node.rest[path];
  const far = (frame: number) => distance(path, curvesAt(node, path, own, frame), shown(frame));
  // Of a jump single precision does not tell the sides.
  const holds = (frame: number) =>
    [0, -1e-3, 1e-3].some(
      (by) => distance(path, curvesAt(node, path, own, frame + by), shown(frame)) < NEAR[path],
    );
  // From straight ways between samples a curve strays; their keys lie on it.
  const isSampled = track?.mode === 'LINEAR';
  return stations.every((time, i) => {
    const next = stations[i + 1] ?? time;
    const jumps = next - time <= JUMPS || time - (stations[i - 1] ?? -Infinity) <= JUMPS;
    if (isSampled && !jumps && !holds(time)) return false;
    if (next - time <= JUMPS) return true;
    const most = isSampled ? 3 * NEAR[path] + 0.06 * distance(path, shown(time), shown(next)) : NEAR[path];
    return PROBES.every((part) => far(time + part * (next - time)) < most);
  });
}

const unitOf = (path: TrackPath) => (path === 'translation' ? CM_PER_METRE : 1);

/** cm, degrees, or parts of a size. */
const distance = (path: TrackPath, a: ArrayLike<number>, b: ArrayLike<number>): number =>
  path === 'rotation'
    ? angleBetween(unit(a as Quaternion), unit(b as Quaternion))
    : Math.max(...[0, 1, 2].map((i) => Math.abs(a[i]! - b[i]!) / (1 + 1e-3 * Math.abs(b[i]!))));

/** What the curves make of a property at a frame, cm. */
function curvesAt(
  { rest, order }: Node,
  path: TrackPath,
  own: Readonly<Record<string, Curve>>,
  frame: number,
): readonly number[] {
  const value = (name: string, without: number) => (own[name] ? evaluate(own[name], frame) : without);
  if (path === 'translation')
    return ['tx', 'ty', 'tz'].map((name, i) => rest.translation[i]! + value(name, 0));
  if (path === 'scale') return ['sx', 'sy', 'sz'].map((name, i) => rest.scale[i]! * value(name, 1));
  const turn: Quaternion = [0, 0, 0, 1];
  quatFromEuler(turn, 0, value('rx', 0), value('ry', 0), value('rz', 0), order);
  return multiply(rest.rotation, turn);
}
