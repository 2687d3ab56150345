/**
 * Flights made in Python (core/fixtures/make-flights.py), which share no code with what reads them: amplitudes with their
 * bounds, damaged logs, logs that are too slow for their lines, logs without motor speeds, bursts of lost replies.
 */
import {readFileSync} from 'node:fs';
import {gunzipSync} from 'node:zlib';
import {describe, expect, it} from 'vitest';
import {axes} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import {bytesOf, readFlight} from '../flight/read-flight';
import {Random} from '@simulator/random';
import {reportFlight, type FlightReport} from './flight-report';
import {replyLosses} from './reply-losses';
import {motorSpeeds} from './tracking/motor-speeds';

interface Truth {
  readonly rateHz: number;
  readonly amplitudes: readonly number[];
  readonly axisShare: readonly number[];
  readonly orderShare: readonly number[];
  readonly hoverHz: number;
}
const truths = JSON.parse(readFileSync('core/fixtures/flights.json', 'utf8')) as Record<string, Truth>;
const textOf = (name: string) => gunzipSync(readFileSync(`core/fixtures/flight-${name}.csv.gz`)).toString();

async function logOf(text: string): Promise<FlightLog> {
  const read = await readFlight(bytesOf(text));
  if (!read.ok) throw new Error(read.problem.meaning);
  return read.value;
}
const reportOf = async (text: string): Promise<FlightReport> =>
  reportFlight(await logOf(text), {loggedPoles: 14})!.report;
const kinds = ({findings}: FlightReport) => findings.map((f) => f.kind);

/** Amplitudes inside their bounds, of how many that were told. */
function inside({orders}: FlightReport, {amplitudes, axisShare, orderShare, hoverHz}: Truth): {of: number; in: number} {
  const hits = orders.flatMap(({orders: own}, m) =>
    orderShare.flatMap((share, k) => {
      const told = own.get(k + 1);
      if (!told) return [];
      return axes.map((axis, a) => {
        const {amplitude, bound, atHz} = told[axis];
        const truth = amplitudes[m]! * share * axisShare[a]! * (atHz / hoverHz) ** 2;
        return Math.abs(amplitude - truth) <= bound;
      });
    }),
  );
  return {of: hits.length, in: hits.filter(Boolean).length};
}

describe('amplitudes', () => {
  it.each([
    ['close', 'four motors within 5 Hz'],
    ['varied', 'speeds from a half to one and a half of hover, with a resonance'],
    ['slow-log', 'most lines alias down'],
  ])('are inside their bounds: %s, %s', async (name) => {
    const found = inside(await reportOf(textOf(name)), truths[name]!);
    expect(found.of).toBeGreaterThanOrEqual(24);
    expect(found.in / found.of).toBeGreaterThanOrEqual(0.92);
  });
});

