/**
 * Fitting one segment to a run of points: least squares over its two slopes, the ends held to the data.
 * The unweighted segment is linear in its slopes, so the fit is a 2×2 system; weighted ones are fitted in chains
 * (`weighted-chain.ts`).
 */

/** Points to fit, times rising. */
export interface Points {
  readonly times: Float64Array;
  readonly values: Float64Array;
  /** Whether all stand exactly one frame apart: then what a fit needs of their times is known beforehand. */
  readonly even?: boolean;
  /** Whether straight lines run between them, which is what must be held. */
  readonly straight?: boolean;
  /** What lies between them where no straight lines do, as far as it is known. */
  readonly between?: Between | undefined;
}

/** What lies between points, gap by gap. */
export interface Between {
  /** Seven of each gap, at its eighths. */
  readonly values: Float64Array;
  /** How far the way through a gap is from the straight line at most. */
  readonly sway: Float64Array;
}

/** Slopes in units per frame, handle lengths in frames. */
export interface FittedSegment {
  readonly slopeOut: number;
  readonly slopeIn: number;
  readonly lengthOut: number;
  readonly lengthIn: number;
  readonly weighted: boolean;
}

export interface Fit {
  /** Rows of the points that are keys, rising; the first and the last are always among them. */
  readonly keys: readonly number[];
  /** One for each pair of neighbouring keys. */
  readonly segments: readonly FittedSegment[];
  /** Whether the points were samples of just these segments. */
  readonly exact: boolean;
  /** Whether every segment is within the tolerance of its points. */
  readonly holds: boolean;
}

export interface FitOptions {
  /** Greatest distance from the points, in their unit; > 0. */
  readonly tolerance: number;
  /** Whether a point may be a key; the first and the last always may. */
  readonly candidate: (row: number) => boolean;
  /** Rows that must be keys, rising, strictly between the ends. */
  readonly kept: readonly number[];
  /** Rows of peaks and valleys, rising: a key stands on each (with free handles perhaps a frame beside it), flat where that costs no key. */
  readonly peaks: readonly number[];
  /** Whether keys shall have one direction on both sides, at the cost of more keys. */
  readonly joined: boolean;
  /** Whether handles may have any length. */
  readonly weighted: boolean;
  /** Whether a few keys more do no harm where that is several times as fast. */
  readonly quick?: boolean | undefined;
  /** Rows that need a key since a fit with free handles strays there between points, rising; asked until there are none. */
  readonly strays?: ((fit: Fit) => readonly number[]) | undefined;
}

/** The greatest distance of a one-third segment from the points strictly between `from` and `to`. */
export function segmentError(
  points: Points,
  from: number,
  to: number,
  slopeOut: number,
  slopeIn: number,
  enough = Infinity,
): number {
  const { times, values } = points;
  const t0 = times[from]!;
  const gap = times[to]! - t0;
  const scale = 1 / gap;
  const v0 = values[from]!;
  const rise = values[to]! - v0;
  const c1 = slopeOut * gap;
  const d1 = slopeIn * gap;
  const c2 = 3 * rise - 2 * c1 - d1;
  const c3 = c1 + d1 - 2 * rise;
  let greatest = 0;
  for (let i = from + 1; i < to; i += 1) {
    const u = (times[i]! - t0) * scale;
    const error = Math.abs(values[i]! - v0 - u * (c1 + u * (c2 + u * c3)));
    if (error > greatest) {
      greatest = error;
      if (error > enough) return error;
    }
  }
  return greatest;
}

/**
 * Where a one-third segment is farthest from the straight lines between the points from `from` to `to`, if that is more than
 * `tolerance`; else null. Exact: between two points the difference is a cubic. Most intervals are settled by its ends and
 * the most that it can bend.
 */
export function strayBetween(
  { times, values }: Points,
  from: number,
  to: number,
  { slopeOut, slopeIn }: FittedSegment,
  tolerance: number,
): number | null {
  const t0 = times[from]!;
  const scale = 1 / (times[to]! - t0);
  const v0 = values[from]!;
  const rise = (values[to]! - v0) * scale;
  const c2 = (3 * rise - 2 * slopeOut - slopeIn) * scale;
  const c3 = (slopeOut + slopeIn - 2 * rise) * scale * scale;
  let greatest = tolerance;
  let frame: number | null = null;
  let gapBefore = 0;
  for (let i = from; i < to; i += 1) {
    const d = times[i]! - t0;
    const length = times[i + 1]! - times[i]!;
    const end = d + length;
    const gapAfter = v0 + end * (slopeOut + end * (c2 + end * c3)) - values[i + 1]!;
    const bend = (Math.max(Math.abs(c2 + 3 * c3 * d), Math.abs(c2 + 3 * c3 * end)) * length * length) / 4;
    if (Math.max(Math.abs(gapBefore), Math.abs(gapAfter)) + bend > greatest) {
      // The difference over the interval: e0 + s·(e1 + s·(e2 + s·e3)), s in frames from its start.
      const e1 = slopeOut + d * (2 * c2 + 3 * c3 * d) - (values[i + 1]! - values[i]!) / length;
      const e2 = c2 + 3 * c3 * d;
      const root = e2 * e2 - 3 * c3 * e1;
      const sum = root >= 0 ? -(e2 + (e2 < 0 ? -1 : 1) * Math.sqrt(root)) : NaN;
      for (const s of [length, sum / (3 * c3), e1 / sum]) {
        if (!(s > 0 && s <= length)) continue;
        const distance = Math.abs(gapBefore + s * (e1 + s * (e2 + s * c3)));
        if (distance <= greatest) continue;
        greatest = distance;
        frame = times[i]! + s;
      }
    }
    gapBefore = gapAfter;
  }
  return frame;
}

