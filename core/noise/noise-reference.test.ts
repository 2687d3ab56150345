/** core/noise against scipy (fixtures/make-noise.py made the values); Web Audio is checked in e2e/web-audio.test.ts. */
import {describe, expect, it} from 'vitest';
import reference from '../fixtures/noise.json';
import {lowPass, notch, phaseDelayS, response} from './biquad';
import {applyNotches} from './notch-bank';
import {hann, welch} from './welch';

/** The signal of make-noise.py. */
function samples(n: number): Float64Array {
  let state = 12345n;
  return Float64Array.from({length: n}, (_, i) => {
    state = (1103515245n * state + 12345n) % 2147483648n;
    const t = i / reference.rate;
    return (
      Math.sin(2 * Math.PI * 60 * t) +
      0.5 * Math.sin(2 * Math.PI * 212.3 * t) +
      0.1 * Math.sin(2 * Math.PI * 871 * t) +
      0.001 * i +
      Number(state) / 2 ** 31 -
      0.5
    );
  });
}

describe('against scipy', () => {
  it('Welch density agrees in every bin', () => {
    const {stepHz, density, segments} = welch(samples(4096), reference.rate, 512);
    expect(stepHz).toBe(reference.welch.step);
    expect(segments).toBe(15);
    reference.welch.density.forEach((wanted, k) =>
      expect(Math.abs(density[k]! / wanted - 1), `bin ${k}`).toBeLessThan(1e-9),
    );
  });

  it.each(reference.notches)('notch at $hz Hz, Q $q', ({hz, q, at, magnitude, phase}) => {
    at.forEach((f, i) => {
      const r = response(notch(hz, q, reference.rate), f, reference.rate);
      expect(r.magnitude).toBeCloseTo(magnitude[i]!, 9);
      expect(Math.abs(Math.sin((r.phase - phase[i]!) / 2))).toBeLessThan(1e-9);
    });
  });

  it.each(reference.lowPasses)('low-pass at $hz Hz', ({hz, at, magnitude, phase}) => {
    at.forEach((f, i) => {
      const r = response(lowPass(hz, Math.SQRT1_2, reference.rate), f, reference.rate);
      expect(r.magnitude).toBeCloseTo(magnitude[i]!, 9);
      expect(Math.abs(Math.sin((r.phase - phase[i]!) / 2))).toBeLessThan(1e-9);
    });
  });

  it('a notch run over a signal gives the same samples', () => {
    const still = new Float64Array(256).fill(212);
    const out = applyNotches(samples(256), [still], {harmonics: [1], q: 5, minHz: 100}, reference.rate);
    reference.filtered.forEach((wanted, i) => expect(out[i]).toBeCloseTo(wanted, 9));
  });
});

describe('published and known values', () => {
  it('the Hann window has 1.5 bins of noise bandwidth and a coherent gain of 0.5 (Harris 1978)', () => {
    const w = hann(512);
    const sum = w.reduce((a, b) => a + b);
    const squares = w.reduce((a, b) => a + b * b, 0);
    expect((512 * squares) / (sum * sum)).toBeCloseTo(1.5, 10);
    expect(sum / 512).toBeCloseTo(0.5, 10);
  });

  it('one third-harmonic notch costs less than 0.1 ms (common practice, no source)', () => {
    // Third harmonic of a 5-inch craft at hover, about 3 × 220 Hz; gyro at 8 kHz.
    expect(phaseDelayS(notch(660, 5, 8000), 60, 8000) * 1000).toBeLessThan(0.1);
  });

  it('a filter refuses frequencies it cannot have', () => {
    expect(() => notch(1000, 5, 2000)).toThrow('1000 Hz is not between 0 and half of 2000 Hz');
  });
});
