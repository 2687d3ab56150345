/** The lower rate for fits of lines: flat up to the highest line, and nothing folds down onto one. */
import {describe, expect, it} from 'vitest';
import {decimated, type LineLog} from './decimated';

const rate = 8000;
const samples = 16_000;
const sine = (hz: number, amplitude = 1) =>
  Float32Array.from({length: samples}, (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / rate));
const logOf = (signal: Float32Array, more: Partial<LineLog> = {}): LineLog => ({
  ...{sampleRateHz: rate, samples, damage: undefined},
  stretches: [{start: 0, end: samples, atS: 0}],
  gyro: {roll: signal, pitch: signal, yaw: signal},
  ...more,
});
const speed = [new Float32Array(samples).fill(200)];
/** Peak of a sine, away from the ends. */
const peak = (x: Float32Array) =>
  Math.sqrt(2 * x.slice(50, -50).reduce((sum, v, _, all) => sum + (v * v) / all.length, 0));

describe('a log for fits of lines', () => {
  it('comes at a fifth of 8 kHz for lines up to 600 Hz, which it holds within 0.2 %', () => {
    for (const hz of [60, 200, 400, 600]) {
      const {log, hz: speeds} = decimated(logOf(sine(hz)), speed, 3);
      expect(log.sampleRateHz).toBe(rate / 5);
      expect(speeds[0]!.slice(2, -2).every((v) => Math.abs(v - 200) < 1e-3)).toBe(true);
      expect(Math.abs(peak(log.gyro.roll) - 1)).toBeLessThan(0.002);
    }
  });

  it('what would fold down onto a line is at least 50 dB lower', () => {
    for (const hz of [1600 - 600, 1600 - 200, 1600 + 200, 3000])
      expect(peak(decimated(logOf(sine(hz)), speed, 3).log.gyro.roll)).toBeLessThan(0.0032);
  });

  it('is the log itself where lines are too high for a lower rate, or where it is damaged', () => {
    const high = logOf(sine(100));
    expect(decimated(high, [new Float32Array(samples).fill(600)], 3).log).toBe(high);
    const unmeasured = new Uint8Array(samples);
    const none = new Int32Array(samples + 1);
    const damage = {filled: 0.1, clipping: [], unmeasured, filledBefore: none, clippedBefore: none};
    const damaged = logOf(sine(100), {damage});
    expect(decimated(damaged, speed, 3).log).toBe(damaged);
  });

  it('keeps stretches apart: nothing of one comes into another', () => {
    const signal = new Float32Array(samples);
    signal.fill(50, samples / 2);
    const parts = [
      {start: 0, end: samples / 2, atS: 0},
      {start: samples / 2, end: samples, atS: 9},
    ];
    const {log} = decimated(logOf(signal, {stretches: parts}), speed, 3);
    expect(log.stretches).toEqual([
      {start: 0, end: samples / 10, atS: 0},
      {start: samples / 10, end: samples / 5, atS: 9},
    ]);
    expect(log.gyro.roll[samples / 10 - 1]).toBeCloseTo(0, 4);
    expect(log.gyro.roll[samples / 10]).toBeCloseTo(50, 3);
  });
});
