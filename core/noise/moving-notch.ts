/** Moving notches as the simulated controller runs them: on the strongest peaks of what the other filters left just before. */
import {notch} from './biquad';
import {runFilter} from './notch-bank';
import {strongestPeaks} from './peaks';
import {Periodogram} from './welch';

/** Q of the controller's moving notches; an entry of the simulated controller. */
export const movingNotchQ = 3;
/** Samples the controller looks at before it moves a notch. */
const windowLength = 512;

/**
 * Centre of each moving notch over the flight, Hz: `count` arrays with one value per window; NaN while there is no peak.
 * A notch follows the window before, so it is late by one; like the others it does not go below `minHz`.
 */
export function movingNotchCentres(
  signal: Float64Array,
  {count, minHz}: {readonly count: number; readonly minHz: number},
  sampleRateHz: number,
): Float64Array[] {
  const windows = Math.floor(signal.length / windowLength);
  const centres = Array.from({length: count}, () => new Float64Array(windows).fill(NaN));
  if (!count || !windows) return centres;
  const periodogram = new Periodogram(windowLength, sampleRateHz);
  const density = new Float64Array(windowLength / 2 + 1);
  for (let w = 1; w < windows; w++) {
    density.fill(0);
    periodogram.accumulate(signal, (w - 1) * windowLength, density);
    const peaks = strongestPeaks(
      {density, stepHz: sampleRateHz / windowLength, segments: 1},
      {
        count,
        fromHz: minHz,
      },
    );
    peaks.forEach(({hz}, i) => (centres[i]![w] = hz));
  }
  return centres;
}

/** Fresh copy of `signal` through notches at `centres`. */
export function applyMovingNotches(
  signal: Float64Array,
  centres: readonly Float64Array[],
  sampleRateHz: number,
): Float64Array {
  let out = signal;
  for (const hz of centres)
    out = runFilter(out, (i) => {
      const centre = hz[Math.min(hz.length - 1, Math.floor(i / windowLength))]!;
      return centre > 0 && centre < 0.475 * sampleRateHz ? notch(centre, movingNotchQ, sampleRateHz) : undefined;
    });
  return out === signal ? signal.slice() : out;
}
