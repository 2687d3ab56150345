/** core/filters against scipy (fixtures/make-noise.py made the values); Web Audio is checked in e2e/web-audio.test.ts. */
import {describe, expect, it} from 'vitest';
import reference from '../fixtures/noise.json';
import {cutOffAt, lowPassesAt, motorSections, notchPlace, sectionsPerAxis, type FilterChain} from './chain';
import {delayCurve, delayLedger, phaseLagDeg, totalDelayMs} from './delay-ledger';
import {trackPeaks} from './moving-tracker';
import {cascade, phaseDelayS, power, response} from './response';
import {runChain} from './run-chain';
import {seenSpeeds} from './seen-speeds';
import {firstOrder, lowPass, lowPassSections, notch, partNotch, type Section} from './section';

const {rate} = reference;
interface Told {
  readonly at: readonly number[];
  readonly magnitude: readonly number[];
  readonly phase: readonly number[];
  readonly groupDelaySamples: readonly number[];
}
function agrees(sections: readonly Section[], {at, magnitude, phase, groupDelaySamples}: Told) {
  at.forEach((hz, i) => {
    const r = cascade(sections, hz, rate);
    expect(r.magnitude, `${hz} Hz`).toBeCloseTo(magnitude[i]!, 6);
    expect(Math.abs(Math.sin((r.phase - phase[i]!) / 2)), `${hz} Hz`).toBeLessThan(1e-6);
    expect(r.groupDelayS * rate, `${hz} Hz`).toBeCloseTo(groupDelaySamples[i]!, 5);
  });
}

describe('against scipy', () => {
  it.each(reference.notches)('notch at $hz Hz, Q $q: magnitude, phase, group delay', (told) =>
    agrees([notch(told.hz, told.q, rate)], told),
  );
  it.each(reference.lowPasses)('Butterworth at $hz Hz', (told) => agrees([lowPass(told.hz, Math.SQRT1_2, rate)], told));
  it.each(reference.cascades)('first-order sections, $order of them', (told) => {
    const kind = (['lowpass1', 'lowpass2', 'lowpass3'] as const)[told.order - 1]!;
    // scipy found by how much a section lies higher on a grid of 6e-6.
    told.at.forEach((hz, i) => {
      const r = cascade(lowPassSections(kind, told.hz, rate), hz, rate);
      expect(r.magnitude).toBeCloseTo(told.magnitude[i]!, 4);
    });
    expect(1 / Math.sqrt(2 ** (1 / told.order) - 1)).toBeCloseTo(told.higher, 4);
  });
  it('sections of a Bessel filter, which is none of ours: magnitude, phase, group delay', () => {
    const sections = reference.bessel.sos.map(([b0, b1, b2, , a1, a2]) => ({b0, b1, b2, a1, a2}) as Section);
    agrees(sections, reference.bessel);
  });
  // Higher up the two differ: scipy keeps the bandwidth in Hz, the cookbook that of the analog filter.
  it('scipy.iirnotch at 100 Hz has the same width within a hundredth', () => {
    const [{hz, q, at, magnitude}] = reference.iirNotches as [(typeof reference.iirNotches)[0]];
    at.forEach((f, i) =>
      expect(Math.abs(response(notch(hz, q, rate), f, rate).magnitude - magnitude[i]!)).toBeLessThan(0.01),
    );
  });
});

/** y += α(x − y), written out: what a section of first order must do. */
it('the first-order section is y += α(x − y)', () => {
  const [hz, fs] = [90, 1000];
  const alpha = 1 / fs / (1 / (2 * Math.PI * hz) + 1 / fs);
  const section = firstOrder(hz, fs);
  let [y, ours] = [0, 0];
  for (let i = 0; i < 50; i++) {
    const x = Math.sin(i * i);
    y += alpha * (x - y);
    ours = section.b0 * x - section.a1 * ours;
    expect(ours).toBeCloseTo(y, 12);
  }
});

it('|H|² from cosines is |H|²', () => {
  for (const section of [
    notch(210, 4, rate),
    partNotch(notch(210, 4, rate), 0.4),
    ...lowPassSections('lowpass2', 90, rate),
  ])
    for (const hz of [3, 80, 209, 400, 999]) {
      const w = (2 * Math.PI * hz) / rate;
      expect(power(section, Math.cos(w), Math.cos(2 * w))).toBeCloseTo(response(section, hz, rate).magnitude ** 2, 10);
    }
});

it('a share of a notch takes its share: at its centre 1 − share is left', () => {
  expect(response(partNotch(notch(200, 5, rate), 0.7), 200, rate).magnitude).toBeCloseTo(0.3, 9);
  expect(response(partNotch(notch(200, 5, rate), 0.7), 20, rate).magnitude).toBeCloseTo(1, 2);
});

