/**
 * The even clock behind the time stamps of rows. Stamps may jitter by almost half a step: then neither the usual step nor a
 * single long one says anything, and the rate is that at which all stamps of a window fall on one phase.
 */

export interface RowClock {
  /** Between rows, s. */
  readonly step: number;
  /** Root mean square of the stamps about the clock, as a share of the step; 0 where they lie on it. */
  readonly jitter: number;
}

/** Rows of a window: a clock that drifts by 1 in 1000 turns by a quarter in it. */
const width = 256;
const maxWindows = 60;
/** Stamps that are together by this much lie on the clock as rounded stamps do. */
const isOnClock = 0.9;
/** Steps to try around the one that is likely, as a share to either side, and how far apart. */
const reach = 0.12;
const apart = 0.2 / width;
/** A clock must gather the stamps by so many times what stamps without any clock would. */
const clearly = 1.25;
/** What chance gathers in a window: the mean length of so many unit steps in random directions (Rayleigh). */
const byChance = Math.sqrt(Math.PI / 4 / width);

/** @param likely the median step, s. Undefined where the stamps lie on that, or on no clock that could be found. */
export function jitteringClock(timeS: Float64Array, {start, end}: RowRange, likely: number): RowClock | undefined {
  const windows = windowsOf(timeS, {start, end}, likely);
  if (!windows.length || gathered(timeS, windows, likely) > isOnClock) return undefined;
  const middle = meanStep(timeS, windows);
  let best = {step: middle, length: 0};
  for (let share = -reach; share <= reach; share += apart) {
    const step = middle * (1 + share);
    const length = gathered(timeS, windows, step);
    if (length > best.length) best = {step, length};
  }
  if (best.length < clearly * byChance || best.length > isOnClock) return undefined;
  for (let fine = apart / 2; fine > apart / 40; fine /= 2)
    for (const step of [best.step * (1 - fine), best.step * (1 + fine)]) {
      const length = gathered(timeS, windows, step);
      if (length > best.length) best = {step, length};
    }
  return {step: best.step, jitter: spreadOf(best.length)};
}

interface RowRange {
  readonly start: number;
  readonly end: number;
}

/** First rows of windows in which no row is far from the next: a pause begins another phase. */
function windowsOf(timeS: Float64Array, {start, end}: RowRange, likely: number): number[] {
  const all = Math.floor((end - start) / width);
  const stride = Math.max(1, all / maxWindows);
  const windows: number[] = [];
  for (let w = 0; w < all; w += stride) {
    const at = start + Math.floor(w) * width;
    let isWhole = true;
    for (let i = at + 1; i < at + width; i++) if (timeS[i]! - timeS[i - 1]! > 6 * likely) isWhole = false;
    if (isWhole) windows.push(at);
  }
  return windows;
}

const meanStep = (timeS: Float64Array, windows: readonly number[]): number => {
  const steps = windows.map((at) => (timeS[at + width - 1]! - timeS[at]!) / (width - 1)).sort((a, b) => a - b);
  return steps[steps.length >> 1]!;
};

/** How well the stamps of each window fall on one phase of a clock, 0…1: mean length of the sum of their unit vectors. */
function gathered(timeS: Float64Array, windows: readonly number[], step: number): number {
  let sum = 0;
  for (const at of windows) {
    let [re, im] = [0, 0];
    for (let i = at; i < at + width; i++) {
      const turn = (2 * Math.PI * (timeS[i]! - timeS[at]!)) / step;
      re += Math.cos(turn);
      im += Math.sin(turn);
    }
    sum += Math.hypot(re, im) / width;
  }
  return sum / windows.length;
}

/**
 * Spread of stamps, in steps, that gather by this much: that of an even spread over ±w, whose vectors add up to
 * sin(2πw)/(2πw); a normal one of the same spread differs by little.
 */
function spreadOf(length: number): number {
  let [least, most] = [0, 0.5];
  for (let i = 0; i < 40; i++) {
    const w = (least + most) / 2;
    if (Math.sin(2 * Math.PI * w) / (2 * Math.PI * w) > length) least = w;
    else most = w;
  }
  return least / Math.sqrt(3);
}
