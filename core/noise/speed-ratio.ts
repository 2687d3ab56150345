/** Which multiple of the logged speed the strongest ridge runs at: 1 when the pole count is right. */
import type {FlightLog} from './flight-log';
import {Periodogram} from './welch';

export interface SpeedRatio {
  /** Ridge frequency / logged rotation frequency. */
  readonly ratio: number;
  /** Pole count that would make the ratio 1, rounded to an even number. */
  readonly fittingPoles: number;
  /** Ridge above the median over all ratios, dB. */
  readonly prominenceDb: number;
}

/** A ridge weaker than this says nothing about the pole count, dB. */
export const clearRidgeDb = 12;

/**
 * Averages the density along r × speed for r from 0.5 to 1.7 and takes the strongest. Only moments with a speed between
 * 60 Hz and a quarter of the sample rate count. Undefined when the log has no such moments, or when no ridge stands at
 * least {@link clearRidgeDb} out: a well filtered flight has none.
 */
export function findSpeedRatio(
  log: FlightLog,
  gyro: Float64Array,
  hz: Float64Array,
  poles: number,
  segment = 512,
): SpeedRatio | undefined {
  const periodogram = new Periodogram(segment, log.sampleRateHz);
  const stepHz = log.sampleRateHz / segment;
  const [low, high, step] = [0.5, 1.7, 0.005];
  const sums = new Float64Array(Math.round((high - low) / step) + 1);
  const density = new Float64Array(segment / 2 + 1);
  let used = 0;
  for (let at = 0; at + segment <= gyro.length; at += segment) {
    const speed = hz[at + segment / 2]!;
    if (speed < 60 || speed * high > log.sampleRateHz / 2) continue;
    density.fill(0);
    periodogram.accumulate(gyro, at, density);
    for (let r = 0; r < sums.length; r++) {
      const bin = ((low + r * step) * speed) / stepHz;
      const k = Math.floor(bin);
      sums[r]! += Math.log(density[k]! * (1 - bin + k) + density[k + 1]! * (bin - k) + 1e-12);
    }
    used++;
  }
  if (!used) return undefined;
  let best = 0;
  for (let r = 1; r < sums.length; r++) if (sums[r]! > sums[best]!) best = r;
  const median = [...sums].sort((a, b) => a - b)[sums.length >> 1]!;
  const ratio = low + best * step;
  const prominenceDb = (10 / Math.LN10) * ((sums[best]! - median) / used);
  if (prominenceDb < clearRidgeDb) return undefined;
  return {
    ratio,
    fittingPoles: 2 * Math.round(poles / ratio / 2),
    prominenceDb,
  };
}
