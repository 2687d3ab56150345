/** The value in the middle; the mean of the two there where their number is even. NaN of nothing. */
export function median(values: Iterable<number>): number {
  const sorted = Float64Array.from(values).sort();
  const half = sorted.length >> 1;
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
}

/** The value in the middle, the higher of the two there: one that occurs, and that half of them do not exceed. NaN of nothing. */
export const upperMedian = (values: Iterable<number>): number => {
  const sorted = Float64Array.from(values).sort();
  return sorted[sorted.length >> 1] ?? NaN;
};
