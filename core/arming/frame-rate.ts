/** Rate of a receiver's frames and the gaps between them, from when each came. */

export interface FrameTiming {
  /** Of the usual interval, Hz. */
  readonly rateHz: number;
  readonly usualMs: number;
  /** Longest time without a frame, ms. */
  readonly longestMs: number;
  /** Frames that did not come, and all that should have. */
  readonly missing: number;
  readonly expected: number;
}

/** An interval of so many usual ones lacks frames. */
const gapFrom = 1.6;

/** @param timesMs ascending. Undefined with fewer than 20 frames: no rate can be told from them. */
export function frameTiming(timesMs: readonly number[]): FrameTiming | undefined {
  if (timesMs.length < 20) return undefined;
  const intervals = timesMs.slice(1).map((t, i) => t - timesMs[i]!);
  const usualMs = [...intervals].sort((a, b) => a - b)[intervals.length >> 1]!;
  if (!(usualMs > 0)) return undefined;
  const missing = intervals.reduce((sum, ms) => sum + (ms > gapFrom * usualMs ? Math.round(ms / usualMs) - 1 : 0), 0);
  return {
    ...{rateHz: 1000 / usualMs, usualMs, longestMs: intervals.reduce((a, b) => Math.max(a, b), 0)},
    ...{missing, expected: intervals.length + missing},
  };
}
