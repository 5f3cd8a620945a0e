/**
 * Dynamic time warping of two sequences of features: which place in the second lies beside each place in the first, so that they are as alike as can be while
 * neither runs more than `slope` times as fast as the other (H. Sakoe, S. Chiba, Dynamic programming algorithm optimization for spoken word recognition, IEEE
 * ASSP 26, 1978: the symmetric form, their steps for P = 1 continued to other limits). Both ends lie beside each other.
 *
 * Long sequences are warped coarsely first and finely within a band around that way, so that the work grows with their length and not with its square (as in
 * S. Salvador, P. Chan, FastDTW, Intelligent Data Analysis 11, 2007). Between whole places the second is taken as straight.
 */

/** Rows of features one after the other. */
export interface Sequence {
  readonly count: number;
  readonly width: number;
  readonly values: Float64Array;
}

/** Above so many places in the longer one it is warped coarsely first. */
const COARSE_FROM = 500;
const COARSE_STEP = 6;
/** Half of the band, in places: what the coarse way may be off. */
const BAND = 4 * COARSE_STEP;

/** For each place of `a` one of `b`, never falling, fractions between whole ones; null where their lengths differ by more than the slope allows. */
export function warpSequences(a: Sequence, b: Sequence, slope: number): Float64Array | null {
  if (a.count === 1 || b.count === 1) return a.count === b.count ? new Float64Array(1) : null;
  const [m, n] = [a.count - 1, b.count - 1];
  if (n > m * slope || m > n * slope) return null;
  const way = wayThrough(a, b, slope);
  return way && finely(a, b, way);
}

/** The middle of the places of `b` that lie beside each of `a`. */
function wayThrough(a: Sequence, b: Sequence, slope: number): Float64Array | null {
  if (Math.max(a.count, b.count) <= COARSE_FROM) return banded(a, b, slope, null);
  const [few, less] = [everyFew(a), everyFew(b)];
  // A coarse way only shows where to look: it may be a little steeper than what is found in the end.
  const coarse = wayThrough(few, less, slope + 1) ?? straight(few.count, less.count);
  const middle = Float64Array.from({ length: a.count }, (_, i) => {
    const at = (i / (a.count - 1)) * (few.count - 1);
    return (between(coarse, at) / (less.count - 1)) * (b.count - 1);
  });
  return banded(a, b, slope, middle);
}

const straight = (m: number, n: number): Float64Array =>
  Float64Array.from({ length: m }, (_, i) => (i * (n - 1)) / (m - 1));

/** Every sixth row or so, both ends among them. */
function everyFew({ count, width, values }: Sequence): Sequence {
  const fewer = Math.max(2, Math.round((count - 1) / COARSE_STEP) + 1);
  const result = new Float64Array(fewer * width);
  for (let i = 0; i < fewer; i += 1) {
    const row = Math.round((i * (count - 1)) / (fewer - 1)) * width;
    result.set(values.subarray(row, row + width), i * width);
  }
  return { count: fewer, width, values: result };
}

/** @param middle of the band for each place of `a`; null is everywhere */
function banded(a: Sequence, b: Sequence, slope: number, middle: Float64Array | null): Float64Array | null {
  const [m, n] = [a.count, b.count];
  const low = new Int32Array(m);
  const high = new Int32Array(m);
  for (let i = 0; i < m; i += 1) {
    low[i] = middle ? Math.max(0, Math.floor(middle[i]!) - BAND) : 0;
    high[i] = middle ? Math.min(n - 1, Math.ceil(middle[i]!) + BAND) : n - 1;
  }
  const offset = new Int32Array(m + 1);
  for (let i = 0; i < m; i += 1) offset[i + 1] = offset[i]! + high[i]! - low[i]! + 1;
  const apart = new Float64Array(offset[m]!);
  const cost = new Float64Array(offset[m]!).fill(Infinity);
  /** How it came to a place: above 0 so many of `b` for one of `a`, below 0 the other way. */
  const came = new Int8Array(offset[m]!);
  const cell = (i: number, j: number) =>
    i < 0 || j < low[i]! || j > high[i]! ? -1 : offset[i]! + j - low[i]!;
  for (let i = 0; i < m; i += 1)
    for (let j = low[i]!; j <= high[i]!; j += 1) apart[cell(i, j)] = distance(a, i, b, j);
  if (cell(0, 0) < 0) return null;
  cost[cell(0, 0)] = apart[cell(0, 0)]!;
  const limit = Math.max(1, Math.floor(slope));
  for (let i = 1; i < m; i += 1)
    for (let j = Math.max(1, low[i]!); j <= high[i]!; j += 1) {
      const here = cell(i, j);
      let best = Infinity;
      let how = 0;
      const consider = (from: number, on: number, which: number) => {
        if (from < 0) return;
        const sum = cost[from]! + on;
        if (sum < best) [best, how] = [sum, which];
      };
      consider(cell(i - 1, j - 1), 2 * apart[here]!, 1);
      let along = apart[here]!;
      for (let k = 2; k <= limit; k += 1) {
        const mid = cell(i, j - k + 1);
        if (mid < 0) break;
        consider(cell(i - 1, j - k), along + 2 * apart[mid]!, k);
        along += apart[mid]!;
      }
      along = apart[here]!;
      for (let k = 2; k <= limit; k += 1) {
        const mid = cell(i - k + 1, j);
        if (mid < 0) break;
        consider(cell(i - k, j - 1), along + 2 * apart[mid]!, -k);
        along += apart[mid]!;
      }
      cost[here] = best;
      came[here] = how;
    }
  const end = cell(m - 1, n - 1);
  if (end < 0 || cost[end] === Infinity) return null;
  return walkedBack(m, n, (i, j) => came[cell(i, j)]!);
}

