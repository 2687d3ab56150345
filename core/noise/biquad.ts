/** Second-order filters of the W3C "Audio EQ Cookbook": coefficients, response and delay. */

/** Normalised to a0 = 1: y = b0·x + b1·x₁ + b2·x₂ − a1·y₁ − a2·y₂. */
export interface Biquad {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

function normalise([b0, b1, b2]: Coefficients, [a0, a1, a2]: Coefficients): Biquad {
  return {b0: b0 / a0, b1: b1 / a0, b2: b2 / a0, a1: a1 / a0, a2: a2 / a0};
}
type Coefficients = readonly [number, number, number];

/** Notch at `hz`. Throws at or above half the sample rate, where it does not exist. */
export function notch(hz: number, q: number, sampleRateHz: number): Biquad {
  const {cos, alpha} = angles(hz, q, sampleRateHz);
  return normalise([1, -2 * cos, 1], [1 + alpha, -2 * cos, 1 - alpha]);
}

/** Low-pass with cut-off `hz`; Q = 1/√2 is the Butterworth one. */
export function lowPass(hz: number, q: number, sampleRateHz: number): Biquad {
  const {cos, alpha} = angles(hz, q, sampleRateHz);
  return normalise([(1 - cos) / 2, 1 - cos, (1 - cos) / 2], [1 + alpha, -2 * cos, 1 - alpha]);
}

function angles(hz: number, q: number, sampleRateHz: number): {cos: number; alpha: number} {
  if (!(hz > 0 && hz < sampleRateHz / 2))
    throw new RangeError(`${hz} Hz is not between 0 and half of ${sampleRateHz} Hz`);
  const w = (2 * Math.PI * hz) / sampleRateHz;
  return {cos: Math.cos(w), alpha: Math.sin(w) / (2 * q)};
}

export interface Response {
  readonly magnitude: number;
  /** Radians, −π…π. */
  readonly phase: number;
}

/** H(e^jω) at `hz`. */
export function response({b0, b1, b2, a1, a2}: Biquad, hz: number, sampleRateHz: number): Response {
  const w = (2 * Math.PI * hz) / sampleRateHz;
  const [c1, s1, c2, s2] = [Math.cos(w), Math.sin(w), Math.cos(2 * w), Math.sin(2 * w)];
  const [nr, ni] = [b0 + b1 * c1 + b2 * c2, -(b1 * s1 + b2 * s2)];
  const [dr, di] = [1 + a1 * c1 + a2 * c2, -(a1 * s1 + a2 * s2)];
  const d2 = dr * dr + di * di;
  const [re, im] = [(nr * dr + ni * di) / d2, (ni * dr - nr * di) / d2];
  return {magnitude: Math.hypot(re, im), phase: Math.atan2(im, re)};
}

/** Phase delay at `hz` in seconds: −phase / 2πf. A second-order section below its corner stays within ±π. */
export const phaseDelayS = (filter: Biquad, hz: number, sampleRateHz: number): number =>
  -response(filter, hz, sampleRateHz).phase / (2 * Math.PI * hz);