/** The basis of the two slopes at n − 1 even places between 0 and n, and its sums. */
interface EvenBasis {
  /** b0 and b1 of each place, one after the other. */
  readonly basis: Float64Array;
  /** Sums of b0·u and b1·u. */
  readonly s0: number;
  readonly s1: number;
  /** The inverse of the 2×2 system. */
  readonly i00: number;
  readonly i01: number;
  readonly i11: number;
}

/** Longer segments of even points are summed in the usual way. */
const MOST_EVEN = 512;
const evenBases: (EvenBasis | undefined)[] = [];

function evenBasis(n: number): EvenBasis {
  const known = evenBases[n];
  if (known) return known;
  const basis = new Float64Array(2 * n);
  let [s0, s1, a00, a01, a11] = [0, 0, 0, 0, 0];
  for (let i = 1; i < n; i += 1) {
    const u = i / n;
    const b0 = u * (1 - u) * (1 - u);
    const b1 = -u * u * (1 - u);
    basis[2 * i] = b0;
    basis[2 * i + 1] = b1;
    s0 += b0 * u;
    s1 += b1 * u;
    a00 += b0 * b0;
    a01 += b0 * b1;
    a11 += b1 * b1;
  }
  const ridge = 1e-12 * (a00 + a11) + 1e-300;
  const determinant = (a00 + ridge) * (a11 + ridge) - a01 * a01;
  const made = {
    basis,
    s0,
    s1,
    i00: (a11 + ridge) / determinant,
    i01: -a01 / determinant,
    i11: (a00 + ridge) / determinant,
  };
  evenBases[n] = made;
  return made;
}

/** What `fitSlopes` does, for points one frame apart: two products for each. */
function fitEvenSlopes(values: Float64Array, from: number, to: number, out: Float64Array): void {
  const n = to - from;
  const { basis, s0, s1, i00, i01, i11 } = evenBasis(n);
  const v0 = values[from]!;
  const rise = values[to]! - v0;
  let r0 = -rise * s0;
  let r1 = -rise * s1;
  for (let i = 1; i < n; i += 1) {
    const left = values[from + i]! - v0;
    r0 += basis[2 * i]! * left;
    r1 += basis[2 * i + 1]! * left;
  }
  out[0] = (rise + r0 * i00 + r1 * i01) / n;
  out[1] = (rise + r0 * i01 + r1 * i11) / n;
}

/** The slopes nearest to the chord's that meet a single point between, at u and `above` the first end. */
function fitSinglePoint(u: number, above: number, rise: number, scale: number, out: Float64Array): void {
  const b0 = u * (1 - u) * (1 - u);
  const b1 = -u * u * (1 - u);
  const share = (above - rise * u) / (b0 * b0 + b1 * b1);
  out[0] = (rise + b0 * share) * scale;
  out[1] = (rise + b1 * share) * scale;
}

/**
 * The two slopes that fit the points between `from` and `to` best; both are the chord's where there is
 * nothing between. Writes slopeOut, slopeIn to `out`.
 * @param weights one for each point, or null
 */
export function fitSlopes(
  points: Points,
  from: number,
  to: number,
  out: Float64Array,
  weights: Float64Array | null = null,
): void {
  const { times, values } = points;
  if (points.even && weights === null && to - from > 2 && to - from <= MOST_EVEN) {
    fitEvenSlopes(values, from, to, out);
    return;
  }
  const t0 = times[from]!;
  const gap = times[to]! - t0;
  const scale = 1 / gap;
  const v0 = values[from]!;
  const rise = values[to]! - v0;
  if (to - from === 1) {
    out[0] = out[1] = rise * scale;
    return;
  }
  if (to - from === 2) {
    fitSinglePoint((times[from + 1]! - t0) * scale, values[from + 1]! - v0, rise, scale, out);
    return;
  }
  let a00 = 0;
  let a01 = 0;
  let a11 = 0;
  let r0 = 0;
  let r1 = 0;
  for (let i = from + 1; i < to; i += 1) {
    const u = (times[i]! - t0) * scale;
    const w = 1 - u;
    const b0 = u * w * w;
    const b1 = -u * u * w;
    // What is left after the chord, whose two slopes are `rise`.
    const left = values[i]! - v0 - rise * u;
    const weight = weights === null ? 1 : weights[i]!;
    a00 += weight * b0 * b0;
    a01 += weight * b0 * b1;
    a11 += weight * b1 * b1;
    r0 += weight * b0 * left;
    r1 += weight * b1 * left;
  }
  // A trace of ridge toward the chord settles what points that nearly meet leave open.
  const ridge = 1e-12 * (a00 + a11) + 1e-300;
  a00 += ridge;
  a11 += ridge;
  const determinant = a00 * a11 - a01 * a01;
  out[0] = (rise + (r0 * a11 - r1 * a01) / determinant) * scale;
  out[1] = (rise + (r1 * a00 - r0 * a01) / determinant) * scale;
}
