/** The speed of a motor in a segment, where it may be called one speed. */
import type {Samples} from './periodogram';

/** Mean speed over a segment; NaN where it stands, is unknown, or changes too much. */
export function steadySpeed(
  hz: Samples,
  {at, length, maxChange}: {readonly at: number; readonly length: number; readonly maxChange: number},
): number {
  let least = Infinity;
  let most = 0;
  let sum = 0;
  let count = 0;
  for (let i = at; i < at + length; i += 8) {
    const v = hz[i]!;
    if (v < least) least = v;
    if (v > most) most = v;
    sum += v;
    count++;
  }
  const mean = sum / count;
  return least > 0 && most - least <= maxChange * mean ? mean : NaN;
}
