/**
 * Sections of digital filters: notch and low-pass of the W3C "Audio EQ Cookbook", and the first-order low-pass that flight
 * controllers run, y += α(x − y) with α = dt/(RC + dt).
 */

/** Normalised to a0 = 1: y = b0·x + b1·x₁ + b2·x₂ − a1·y₁ − a2·y₂. One of first order has b2 = a2 = 0. */
export interface Section {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/** Notch at `hz`. Throws at or above half the sample rate, where it does not exist. */
export function notch(hz: number, q: number, sampleRateHz: number): Section {
  const w = angle(hz, sampleRateHz);
  const alpha = Math.sin(w) / (2 * q);
  const a0 = 1 + alpha;
  const middle = (-2 * Math.cos(w)) / a0;
  return {b0: 1 / a0, b1: middle, b2: 1 / a0, a1: middle, a2: (1 - alpha) / a0};
}

/** A notch of which only a share is mixed in: 0 passes everything, 1 is the notch. */
export function partNotch(whole: Section, share: number): Section {
  const {a1, a2} = whole;
  const part = (b: number, a: number) => share * b + (1 - share) * a;
  return {b0: part(whole.b0, 1), b1: part(whole.b1, a1), b2: part(whole.b2, a2), a1, a2};
}

/** Low-pass with cut-off `hz`; Q = 1/√2 is the Butterworth one. */
export function lowPass(hz: number, q: number, sampleRateHz: number): Section {
  const w = angle(hz, sampleRateHz);
  const cos = Math.cos(w);
  const alpha = Math.sin(w) / (2 * q);
  const a0 = 1 + alpha;
  const side = (1 - cos) / 2 / a0;
  return {b0: side, b1: (1 - cos) / a0, b2: side, a1: (-2 * cos) / a0, a2: (1 - alpha) / a0};
}

/** Of one sample, radians. Sections are made every few samples of a flight: nothing beside them is. */
function angle(hz: number, sampleRateHz: number): number {
  if (!(hz > 0 && hz < sampleRateHz / 2))
    throw new RangeError(`${hz} Hz is not between 0 and half of ${sampleRateHz} Hz`);
  return (2 * Math.PI * hz) / sampleRateHz;
}

/** y += α(x − y) with α = dt/(RC + dt), RC = 1/(2π·hz). */
export function firstOrder(hz: number, sampleRateHz: number): Section {
  if (!(hz > 0)) throw new RangeError(`A cut-off of ${hz} Hz is not above 0`);
  const dt = 1 / sampleRateHz;
  const alpha = dt / (1 / (2 * Math.PI * hz) + dt);
  return {b0: alpha, b1: 0, b2: 0, a1: alpha - 1, a2: 0};
}

export const lowPassKinds = ['lowpass1', 'lowpass2', 'lowpass3', 'biquad-lowpass'] as const;
export type LowPassKind = (typeof lowPassKinds)[number];

export const lowPassName: Readonly<Record<LowPassKind, string>> = {
  lowpass1: 'first order',
  lowpass2: 'second order, cascaded',
  lowpass3: 'third order, cascaded',
  'biquad-lowpass': 'second order, Butterworth',
};

/** Sections that each kind is made of. */
export const sectionCount: Readonly<Record<LowPassKind, number>> = {
  lowpass1: 1,
  lowpass2: 2,
  lowpass3: 3,
  'biquad-lowpass': 1,
};

/**
 * The sections of a low-pass. Second and third order are cascades of the first; each section's cut-off lies higher by
 * 1/√(2^(1/n) − 1), so that the cascade falls by 3 dB where it is asked to (n equal poles, any text on filters).
 */
export function lowPassSections(kind: LowPassKind, hz: number, sampleRateHz: number, q = Math.SQRT1_2): Section[] {
  if (kind === 'biquad-lowpass') return [lowPass(hz, q, sampleRateHz)];
  const order = sectionCount[kind];
  const each = firstOrder(hz / Math.sqrt(2 ** (1 / order) - 1), sampleRateHz);
  return Array.from({length: order}, () => each);
}
