/** Strongest separate peaks of a spectrum. */
import {decibels, type Spectrum} from './welch';

interface Peak {
  /** Between the bins, by a parabola through the three levels around it. */
  readonly hz: number;
  /** Level of the strongest bin, dB re 1 unit²/Hz. */
  readonly db: number;
}

/** Local maxima above `fromHz`, strongest first, at least `apartHz` from each other. */
export function strongestPeaks({density, stepHz}: Spectrum, {count = 5, fromHz = 20, apartHz = 25} = {}): Peak[] {
  const maxima: Peak[] = [];
  for (let k = Math.max(1, Math.ceil(fromHz / stepHz)); k < density.length - 1; k++)
    if (density[k]! > density[k - 1]! && density[k]! >= density[k + 1]!)
      maxima.push({hz: (k + vertex(density, k)) * stepHz, db: decibels(density[k]!)});
  maxima.sort((a, b) => b.db - a.db);
  const kept: Peak[] = [];
  for (const peak of maxima) {
    if (kept.length === count) break;
    if (kept.every((k) => Math.abs(k.hz - peak.hz) >= apartHz)) kept.push(peak);
  }
  return kept;
}

/** Offset of the maximum from bin k, −½…½ bins. */
function vertex(density: Float64Array, k: number): number {
  const [a, b, c] = [decibels(density[k - 1]!), decibels(density[k]!), decibels(density[k + 1]!)];
  const bend = a - 2 * b + c;
  return bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : 0;
}
