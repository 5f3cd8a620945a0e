/**
 * How far the joints of a figure are, in space, between two shots of the same rig; and the far ends of hands, head and feet,
 * which no joint goes on from.
 */
import type { FrameRange } from '../base/frame-range.ts';
import { newWorldPose } from '../rig/pose.ts';
import { bodyPoints } from '../rig/influence.ts';
import type { BodyPoint } from '../rig/body-point.ts';
import { worldInto } from '../evaluation/evaluation.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

export interface Drift {
  /** Of joints and far ends, cm; which joint, or whose end, and where. */
  readonly greatest: number;
  readonly rms: number;
  readonly node: string;
  readonly frame: number;
  /** Frames from one look to the next. */
  readonly step: number;
  /** The greatest distance of each watched point, cm, and the points. */
  readonly perPoint: Float64Array;
  readonly points: readonly BodyPoint[];
}

export interface DriftOptions {
  /** Looks in each frame: 2 looks at whole and half frames. */
  readonly perFrame?: number;
  /** Which nodes are watched, by index; all when left out. */
  readonly watched?: Uint8Array;
}

/** Most looks at a range when no number is asked for; longer ranges are looked at in even steps of whole frames. */
const MOST_LOOKS = 1200;

/** The greatest and the RMS distance of the watched joints, and of the far ends of limbs, over a range. */
export function driftBetween(
  before: Shot,
  after: Shot,
  range: FrameRange,
  { perFrame, watched }: DriftOptions = {},
): Drift {
  const rig = rigOf(before);
  const points = bodyPoints(rig).filter(({ node }) => watched === undefined || watched[node] === 1);
  const frames = range.end - range.start;
  const step = perFrame ? 1 / perFrame : frames * 2 < MOST_LOOKS ? 0.5 : Math.ceil(frames / MOST_LOOKS);
  const looks = Math.floor(frames / step + 1e-9) + 1;
  const [a, b] = [placesReader(before, points), placesReader(after, points)];
  const perPoint = new Float64Array(points.length);
  let [greatest, node, at, squares] = [0, points[0]?.node ?? 0, range.start, 0];
  for (let look = 0; look < looks; look += 1) {
    const frame = range.start + look * step;
    const [p, q] = [a(frame), b(frame)];
    for (let k = 0; k < points.length; k += 1) {
      const square =
        (p[3 * k]! - q[3 * k]!) ** 2 +
        (p[3 * k + 1]! - q[3 * k + 1]!) ** 2 +
        (p[3 * k + 2]! - q[3 * k + 2]!) ** 2;
      const distance = Math.sqrt(square);
      if (distance > perPoint[k]!) perPoint[k] = distance;
      squares += square;
      if (distance > greatest) [greatest, node, at] = [distance, points[k]!.node, frame];
    }
  }
  const count = looks * points.length;
  return {
    greatest,
    rms: count > 0 ? Math.sqrt(squares / count) : 0,
    node: rig.nodes[node]?.id ?? '',
    frame: at,
    step,
    perPoint,
    points,
  };
}

/** Gives the places of the points at a frame, three numbers each; the array is written anew by each call. */
function placesReader(shot: Shot, points: readonly BodyPoint[]): (frame: number) => Float64Array {
  const rig = rigOf(shot);
  const values = new Float64Array(rig.channels.length);
  const pose = newWorldPose(rig);
  const places = new Float64Array(points.length * 3);
  return (frame) => {
    worldInto(shot, frame, values, pose);
    const m = pose.matrices;
    points.forEach(({ node, at: [x, y, z] }, k) => {
      const i = node * 16;
      for (let row = 0; row < 3; row += 1)
        places[3 * k + row] = m[i + row]! * x + m[i + 4 + row]! * y + m[i + 8 + row]! * z + m[i + 12 + row]!;
    });
    return places;
  };
}
