import * as fc from 'fast-check';
import {describe, expect, it} from 'vitest';
import {notch, phaseDelayS} from './biquad';
import {delayLedger, totalDelayMs} from './delay-ledger';
import type {FlightLog} from './flight-log';
import {applyMovingNotches, movingNotchCentres} from './moving-notch';
import {applyLowPass, applyNotches, notchHz} from './notch-bank';
import {strongestPeaks} from './peaks';
import {speedOverThrottle, throttleSpectrogram} from './spectrogram';
import {decibels, welch} from './welch';

const rate = 2000;
const sine = (hz: number, amplitude: number, n = 8192) =>
  Float64Array.from({length: n}, (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / rate));
const power = (signal: Float64Array, from = 500) =>
  signal.subarray(from).reduce((sum, x) => sum + x * x, 0) / (signal.length - from);

/** Throttle steps from 20 % to 80 % in the middle; the gyro hums at 100 Hz, then at 300 Hz. */
function twoPhaseLog(): FlightLog {
  const half = 4096;
  const gyro = new Float64Array([...sine(100, 2, half), ...sine(300, 2, half)]);
  const throttle = Float64Array.from({length: 2 * half}, (_, i) => (i < half ? 20 : 80));
  const erpm = [throttle.map((t) => t * 1000)];
  return {sampleRateHz: rate, durationS: 4, throttle, gyro: {roll: gyro, pitch: gyro, yaw: gyro}, erpm, notes: []};
}

describe('Welch', () => {
  it('keeps the power of a sine: its density sums to a²/2 (Parseval)', () => {
    fc.assert(
      fc.property(
        fc.double({min: 40, max: 900, noNaN: true}),
        fc.double({min: 0.5, max: 20, noNaN: true}),
        (hz, amplitude) => {
          const {density, stepHz} = welch(sine(hz, amplitude), rate, 512);
          const sum = density.reduce((a, b) => a + b, 0) * stepHz;
          expect(sum / (amplitude ** 2 / 2)).toBeCloseTo(1, 1.5);
        },
      ),
      {seed: 41, numRuns: 40},
    );
  });

  it('white noise of variance 1 has density 2/rate everywhere, ends apart', () => {
    let state = 1;
    const noise = Float64Array.from({length: 1 << 17}, () => {
      let sum = -6;
      for (let i = 0; i < 12; i++) sum += (state = (state * 48271) % 2147483647) / 2147483647;
      return sum;
    });
    const {density} = welch(noise, rate, 256);
    for (let k = 3; k < 126; k++) expect(density[k]! * (rate / 2), `bin ${k}`).toBeCloseTo(1, 0.5);
  });

  it('refuses a signal shorter than a segment', () => {
    expect(() => welch(new Float64Array(100), rate, 256)).toThrow('100 samples are less than one segment of 256');
  });

  it('decibels of nothing are low, not infinite', () => expect(decibels(0)).toBe(-300));
});

describe('spectrogram over throttle', () => {
  const s = throttleSpectrogram(twoPhaseLog(), 'roll', {bands: 10, segment: 256});
  const loudest = (band: number) => {
    const row = s.density.subarray(band * s.bins, (band + 1) * s.bins);
    return row.indexOf(Math.max(...row)) * s.stepHz;
  };
  it('puts each hum into the band of its throttle', () => {
    expect(Math.abs(loudest(2) - 100)).toBeLessThan(s.stepHz);
    expect(Math.abs(loudest(8) - 300)).toBeLessThan(s.stepHz);
  });
  it('a band without flight is empty, not zero', () => {
    expect(Number.isNaN(s.density[0]!)).toBe(true);
    expect(Number.isNaN(s.density[9 * s.bins]!)).toBe(true);
  });
  it('speed over throttle is the mean of what was logged', () => {
    const log = twoPhaseLog();
    const speed = speedOverThrottle(log, log.erpm[0]!, 10);
    expect([speed[2], speed[8]]).toEqual([20_000, 80_000]);
    expect(Number.isNaN(speed[5]!)).toBe(true);
  });
});

describe('peaks', () => {
  it('are found strongest first, apart from each other', () => {
    const signal = sine(150, 3).map(
      (x, i) => x + 1.5 * Math.sin((2 * Math.PI * 420 * i) / rate) + 0.4 * Math.sin((2 * Math.PI * 700 * i) / rate),
    );
    const found = strongestPeaks(welch(signal, rate, 1024), {count: 3});
    expect(found.map((p) => Math.round(p.hz / 10) * 10)).toEqual([150, 420, 700]);
    expect(found[0]!.db).toBeGreaterThan(found[1]!.db);
  });
  it('below the lowest asked frequency are left out', () => {
    expect(
      strongestPeaks(welch(sine(50, 3), rate, 1024), {fromHz: 200, count: 1})[0]?.hz ?? 999,
    ).toBeGreaterThanOrEqual(200);
  });
});

