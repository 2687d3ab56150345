/** Strongest separate peaks of a spectrum. */
import {decibels, type Spectrum} from './welch';

export interface Peak {
  readonly hz: number;
  readonly db: number;
}

/** Local maxima above `fromHz`, strongest first, at least `apartHz` from each other. */
export function strongestPeaks({density, stepHz}: Spectrum, {count = 5, fromHz = 60, apartHz = 25} = {}): Peak[] {
  const maxima: Peak[] = [];
  for (let k = Math.max(1, Math.ceil(fromHz / stepHz)); k < density.length - 1; k++)
    if (density[k]! > density[k - 1]! && density[k]! >= density[k + 1]!)
      maxima.push({hz: k * stepHz, db: decibels(density[k]!)});
  maxima.sort((a, b) => b.db - a.db);
  const kept: Peak[] = [];
  for (const peak of maxima) {
    if (kept.length === count) break;
    if (kept.every((k) => Math.abs(k.hz - peak.hz) >= apartHz)) kept.push(peak);
  }
  return kept;
}
