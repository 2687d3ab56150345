/** First whole number from `low` on, below `high`, for which it is so; `high` where it never is. It must stay so from there on. */
export function firstWhere(low: number, high: number, isSo: (at: number) => boolean): number {
  while (low < high) {
    const middle = (low + high) >> 1;
    if (isSo(middle)) high = middle;
    else low = middle + 1;
  }
  return low;
}
