/** core/spectra against scipy (fixtures/make-noise.py made the values), Parseval's theorem and Harris 1978. */
import fc from 'fast-check';
import FFT from 'fft.js';
import {describe, expect, it} from 'vitest';
import reference from '../fixtures/noise.json';
import {noiseMaps} from './noise-map';
import {orderMap} from './order-map';
import {hann, Periodogram} from './periodogram';
import {crossSpectrum} from './cross';
import {strongestPeaks} from './peaks';
import {segmentStarts} from './segments';
import {independentSegments, welch, welchBounds} from './welch';

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
const sampleRateHz = reference.rate;
const closeTo = (ours: Float64Array, theirs: readonly number[]) =>
  theirs.forEach((wanted, k) => expect(Math.abs(ours[k]! / wanted - 1), `bin ${k}`).toBeLessThan(1e-8));

describe('against scipy', () => {
  it('Welch density agrees in every bin', () => {
    const {stepHz, density, segments} = welch(samples(4096), {sampleRateHz, segment: 512});
    expect([stepHz, segments]).toEqual([reference.welch.step, 15]);
    closeTo(density, reference.welch.density);
  });

  it('cross-spectral density agrees in every bin', () => {
    const starts = Array.from({length: 15}, (_, i) => i * 256);
    const other = Float64Array.from(reference.csd.other);
    const {re, im, xx, yy, stepHz} = crossSpectrum(samples(4096), other, {sampleRateHz, segment: 512, starts});
    closeTo(xx, reference.welch.density);
    reference.csd.re.forEach((wanted, k) => {
      const size = Math.sqrt(xx[k]! * yy[k]!);
      expect(Math.abs(re[k]! - wanted) / size, `bin ${k}`).toBeLessThan(1e-9);
      expect(Math.abs(im[k]! - reference.csd.im[k]!) / size, `bin ${k}`).toBeLessThan(1e-9);
    });
    expect(stepHz).toBe(reference.welch.step);
    expect(() => crossSpectrum(other, other, {sampleRateHz, segment: 512, starts: []})).toThrow(RangeError);
  });

  it('rows of a map are the means of their segments, each segment in one row', () => {
    const signal = samples(4096);
    const parts = [{start: 0, end: 4096}];
    // The first four segments count for 0, the last four for 1, the rest for nothing.
    const valueAt = (at: number) => (at < 4 * 256 ? 0 : at >= 11 * 256 ? 1 : NaN);
    const base = {sampleRateHz, segment: 512, hop: 256, parts, rows: 2, from: 0, to: 1, valueAt};
    const [map, twice] = noiseMaps([signal, signal.map((v) => 2 * v)], base);
    expect([...map!.counts]).toEqual([4, 4]);
    reference.rows.forEach((row, r) => closeTo(map!.density.subarray(r * 257, (r + 1) * 257), row));
    reference.rows.forEach((row, r) =>
      closeTo(
        twice!.density.subarray(r * 257, (r + 1) * 257),
        row.map((v) => 4 * v),
      ),
    );
  });

  it.each(reference.bounds)(
    'bounds of $segments segments are those of chi square within 2 %',
    ({segments, least, most}) => {
      const ours = welchBounds(segments);
      expect(ours.least / least).toBeCloseTo(1, 1.5);
      expect(ours.most / most).toBeCloseTo(1, 1.5);
    },
  );
});

describe('published and known values', () => {
  it('bounds hold for noise: the scatter of densities with three quarters of overlap', () => {
    let state = 7;
    const next = () => (state = (state * 48271) % 2147483647) / 2147483647 - 0.5;
    const each = Array.from({length: 300}, () => {
      const signal = Float64Array.from({length: 1024}, next);
      const starts = segmentStarts([{start: 0, end: 1024}], {segment: 128, hop: 32});
      const periodogram = new Periodogram(128, 1);
      const sum = new Float64Array(65);
      for (const at of starts) periodogram.accumulate(signal, at, sum);
      return sum[20]! / starts.length;
    });
    const mean = each.reduce((a, b) => a + b) / each.length;
    const spread = each.reduce((s, v) => s + (v - mean) ** 2, 0) / each.length / mean ** 2;
    expect(1 / spread / independentSegments(29, 0.25)).toBeCloseTo(1, 0);
    expect(1 / spread / independentSegments(29, 0.25)).toBeGreaterThan(0.75);
    const {least, most} = welchBounds(29, 0.25);
    const inside = each.filter((v) => mean > least * v && mean < most * v).length;
    expect(inside / each.length).toBeGreaterThan(0.91);
  });
  it('the Hann window has 1.5 bins of noise bandwidth and a coherent gain of 0.5 (Harris 1978)', () => {
    const w = hann(512);
    const sum = w.reduce((a, b) => a + b);
    const squares = w.reduce((a, b) => a + b * b, 0);
    expect((512 * squares) / (sum * sum)).toBeCloseTo(1.5, 10);
    expect(sum / 512).toBeCloseTo(0.5, 10);
  });

  it('a density holds the power of its windowed segment (Parseval)', () => {
    const signal = samples(512);
    const periodogram = new Periodogram(512, sampleRateHz);
    const density = new Float64Array(257);
    periodogram.accumulate(signal, 0, density);
    const mean = signal.reduce((a, b) => a + b) / 512;
    const w = hann(512);
    const power = signal.reduce((sum, v, i) => sum + ((v - mean) * w[i]!) ** 2, 0) / w.reduce((a, b) => a + b * b, 0);
    expect(density.reduce((a, b) => a + b) * periodogram.stepHz).toBeCloseTo(power, 10);
  });

  it('two segments at the price of one are the two segments', () => {
    fc.assert(
      fc.property(fc.array(fc.double({min: -1e3, max: 1e3, noNaN: true}), {minLength: 64, maxLength: 64}), (values) => {
        const signal = Float64Array.from(values);
        const periodogram = new Periodogram(32, 1000);
        const [a, b] = [new Float64Array(17), new Float64Array(17)];
        const [both, other] = [new Float64Array(17), new Float64Array(17)];
        periodogram.accumulate(signal, 0, a);
        periodogram.accumulate(signal, 32, b);
        periodogram.accumulatePair({signal, at: 0, sum: both, offset: 0}, {signal, at: 32, sum: other, offset: 0});
        const size = 1e-9 * (1 + a.reduce((m, v) => Math.max(m, v), 0) + b.reduce((m, v) => Math.max(m, v), 0));
        for (let k = 0; k < 17; k++) {
          expect(Math.abs(both[k]! - a[k]!)).toBeLessThan(size);
          expect(Math.abs(other[k]! - b[k]!)).toBeLessThan(size);
        }
      }),
      {seed: 12, numRuns: 50},
    );
  });

  it('the transform under it is that of its library', () => {
    const fft = new FFT(8);
    const out = fft.createComplexArray();
    fft.transform(out, [1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0]);
    expect(out.filter((_, i) => i % 2 === 0)).toEqual([1, 1, 1, 1, 1, 1, 1, 1]);
  });
});

