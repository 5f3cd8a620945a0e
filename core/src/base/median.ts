/** The middle of the values in order, or between the two middles; NaN of none. */
export function median(values: Float64Array): number {
  const sorted = values.slice().sort();
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}