describe('a damaged log', () => {
  const lines = textOf('varied').trimEnd().split('\n');
  const [head, ...rows] = lines as [string, ...string[]];
  const log = (kept: readonly string[]) => [head, ...kept].join('\n') + '\n';
  const truth = truths['varied']!;

  it('time stamps that jitter by 0.45 of a step: the rate is right, it is told, bounds hold', async () => {
    const random = new Random(7);
    const jittered = rows.map((row) => {
      const [time, ...more] = row.split(',');
      const at = Number(time) + (0.001 + (0.9 * random.next() - 0.45) / truth.rateHz);
      return [at.toFixed(6), ...more].join(',');
    });
    const read = await logOf(log(jittered));
    expect(read.sampleRateHz).toBeCloseTo(truth.rateHz, -0.3);
    // An even spread over ± 0.45 has a root mean square of 0.45/√3.
    expect(read.jitter).toBeCloseTo(0.45 / Math.sqrt(3), 1);
    const {report} = reportFlight(read, {loggedPoles: 14})!;
    expect(report.findings[0]).toMatchObject({
      kind: 'jitter',
      text: expect.stringMatching(/jitter by 2[4-8] % of a step/),
    });
    const found = inside(report, truth);
    expect(found.in / found.of).toBeGreaterThanOrEqual(0.92);
  });

  it('a tenth of the rows dropped at random: told with its share, and filled rows count for nothing', async () => {
    const random = new Random(8);
    const report = await reportOf(log(rows.filter((_, i) => i === 0 || random.next() > 0.1)));
    expect(report.findings[0]).toMatchObject({
      kind: 'missing-rows',
      text: expect.stringMatching(/^(9\.\d|10|11) % of the rows are missing/),
    });
    const found = inside(report, truth);
    expect(found.of).toBeGreaterThanOrEqual(30);
    expect(found.in / found.of).toBeGreaterThanOrEqual(0.92);
    expect(report.poles).toMatchObject({kind: 'found', poles: 14});
  });

  /** The gyro's columns cut off at `most` deg/s. */
  const clipped = (most: number) =>
    rows.map((row) => {
      const cells = row.split(',');
      for (let c = 1; c <= 3; c++) cells[c] = Math.max(-most, Math.min(most, Number(cells[c]))).toFixed(2);
      return cells.join(',');
    });

  it('a gyro at its end: told with axis and share; what remains is inside its bounds', async () => {
    const report = await reportOf(log(clipped(28)));
    expect(report.findings[0]).toMatchObject({kind: 'clipped', axis: 'roll'});
    expect(report.findings[0]!.text).toMatch(/^The gyro is at the end of its range on roll \(-?28 deg\/s\) in \d/);
    const found = inside(report, truth);
    expect(found.in).toBeGreaterThanOrEqual(0.92 * found.of);
  });

  it('a gyro at its end all the time: amplitudes are refused', async () => {
    const {orders} = await reportOf(log(clipped(6)));
    expect(orders.flatMap((m) => [...m.orders.values()]).filter((o) => o !== undefined)).toEqual([]);
  });

  it('a sound log, coarse or fine, is none of that', async () => {
    const coarse = rows.map((row) => {
      const [time, a, b, c, ...more] = row.split(',');
      return [time, ...[a, b, c].map((v) => Math.round(Number(v))), ...more].join(',');
    });
    for (const text of [textOf('varied'), log(coarse)])
      expect(kinds(await reportOf(text)).filter((k) => ['jitter', 'missing-rows', 'clipped'].includes(k))).toEqual([]);
  });
});

describe('a log that is too slow for its lines', () => {
  it('is told as aliased, with a rate that holds them; the pole count is found among what aliases down', async () => {
    const report = await reportOf(textOf('slow-log'));
    expect(report.poles).toMatchObject({kind: 'found', poles: 14});
    expect(report.findings[0]).toMatchObject({
      kind: 'aliased',
      text: expect.stringContaining("half of the log's rate"),
    });
    expect(report.findings[0]!.next).toMatch(/^Log at (2000|2500) Hz or more\.$/);
    expect(report.poles.kind === 'unclear' && report.poles.why).not.toContain('does not stand out');
  });
});

describe('a log without motor speeds', () => {
  it('finds the resonance at 210 Hz, Q 14, at every throttle, and no motor line as one', async () => {
    const {resonances, findings} = await reportOf(textOf('no-speeds'));
    expect(resonances.length).toBeGreaterThanOrEqual(2);
    for (const {hz, q, isTone} of resonances) {
      expect(Math.abs(hz / 210 - 1)).toBeLessThan(0.03);
      expect(q).toBeGreaterThan(7);
      expect(q).toBeLessThan(28);
      expect(isTone).toBe(false);
    }
    expect(findings[0]!.text).toContain('at every throttle from');
  });

  it('calls nothing a resonance where throttle hardly changes', async () => {
    const report = await reportOf(textOf('no-speeds-hover'));
    expect(report.resonances).toEqual([]);
    expect(kinds(report)).toEqual([]);
  });
});

describe('lost replies', () => {
  it('come in bursts: an interval by their number, not by rows', async () => {
    const log = await logOf(textOf('close'));
    const flags = new Float32Array(log.samples);
    // Ten bursts of 25 replies each, a second apart.
    for (let burst = 0; burst < 10; burst++) flags.fill(1, 500 + 1000 * burst, 525 + 1000 * burst);
    const speeds = motorSpeeds({...log, speeds: {kind: 'electrical', hz: []}}, 14);
    const [loss] = replyLosses({...log, replyErrors: [flags]}, speeds);
    expect(loss).toMatchObject({events: 10, share: 250 / log.samples});
    // 95 % limits of a Poisson count of 10: 4.80 and 18.39 (Garwood 1936).
    expect((loss!.interval[0] / loss!.share) * 10).toBeCloseTo(4.8, 1);
    expect((loss!.interval[1] / loss!.share) * 10).toBeCloseTo(18.39, 1);
  });
});
