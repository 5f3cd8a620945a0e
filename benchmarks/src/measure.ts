/** Timing two ways of doing the same work in pairs, in one process: machine noise falls on both alike. */

export interface Row {
  readonly work: string;
  readonly against: string;
  /** How the figure is to be read: `5.3×`, `71 ms`. */
  readonly measured: string;
  readonly toReach: string;
  readonly reached: boolean;
}

/** Milliseconds of one run. */
export function timeOf(run: () => unknown): number {
  const start = performance.now();
  run();
  return performance.now() - start;
}

/** Milliseconds of the processor's time for one run: of a shared machine others may take half meanwhile. */
export function processorTimeOf(run: () => unknown): number {
  const start = process.cpuUsage();
  run();
  const { user, system } = process.cpuUsage(start);
  return (user + system) / 1000;
}

export function median(numbers: readonly number[]): number {
  const sorted = [...numbers].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

/** The median over pairs of (time of the other) ÷ (time of ours): how many times faster ours is. */
export function ratioOf(ours: () => unknown, other: () => unknown, pairs = 9): number {
  ours();
  other();
  const ratios: number[] = [];
  for (let pair = 0; pair < pairs; pair += 1) {
    // The order changes, so that neither always runs on a warm cache.
    if (pair % 2 === 0) {
      const own = timeOf(ours);
      ratios.push(timeOf(other) / own);
    } else {
      const others = timeOf(other);
      ratios.push(others / timeOf(ours));
    }
  }
  return median(ratios);
}

/** A row whose figure is a ratio that must be at least `least`. */
export function fasterRow(work: string, against: string, ratio: number, least: number): Row {
  return {
    work,
    against,
    measured: `${ratio.toFixed(1)}× as fast`,
    toReach: `≥ ${least}×`,
    reached: ratio >= least,
  };
}

/** A row whose figure must be at most `limit`, or at least where that is asked; seconds with two decimals. */
export function limitRow(
  work: string,
  against: string,
  value: number,
  unit: string,
  limit: number,
  least = false,
): Row {
  return {
    work,
    against,
    measured: `${value.toFixed(unit === 's' ? 2 : unit === '×' ? 1 : 0)} ${unit}`,
    toReach: `${least ? '≥' : '≤'} ${limit} ${unit}`,
    reached: least ? value >= limit : value <= limit,
  };
}
