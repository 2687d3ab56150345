/**
 * The tracker of moving notches as a controller runs it: spectra of the last window, the strongest peaks, each notch glides
 * towards the peak nearest to it. So a notch is late by half a window and its gliding, and two peaks may change places.
 */
import {Periodogram, type Samples} from '../spectra/periodogram';
import {strongestPeaks} from '../spectra/peaks';
import type {MovingNotches} from './chain';

/** Length of the window and time from one look to the next, s; entries of the simulated controllers. */
const windowS = 0.064;
const hopS = 0.008;
/** Share of the way to its peak that a notch goes at each look. */
const glide = 0.25;

interface Tracked {
  /** Samples from value to value. */
  readonly hop: number;
  /** Centre of each notch, Hz; NaN while it has none. */
  readonly centres: readonly Float64Array[];
}

/** `signal` is what the filters before it leave. */
export function trackPeaks(signal: Samples, {count, minHz, maxHz}: MovingNotches, sampleRateHz: number): Tracked {
  const length = 2 ** Math.round(Math.log2(windowS * sampleRateHz));
  const hop = Math.max(1, Math.round(hopS * sampleRateHz));
  const looks = Math.max(0, Math.ceil(signal.length / hop));
  const centres = Array.from({length: count}, () => new Float64Array(looks).fill(NaN));
  if (!count || signal.length < length) return {hop, centres};
  const periodogram = new Periodogram(length, sampleRateHz);
  const density = new Float64Array(periodogram.bins);
  const now: number[] = Array.from({length: count}, () => NaN);
  for (let look = 0; look < looks; look++) {
    const at = look * hop - length;
    if (at >= 0) {
      density.fill(0);
      periodogram.accumulate(signal, at, density);
      follow(now, peaksIn({density, stepHz: periodogram.stepHz, segments: 1}, {count, minHz, maxHz}));
    }
    now.forEach((hz, i) => (centres[i]![look] = hz));
  }
  return {hop, centres};
}

/** Peaks that the notches would follow, Hz, strongest first. */
export function peaksIn(
  spectrum: {readonly density: Float64Array; readonly stepHz: number; readonly segments: number},
  {count, minHz, maxHz}: Pick<MovingNotches, 'count' | 'minHz' | 'maxHz'>,
): number[] {
  const {density, stepHz} = spectrum;
  const top = Math.min(density.length, Math.floor(maxHz / stepHz) + 2);
  const peaks = strongestPeaks(
    {...spectrum, density: density.subarray(0, top)},
    {count, fromHz: Math.max(minHz, 2 * stepHz), apartHz: 3 * stepHz},
  );
  return peaks.map((p) => p.hz);
}

/** Each peak, strongest first, draws the free notch nearest to it. */
function follow(now: number[], peaks: readonly number[]): void {
  const free = new Set(now.keys());
  for (const hz of peaks) {
    const distance = (i: number) => (Number.isNaN(now[i]!) ? 1e6 : Math.abs(now[i]! - hz));
    const nearest = [...free].reduce((best, i) => (distance(i) < distance(best) ? i : best));
    now[nearest] = Number.isNaN(now[nearest]!) ? hz : now[nearest]! + glide * (hz - now[nearest]!);
    free.delete(nearest);
  }
}
