/** Levels above their neighbourhood: a gyro is louder at low frequencies whatever the motors do. */

/**
 * Decibels above the median of the bins within `half` to either side. A sorted window moves along: one value leaves it and
 * one enters, so a bin costs a few moves and not a sort.
 */
export function whitened(db: Float64Array, half = 12): Float64Array {
  const window: number[] = [];
  for (let k = 0; k <= Math.min(half, db.length - 1); k++) enter(window, db[k]!);
  return db.map((value, k) => {
    const above = value - window[window.length >> 1]!;
    const [next, last] = [k + half + 1, k - half];
    if (next < db.length) enter(window, db[next]!);
    if (last >= 0) window.splice(placeOf(window, db[last]!), 1);
    return above;
  });
}

function enter(window: number[], value: number): void {
  window.splice(placeOf(window, value), 0, value);
}

/** Where a value stands, or would stand, in an ascending list. */
function placeOf(window: readonly number[], value: number): number {
  let [low, high] = [0, window.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (window[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
