/** The stretch of time that a timeline shows, and how a hand moves it. Times in s. */

export interface Span {
  readonly from: number;
  readonly to: number;
}

/** Nearest that can be looked at, s. */
const nearest = 200e-9;

/** Nearer (below 1) or farther, so that `at` stays where it is; never beyond the whole by more than a little. */
export function zoomed({from, to}: Span, factor: number, at: number, whole: Span): Span {
  const most = (whole.to - whole.from) * 1.02;
  const width = Math.max(nearest, Math.min(most, (to - from) * factor));
  const share = (at - from) / (to - from);
  return within({from: at - share * width, to: at + (1 - share) * width}, whole);
}

export const moved = ({from, to}: Span, by: number, whole: Span): Span => within({from: from + by, to: to + by}, whole);

/** Around a moment, so wide that it can be read. */
export const around = (from: number, to: number, whole: Span): Span => {
  const width = Math.max((to - from) * 3, 20e-6);
  const middle = (from + to) / 2;
  return within({from: middle - width / 2, to: middle + width / 2}, whole);
};

function within({from, to}: Span, whole: Span): Span {
  const margin = (whole.to - whole.from) * 0.01 + nearest;
  const width = to - from;
  if (width >= whole.to - whole.from + 2 * margin) return {from: whole.from - margin, to: whole.to + margin};
  const begin = Math.max(whole.from - margin, Math.min(from, whole.to + margin - width));
  return {from: begin, to: begin + width};
}

/** Distance of ticks: 1, 2 or 5 of some power of ten, at most so many. */
export function tickStep({from, to}: Span, most: number): number {
  const least = (to - from) / most;
  const power = 10 ** Math.floor(Math.log10(least));
  return power * ([1, 2, 5].find((n) => n * power >= least) ?? 10);
}

/** A time as people read it, as fine as the step asks for. */
export function timeText(seconds: number, step: number): string {
  const [unit, scale] = step >= 0.1 ? ['s', 1] : step >= 1e-4 ? ['ms', 1e3] : step >= 1e-7 ? ['µs', 1e6] : ['ns', 1e9];
  const digits = Math.max(0, Math.ceil(-Math.log10(step * scale) - 1e-9));
  return `${(seconds * scale).toFixed(digits)} ${unit}`;
}