describe('segments', () => {
  it('never lie across a break, and a part that is too short has none', () => {
    const parts = [
      {start: 0, end: 100},
      {start: 100, end: 130},
      {start: 130, end: 200},
    ];
    expect([...segmentStarts(parts, {segment: 64, hop: 32})]).toEqual([0, 32, 130]);
  });

  it('a signal without a part long enough is refused', () => {
    expect(() => welch(samples(100), {sampleRateHz, segment: 128})).toThrow('No part of 100 samples');
  });
});

it('a peak is found between the bins, and two near ones as one', () => {
  const tone = Float64Array.from({length: 8192}, (_, i) => Math.sin((2 * Math.PI * 133.3 * i) / 2000));
  const peaks = strongestPeaks(welch(tone, {sampleRateHz: 2000, segment: 1024}), {count: 3});
  expect(peaks[0]!.hz).toBeCloseTo(133.3, 0.7);
  expect(peaks.slice(1).every((p) => p.db < peaks[0]!.db - 60)).toBe(true);
});

describe('the order map', () => {
  const rate = 4000;
  const n = rate * 20;
  const hz = Float32Array.from({length: n}, (_, i) => 120 + 80 * Math.sin((2 * Math.PI * i) / n));
  const signal = new Float32Array(n);
  let phase = 0;
  for (let i = 0; i < n; i++) {
    phase += (2 * Math.PI * hz[i]!) / rate;
    signal[i] = 10 * Math.sin(phase) + 4 * Math.sin(3 * phase) + 6 * Math.sin((2 * Math.PI * 350 * i) / rate);
  }
  const map = orderMap(signal, {
    sampleRateHz: rate,
    parts: [{start: 0, end: n}],
    rows: 16,
    from: 40,
    to: 200,
    motorHz: hz,
  });
  const row = (r: number) => map.density.subarray(r * map.columns, (r + 1) * map.columns);
  /** Column of the strongest value near an order. */
  const strongestNear = (r: number, order: number) => {
    const [from, to] = [(order - 0.4) / map.stepX, (order + 0.4) / map.stepX].map(Math.round);
    const part = row(r).subarray(from, to);
    return (from! + part.indexOf(Math.max(...part))) * map.stepX;
  };

  it('has motor lines upright at every speed', () => {
    for (let r = 1; r < 15; r++) {
      expect(strongestNear(r, 1), `row ${r}`).toBeCloseTo(1, 1);
      if (map.from + (r + 0.5) * map.stepY < 95 || map.from + (r + 0.5) * map.stepY > 140)
        expect(strongestNear(r, 3), `row ${r}`).toBeCloseTo(3, 1);
    }
  });

  it('has a fixed tone leaning: at 350 Hz over the speed', () => {
    for (const r of [4, 8, 13]) {
      const speed = map.from + (r + 0.5) * map.stepY;
      expect(Math.abs(strongestNear(r, 350 / speed) - 350 / speed), `row ${r}`).toBeLessThan(0.25);
    }
  });

  it('holds the power of a line: amplitude² / 2', () => {
    const r = 14;
    const speed = map.from + (r + 0.5) * map.stepY;
    const power =
      row(r)
        .subarray(12, 21)
        .reduce((a, b) => a + b) *
      map.stepX *
      speed;
    expect(power / 50).toBeCloseTo(1, 1);
  });

  it('says nothing beyond half the rate', () => {
    const slow = orderMap(signal, {
      sampleRateHz: 1200,
      parts: [{start: 0, end: n}],
      rows: 4,
      from: 0,
      to: 200,
      motorHz: hz,
    });
    expect(slow.density.subarray(3 * slow.columns).at(-1)).toBeNaN();
  });
});
