/**
 * Choosing the tangents of keys again while their values and times stay.
 *
 *   fit       single slopes that come nearest to the curve as it is (least squares over its samples)
 *   steady    no overshoot: the monotone rule of `tangents.ts`
 *   smoothest the natural cubic spline (Burden & Faires, Numerical Analysis, 3.5); at the edge of a
 *             selection the neighbouring slopes are taken as given (clamped spline)
 *   ease      flat tangents with handles of a chosen length: slow at the keys, fast between
 */
import { solveTridiagonal } from '../math/tridiagonal.ts';
import { FLAG, SEGMENT, TANGENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { sampleInto } from './evaluate.ts';
import { rebuild } from './rebuild.ts';

export const RETANGENT_METHODS = ['fit', 'steady', 'smoothest', 'ease'] as const;
export type RetangentMethod = (typeof RETANGENT_METHODS)[number];

/**
 * The curve with new tangents on the chosen keys. Stepped and straight segments stay what they are: a spline ends where one begins.
 * @param chosen 1 for each row that takes part; @param ease handle length as a part of the segment, 0…1
 */
export function retangent(curve: Curve, chosen: Uint8Array, method: RetangentMethod, ease: number): Curve {
  const slopes =
    method === 'smoothest'
      ? splineSlopes(curve, chosen)
      : method === 'fit'
        ? fittedSlopes(curve, chosen)
        : null;
  return rebuild(curve, null, (columns) => {
    for (let row = 0; row < chosen.length; row += 1) {
      if (!chosen[row]) continue;
      columns.flags[row]! &= ~(FLAG.broken | FLAG.weightedIn | FLAG.weightedOut);
      const kind = method === 'steady' ? TANGENT.steady : method === 'ease' ? TANGENT.flat : TANGENT.free;
      columns.tangentsIn[row] = columns.tangentsOut[row] = kind;
      if (slopes) columns.slopesIn[row] = columns.slopesOut[row] = slopes[row]!;
      if (method === 'ease') easeHandles(columns, row, ease);
    }
  });
}

function easeHandles(columns: Columns, row: number, ease: number): void {
  const { times } = columns;
  columns.flags[row]! |= FLAG.weightedIn | FLAG.weightedOut;
  columns.lengthsIn[row] = row > 0 ? (times[row]! - times[row - 1]!) * ease : 0;
  columns.lengthsOut[row] = row + 1 < times.length ? (times[row + 1]! - times[row]!) * ease : 0;
}

/** Whether a cubic segment begins at the row. */
const flows = (curve: Curve, row: number) =>
  row >= 0 && row + 1 < curve.times.length && curve.segments[row] === SEGMENT.cubic;

/** Slopes of the spline through the chosen keys; rows outside keep the slope they have. */
function splineSlopes(curve: Curve, chosen: Uint8Array): Float64Array {
  const { times, values } = curve;
  const n = times.length;
  const below = new Float64Array(n);
  const diagonal = new Float64Array(n).fill(1);
  const above = new Float64Array(n);
  const right = Float64Array.from(curve.slopesOut);
  for (let row = 0; row < n; row += 1) {
    if (!chosen[row]) {
      if (chosen[row - 1] && !chosen[row + 1]) right[row] = curve.slopesIn[row]!;
      continue;
    }
    diagonal[row] = 0;
    right[row] = 0;
    // Second derivatives agree on both sides; at the curve's ends, and where it stops flowing, they are zero.
    const [flowsIn, flowsOut] = [flows(curve, row - 1), flows(curve, row)];
    if (flowsIn) {
      const gap = times[row]! - times[row - 1]!;
      below[row] = 1 / gap;
      diagonal[row]! += 2 / gap;
      right[row]! += (3 * (values[row]! - values[row - 1]!)) / (gap * gap);
    }
    if (flowsOut) {
      const gap = times[row + 1]! - times[row]!;
      above[row] = 1 / gap;
      diagonal[row]! += 2 / gap;
      right[row]! += (3 * (values[row + 1]! - values[row]!)) / (gap * gap);
    }
    if (!flowsIn && !flowsOut) diagonal[row] = 1;
  }
  return solveTridiagonal(below, diagonal, above, right);
}

/** Places in each segment at which the old curve is read. */
const READINGS = 12;

/** Single slopes by least squares against the curve as it is; rows outside keep the slope they have. */
function fittedSlopes(curve: Curve, chosen: Uint8Array): Float64Array {
  const { times, values } = curve;
  const n = times.length;
  const below = new Float64Array(n);
  const diagonal = new Float64Array(n);
  const above = new Float64Array(n);
  const right = new Float64Array(n);
  const places = Float64Array.from({ length: READINGS }, (_, i) => (i + 0.5) / READINGS);
  const read = new Float64Array(READINGS);
  for (let row = 0; row + 1 < n; row += 1) {
    if ((!chosen[row] && !chosen[row + 1]) || !flows(curve, row)) continue;
    const gap = times[row + 1]! - times[row]!;
    const rise = values[row + 1]! - values[row]!;
    sampleInto(
      read,
      0,
      1,
      curve,
      places.map((place) => times[row]! + place * gap),
    );
    for (let i = 0; i < READINGS; i += 1) {
      const u = places[i]!;
      const w = 1 - u;
      const b0 = u * w * w * gap;
      const b1 = -u * u * w * gap;
      const left = read[i]! - values[row]! - rise * u * u * (3 - 2 * u);
      diagonal[row]! += b0 * b0;
      diagonal[row + 1]! += b1 * b1;
      above[row]! += b0 * b1;
      below[row + 1]! += b0 * b1;
      right[row]! += b0 * left;
      right[row + 1]! += b1 * left;
    }
  }
  for (let row = 0; row < n; row += 1) {
    if (chosen[row] && diagonal[row]! > 0) continue;
    below[row] = above[row] = 0;
    diagonal[row] = 1;
    right[row] = chosen[row - 1] ? curve.slopesIn[row]! : curve.slopesOut[row]!;
  }
  return solveTridiagonal(below, diagonal, above, right);
}