/** The corners of the way back from the end, straight between them. */
function walkedBack(m: number, n: number, came: (i: number, j: number) => number): Float64Array {
  const way = new Float64Array(m);
  let [i, j] = [m - 1, n - 1];
  way[i] = j;
  while (i > 0) {
    const how = came(i, j);
    const [back, across] = how < 0 ? [-how, 1] : [1, how];
    for (let k = 1; k <= back; k += 1) way[i - k] = j - (across * k) / back;
    [i, j] = [i - back, j - across];
  }
  return way;
}

const between = (way: ArrayLike<number>, at: number): number => {
  const from = Math.min(Math.floor(at), way.length - 1);
  const to = Math.min(from + 1, way.length - 1);
  return way[from]! + (at - from) * (way[to]! - way[from]!);
};

function distance(a: Sequence, i: number, b: Sequence, j: number): number {
  const { width } = a;
  let sum = 0;
  for (let c = 0; c < width; c += 1) {
    const d = a.values[i * width + c]! - b.values[j * width + c]!;
    sum += d * d;
  }
  return Math.sqrt(sum);
}

/** Each place moved to the nearest one on the straight lines around it, then kept from falling. */
function finely(a: Sequence, b: Sequence, way: Float64Array): Float64Array {
  const last = b.count - 1;
  const found = way.map((at, i) => {
    if (i === 0 || i === way.length - 1) return at;
    let [best, where] = [Infinity, at];
    for (let j = Math.max(0, Math.ceil(at) - 2); j < Math.min(last, Math.floor(at) + 2); j += 1) {
      const [part, away] = nearestOnLine(a, i, b, j);
      // Where all are as near, as in a hold, the way stays as it was.
      const moved = Math.abs(j + part - at) * 1e-9;
      if (away + moved < best) [best, where] = [away + moved, j + part];
    }
    return where;
  });
  holdsBeside(a, b, way, found);
  for (let i = 1; i < found.length; i += 1) found[i] = Math.max(found[i]!, found[i - 1]!);
  return found;
}

/** Rows nearer to each other than this are one pose. */
const STILL = 1e-6;

/** A hold lies beside the whole hold of the same pose: within it any place would be as near. */
function holdsBeside(a: Sequence, b: Sequence, way: Float64Array, found: Float64Array): void {
  const holds = (of: Sequence, row: number) =>
    row >= 0 && row + 1 < of.count && distance(of, row, of, row + 1) < STILL;
  for (let from = 0; from < a.count - 1; from += 1) {
    if (!holds(a, from)) continue;
    let to = from;
    while (holds(a, to)) to += 1;
    let first = Math.round(way[(from + to) >> 1]!);
    let last = first;
    while (holds(b, first - 1)) first -= 1;
    while (holds(b, last)) last += 1;
    for (let i = from; i <= to; i += 1) found[i] = first + ((i - from) / (to - from)) * (last - first);
    from = to;
  }
}

/** The part of the line from row j to the next at which it is nearest to a row of `a`, and how far off it is. */
function nearestOnLine(a: Sequence, i: number, b: Sequence, j: number): [number, number] {
  const { width } = a;
  let [along, length] = [0, 0];
  for (let c = 0; c < width; c += 1) {
    const from = b.values[j * width + c]!;
    const step = b.values[(j + 1) * width + c]! - from;
    along += (a.values[i * width + c]! - from) * step;
    length += step * step;
  }
  const part = length < 1e-18 ? 0 : Math.min(Math.max(along / length, 0), 1);
  let sum = 0;
  for (let c = 0; c < width; c += 1) {
    const from = b.values[j * width + c]!;
    const d = a.values[i * width + c]! - from - part * (b.values[(j + 1) * width + c]! - from);
    sum += d * d;
  }
  return [part, Math.sqrt(sum)];
}
