/**
 * The least of a smooth function of many numbers: limited-memory BFGS (Nocedal & Wright, Numerical Optimization, algorithm 7.5) with a backtracking line search (Armijo). The value never rises.
 */
export interface Objective {
  /** The value at x; writes the gradient into `gradient`. */
  readonly at: (x: Float64Array, gradient: Float64Array) => number;
}

export interface Minimum {
  readonly x: Float64Array;
  readonly value: number;
  /** Steps that were taken. */
  readonly steps: number;
}

interface Options {
  readonly steps: number;
  /** It is done when a step brings less than this part of the value. */
  readonly least?: number;
  /** Steps whose curvature is remembered. */
  readonly memory?: number;
}

/** Halvings of a step before it is given up. */
const HALVINGS = 30;
/** How much of what the slope promises a step must bring. */
const ARMIJO = 1e-4;

/** @yields what stands after each step: the same array of numbers is never written again */
export function* minimise(
  { at }: Objective,
  from: Float64Array,
  { steps, least = 1e-7, memory = 10 }: Options,
): Generator<Minimum, Minimum, void> {
  const n = from.length;
  let x: Float64Array = from.slice();
  let gradient: Float64Array = new Float64Array(n);
  let value = at(x, gradient);
  const kept: { readonly s: Float64Array; readonly y: Float64Array; readonly rho: number }[] = [];
  for (let step = 0; step < steps; step += 1) {
    let way = direction(gradient, kept);
    let slope = dot(way, gradient);
    // What was remembered may point uphill after a kink: then straight down.
    if (!(slope < 0)) {
      kept.length = 0;
      way = gradient.map((part) => -part);
      slope = dot(way, gradient);
      if (!(slope < 0)) break;
    }
    // The first step knows nothing of scale: it is as long as the numbers' slope is steep.
    let length = kept.length === 0 ? Math.min(1, value / -slope || 1) : 1;
    let found: { readonly next: Float64Array; readonly down: Float64Array; readonly now: number } | null =
      null;
    for (let halving = 0; halving < HALVINGS && !found; halving += 1) {
      const next = x.map((part, i) => part + length * way[i]!);
      const down = new Float64Array(n);
      const now = at(next, down);
      if (now <= value + ARMIJO * length * slope) found = { next, down, now };
      length /= 2;
    }
    if (!found) {
      if (kept.length === 0) break;
      kept.length = 0;
      continue;
    }
    const { next, down, now } = found;
    const s = next.map((part, i) => part - x[i]!);
    const y = down.map((part, i) => part - gradient[i]!);
    const curved = dot(s, y);
    if (curved > 1e-12 * dot(y, y)) {
      kept.push({ s, y, rho: 1 / curved });
      if (kept.length > memory) kept.shift();
    }
    const brought = value - now;
    [x, gradient, value] = [next, down, now];
    yield { x, value, steps: step + 1 };
    if (brought <= least * Math.abs(value)) return { x, value, steps: step + 1 };
  }
  return { x, value, steps };
}

/** Downhill, with the curvature of the last steps (two loops). */
function direction(
  gradient: Float64Array,
  kept: readonly { readonly s: Float64Array; readonly y: Float64Array; readonly rho: number }[],
): Float64Array {
  const q = gradient.slice();
  const alphas: number[] = [];
  for (let k = kept.length - 1; k >= 0; k -= 1) {
    const { s, y, rho } = kept[k]!;
    const alpha = rho * dot(s, q);
    alphas[k] = alpha;
    for (let i = 0; i < q.length; i += 1) q[i]! -= alpha * y[i]!;
  }
  const last = kept.at(-1);
  const scale = last ? dot(last.s, last.y) / dot(last.y, last.y) : 1;
  for (let i = 0; i < q.length; i += 1) q[i]! *= scale;
  kept.forEach(({ s, y, rho }, k) => {
    const beta = rho * dot(y, q);
    for (let i = 0; i < q.length; i += 1) q[i]! += s[i]! * (alphas[k]! - beta);
  });
  return q.map((part) => -part);
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i += 1) sum += a[i]! * b[i]!;
  return sum;
}