it('a filter refuses frequencies it cannot have', () => {
  expect(() => notch(1000, 5, 2000)).toThrow('1000 Hz is not between 0 and half of 2000 Hz');
  expect(() => firstOrder(0, 2000)).toThrow('A cut-off of 0 Hz is not above 0');
});

const chain: FilterChain = {
  motor: {
    orders: [
      {order: 1, weight: 1},
      {order: 2, weight: 0.5},
    ],
    q: 5,
    minHz: 100,
    fadeHz: 50,
    speedLowPassHz: 0,
    speedDelayMs: 0,
  },
  moving: {count: 1, q: 3, minHz: 80, maxHz: 500},
  gyroLowPasses: [{kind: 'lowpass1', hz: 100, fullHz: 300}],
  dLowPasses: [{kind: 'biquad-lowpass', hz: 110}],
};
const none: FilterChain = {
  ...chain,
  motor: {...chain.motor, orders: []},
  moving: {...chain.moving, count: 0},
  gyroLowPasses: [],
};

describe('a chain at one moment', () => {
  it('fades a notch in above its lowest frequency, and never goes below', () => {
    const at = (hz: number) => notchPlace(chain.motor, {order: 1, weight: 1}, hz, 8000);
    expect(at(80)).toBeUndefined();
    expect(at(125)).toEqual({hz: 125, share: 0.5});
    expect(at(200)).toEqual({hz: 200, share: 1});
    expect(notchPlace({...chain.motor, fadeHz: 0}, {order: 1, weight: 1}, 80, 8000)).toEqual({hz: 100, share: 1});
    expect(at(0)).toBeUndefined();
    expect(at(3900)).toBeUndefined();
  });

  it('follows throttle with its low-pass along a straight line', () => {
    const [stage] = chain.gyroLowPasses;
    expect([0, 50, 100, 120].map((t) => cutOffAt(stage!, t))).toEqual([100, 200, 300, 300]);
    expect(lowPassesAt([{kind: 'biquad-lowpass', hz: 5000}], 0, 8000)).toEqual([]);
    // y += α(x − y) delays a slow signal by (1 − α)/α samples, at any cut-off: RC/dt, by its impulse response α(1 − α)ⁿ.
    for (const hz of [4000, 5000]) {
      const delayS = phaseDelayS(lowPassesAt([{kind: 'lowpass1', hz}], 0, 8000), 5, 8000);
      expect(delayS * 2 * Math.PI * hz).toBeCloseTo(1, 3);
    }
  });

  it('counts its sections as the load does', () => {
    expect(sectionsPerAxis(chain, 4)).toBe(2 * 4 + 1 + 1 + 1);
    expect(motorSections(chain, {motorsHz: [200, 210, NaN, 0], throttle: 30}, 8000)).toHaveLength(4);
  });
});

describe('the delay ledger', () => {
  const moments = [150, 220, 300].map((hz) => ({motorsHz: [hz, hz + 5], throttle: 40, movingHz: [212]}));
  const ask = {rateHz: 8000, atHz: 60};
  it('adds up what scipy-checked sections delay', () => {
    const ledger = delayLedger(chain, moments, ask);
    expect(ledger.map((e) => [e.filter, e.count])).toEqual([
      ['motor-speed notches', 4],
      ['moving notches', 1],
      ['gyro low-pass', 1],
      ['D low-pass', 1],
    ]);
    expect(ledger[1]!.delayMs).toBeCloseTo(phaseDelayS([notch(212, 3, 8000)], 60, 8000) * 1000, 9);
    const path = ledger.slice(0, 3).reduce((sum, e) => sum + e.delayMs!, 0);
    expect(totalDelayMs(ledger)).toBeCloseTo(path, 12);
    // A millisecond is 21.6° at 60 Hz.
    expect(phaseLagDeg(1, 60)).toBeCloseTo(21.6, 9);
  });

  it('never states a delay next to a notch or above it, whatever it comes out as', () => {
    for (const hz of [30, 55, 60, 62]) {
      const low = [{motorsHz: [hz], throttle: 40, movingHz: []}];
      const [entry] = delayLedger({...chain, motor: {...chain.motor, minHz: 20, fadeHz: 0}}, low, ask);
      expect(entry, `${hz} Hz`).toMatchObject({delayMs: undefined, why: 'a notch sits on 60 Hz or below'});
    }
    const hz = Array.from({length: 60}, (_, i) => 5 + 5 * i);
    const curve = delayCurve(chain, moments[1]!, {rateHz: 8000, hz});
    expect(curve.filter((ms) => !Number.isNaN(ms)).every((ms) => ms >= 0)).toBe(true);
    expect(curve.slice(-10).every((ms) => Number.isNaN(ms))).toBe(true);
  });

  it('one third-harmonic notch costs less than 0.1 ms (common practice, no source)', () => {
    // Third harmonic of a 5-inch craft at hover, about 3 × 220 Hz; gyro at 8 kHz.
    expect(phaseDelayS([notch(660, 5, 8000)], 60, 8000) * 1000).toBeLessThan(0.1);
  });

  it('is nothing without filters', () =>
    expect(
      totalDelayMs(
        delayLedger(
          none,
          moments.map((m) => ({...m, movingHz: []})),
          ask,
        ),
      ),
    ).toBe(0));
});

