/** Motor speeds as the notches see them: late and smoothed. */
import type {Samples} from '../spectra/periodogram';
import type {MotorNotches} from './chain';

/** Fresh copies. Where a speed is missing (0), the last one goes on: so do controllers. */
export function seenSpeeds(
  motorsHz: readonly Samples[],
  {speedLowPassHz, speedDelayMs}: Pick<MotorNotches, 'speedLowPassHz' | 'speedDelayMs'>,
  sampleRateHz: number,
): Float32Array[] {
  const late = Math.round((speedDelayMs / 1000) * sampleRateHz);
  const dt = 1 / sampleRateHz;
  const alpha = speedLowPassHz > 0 ? dt / (1 / (2 * Math.PI * speedLowPassHz) + dt) : 1;
  return motorsHz.map((hz) => {
    const out = new Float32Array(hz.length);
    let last = 0;
    let held = 0;
    for (let i = 0; i < hz.length; i++) {
      const v = hz[Math.max(0, i - late)]!;
      if (v > 0) held = v;
      last = last === 0 ? held : last + alpha * (held - last);
      out[i] = last;
    }
    return out;
  });
}
