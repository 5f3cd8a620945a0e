/** How many of the sorted `times` are <= `time`: the row after the last such one. */
export function bisectRight(times: ArrayLike<number>, time: number): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((times[middle] as number) <= time) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** How many of the sorted `times` are < `time`: the row of the first that is not. */
export function bisectLeft(times: ArrayLike<number>, time: number): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((times[middle] as number) < time) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Whether one of the sorted `times` stands on `time`, within a millionth of a frame. */
export function standsAt(times: ArrayLike<number>, time: number): boolean {
  const after = bisectRight(times, time - 1e-6);
  return after < times.length && (times[after] as number) < time + 1e-6;
}