describe('the chain run over samples', () => {
  /** The signal of make-noise.py. */
  const signal = (() => {
    let state = 12345n;
    return Float64Array.from({length: 256}, (_, i) => {
      state = (1103515245n * state + 12345n) % 2147483648n;
      const t = i / rate;
      const tones =
        Math.sin(2 * Math.PI * 60 * t) +
        0.5 * Math.sin(2 * Math.PI * 212.3 * t) +
        0.1 * Math.sin(2 * Math.PI * 871 * t);
      return tones + 0.001 * i + Number(state) / 2 ** 31 - 0.5;
    });
  })();
  const still = {...none, motor: {...none.motor, orders: [{order: 1, weight: 1}], fadeHz: 0}};

  it('gives the samples of scipy.lfilter, on every axis', () => {
    const motorsHz = [new Float64Array(256).fill(212)];
    const out = runChain(still, {axes: [signal, signal], motorsHz, throttle: undefined, sampleRateHz: rate})!;
    for (const axis of out) reference.filtered.forEach((wanted, i) => expect(axis[i]).toBeCloseTo(wanted, 5));
  });

  it('a notch that follows a sweeping line takes it away; one on another speed does not', () => {
    const n = 8000;
    const hz = Float64Array.from({length: n}, (_, i) => 150 + (150 * i) / n);
    let phase = 0;
    const line = hz.map((f) => Math.sin((phase += (2 * Math.PI * f) / rate)));
    const rms = (follow: Float64Array) => {
      const [out] = runChain(still, {axes: [line], motorsHz: [follow], throttle: undefined, sampleRateHz: rate})!;
      return Math.sqrt(out!.slice(500).reduce((sum, v) => sum + v * v, 0) / (n - 500));
    };
    expect(rms(hz)).toBeLessThan(0.05);
    expect(rms(hz.map((f) => (f * 12) / 14))).toBeGreaterThan(0.3);
  });

  it('a moving notch finds a tone by itself, and is late', () => {
    const n = 4000;
    const tone = Float64Array.from({length: n}, (_, i) => Math.sin((2 * Math.PI * (i < n / 2 ? 150 : 260) * i) / rate));
    const {hop, centres} = trackPeaks(tone, {...chain.moving, count: 1}, rate);
    const at = (sample: number) => centres[0]![Math.floor(sample / hop)]!;
    expect(at(1800)).toBeCloseTo(150, -0.5);
    expect(at(2040)).toBeLessThan(200);
    expect(at(3900)).toBeCloseTo(260, -0.5);
    expect(trackPeaks(tone.subarray(0, 40), {...chain.moving, count: 2}, rate).centres[1]!.every(Number.isNaN)).toBe(
      true,
    );
  });

  it('can be ended, and leaves what came in as it was', () => {
    const before = signal.slice();
    const input = {axes: [signal], motorsHz: [], throttle: undefined, sampleRateHz: rate};
    expect(runChain(chain, {...input, onProgress: () => false})).toBeUndefined();
    runChain(chain, input);
    expect([...signal]).toEqual([...before]);
  });
});

describe('speeds as the notches see them', () => {
  it('come late, smoothed, and go on where a reply is missing', () => {
    const hz = Float32Array.from({length: 200}, (_, i) => (i >= 50 && i < 60 ? 0 : i < 100 ? 100 : 200));
    const [late] = seenSpeeds([hz], {speedLowPassHz: 0, speedDelayMs: 5}, 1000);
    expect([late![55], late![104], late![105]]).toEqual([100, 100, 200]);
    const [smooth] = seenSpeeds([hz], {speedLowPassHz: 20, speedDelayMs: 0}, 1000);
    // One time constant, 8 ms, after the step: about 63 % of the way.
    expect(smooth![107]).toBeGreaterThan(155);
    expect(smooth![107]).toBeLessThan(175);
  });
});