describe('notch bank', () => {
  const bank = {harmonics: [1, 2], q: 5, minHz: 100};
  const still = (hz: number) => new Float64Array(8192).fill(hz);

  it('takes out the motor and its harmonic, leaves the rest', () => {
    expect(power(applyNotches(sine(200, 1), [still(200)], bank, rate))).toBeLessThan(1e-4);
    expect(power(applyNotches(sine(400, 1), [still(200)], bank, rate))).toBeLessThan(1e-4);
    expect(power(applyNotches(sine(30, 1), [still(200)], bank, rate)) / power(sine(30, 1))).toBeCloseTo(1, 1);
  });

  it('follows a motor that speeds up', () => {
    const hz = Float64Array.from({length: 8192}, (_, i) => 150 + (100 * i) / 8192);
    let phase = 0;
    const sweep = hz.map((f) => Math.sin((phase += (2 * Math.PI * f) / rate)));
    expect(power(applyNotches(sweep, [hz], bank, rate)) / power(sweep)).toBeLessThan(0.02);
    expect(power(applyNotches(sweep, [still(320)], bank, rate)) / power(sweep)).toBeGreaterThan(0.5);
  });

  it('does not go below its lowest frequency, and lets go above its highest', () => {
    expect(notchHz(bank, 40, 1, rate)).toBe(100);
    expect(notchHz(bank, 240, 2, rate)).toBe(480);
    expect(notchHz(bank, 600, 2, rate)).toBeUndefined();
  });

  it('without harmonics the signal passes as a copy', () => {
    const signal = sine(100, 1, 64);
    const out = applyNotches(signal, [still(200)], {...bank, harmonics: []}, rate);
    expect(out).toEqual(signal);
    expect(out).not.toBe(signal);
  });

  it('a low-pass at or beyond half the rate is open', () => {
    expect(applyLowPass(sine(900, 1, 64), 1000, rate)).toEqual(sine(900, 1, 64));
    expect(power(applyLowPass(sine(900, 1), 100, rate))).toBeLessThan(1e-3);
  });
});

describe('moving notches', () => {
  it('sit on the peak of the window before, and take it away', () => {
    const signal = sine(210, 10, 8192);
    const centres = movingNotchCentres(signal, {count: 1, minHz: 100}, rate);
    expect(centres[0]!.slice(1).every((hz) => Math.abs(hz - 210) < 4)).toBe(true);
    expect(centres[0]![0]).toBeNaN();
    const left = applyMovingNotches(signal, centres, rate);
    expect(power(left.slice(4096))).toBeLessThan(0.02 * power(signal.slice(4096)));
    expect(applyMovingNotches(signal, [], rate)).toEqual(signal);
    // Below its lowest frequency it leaves the pilot's hand alone.
    const slow = movingNotchCentres(sine(70, 10, 8192), {count: 1, minHz: 100}, rate)[0]!;
    expect(slow.every((hz) => Number.isNaN(hz) || hz >= 100)).toBe(true);
  });
});

describe('delay ledger', () => {
  const chain = {harmonics: [1, 2, 3], q: 5, minHz: 100, movingNotches: 1, gyroLowPassHz: 500};
  const movingHz = [Float64Array.of(NaN, 212), Float64Array.of(NaN, 400)];
  const question = {motorsHz: [Float64Array.of(200, 220)], movingHz, filterRateHz: 8000, atHz: 60};
  const total = (over: Partial<typeof chain>, q = question) => totalDelayMs(delayLedger({...chain, ...over}, q))!;

  it('adds up over filters, and each harmonic costs less than the one before', () => {
    const one = delayLedger({...chain, harmonics: [1]}, question)[0]!.delayMs!;
    const two = delayLedger({...chain, harmonics: [1, 2]}, question)[0]!.delayMs!;
    const three = delayLedger(chain, question)[0]!.delayMs!;
    expect(two - one).toBeLessThan(one);
    expect(three - two).toBeLessThan(two - one);
  });

  it('a low-pass costs √2 / (2π·fc) seconds far below its corner (first term of its series)', () => {
    const entry = delayLedger(chain, {...question, filterRateHz: 64_000, atHz: 5})[1]!;
    expect(entry.delayMs! / ((1000 * Math.SQRT2) / (2 * Math.PI * 500))).toBeCloseTo(1, 2);
  });

  it('falls with a higher Q and a higher corner, rises with moving notches', () => {
    expect(total({q: 10})).toBeLessThan(total({}));
    expect(total({gyroLowPassHz: 1000})).toBeLessThan(total({}));
    expect(total({movingNotches: 2})).toBeGreaterThan(total({}));
    expect(total({movingNotches: 5})).toBe(total({movingNotches: 2}));
  });

  it('a notch that sits on 60 Hz or below states no delay: its phase runs ahead, time does not', () => {
    const low = {...question, motorsHz: [Float64Array.of(40, 55, 200)]};
    const [notches] = delayLedger({...chain, harmonics: [1], minHz: 30}, low);
    expect(notches).toMatchObject({delayMs: undefined, why: 'a notch sits on 60 Hz or below'});
    expect(total({harmonics: [1], minHz: 30}, low)).toBeUndefined();
    // The lowest frequency of the bank keeps it away: then it is stated, and positive.
    expect(delayLedger({...chain, harmonics: [1], minHz: 100}, low)[0]!.delayMs).toBeGreaterThan(0);
  });

  it('counts at the rate of the controller: a notch in a slow loop costs what the bilinear transform says', () => {
    const at = (filterRateHz: number) =>
      delayLedger({...chain, harmonics: [1]}, {...question, filterRateHz})[0]!.delayMs!;
    const wanted = (rate: number) =>
      (1000 * (phaseDelayS(notch(200, 5, rate), 60, rate) + phaseDelayS(notch(220, 5, rate), 60, rate))) / 2;
    for (const rate of [2000, 8000]) expect(at(rate)).toBeCloseTo(wanted(rate), 9);
    expect(Math.abs(at(2000) - at(8000))).toBeGreaterThan(0.001);
  });

  it('four motors cost four times one', () => {
    const four = {...question, motorsHz: Array<Float64Array>(4).fill(question.motorsHz[0]!)};
    expect(delayLedger(chain, four)[0]!.delayMs! / delayLedger(chain, question)[0]!.delayMs!).toBeCloseTo(4, 9);
  });
});
