/** The simulated flights: what is wrong with each craft is found by the analysis, which shares no line with them. */
import {describe, expect, it} from 'vitest';
import {bytesOf, readFlight} from '@core/flight/read-flight';
import {flownWith} from '@core/flight/flown-with';
import {reportFlight} from '@core/noise/flight-report';
import {demoCraft, Harness} from '../testing/bench-harness';
import {AxisFilters} from './controller-filters';
import {flightCsv} from './flight-csv';
import {flyBench, type BenchFlight} from './fly-bench';
import {phaseKinds, secondsOf, testFlight, throttleAt} from './script';

const replies = {replies: true, protocol: 'dshot300', loopHz: 4000} as const;
const fly = (craft: string, over: Partial<BenchFlight> = {}) => {
  const h = new Harness({craft: demoCraft(craft)});
  return flyBench(h.bench, {craft, seed: 3, seconds: 12, config: replies, ...over})!;
};

async function flown(craft: string, over: Partial<BenchFlight> = {}) {
  const {columns, config} = fly(craft, over);
  const reading = await readFlight(bytesOf(flightCsv(columns, ['a note'], config)));
  if (!reading.ok) throw new Error(reading.problem.meaning);
  const {report} = reportFlight(reading.value, {loggedPoles: config.poles})!;
  return {
    log: reading.value,
    config,
    columns,
    found: report.findings.map((f) => `${f.kind} ${f.motor ?? ''}`.trim()),
    report,
  };
}

describe('a simulated flight', () => {
  it('Juniper as found: motor 3 falls late, the frame rings, 14 poles', async () => {
    const {found, report, log, config} = await flown('juniper', {seconds: 20});
    expect(found).toContain('long-coast 2');
    expect(found).toContain('resonance');
    expect(report.poles).toMatchObject({kind: 'found', poles: 14});
    expect(report.resonances.every((r) => Math.abs(r.hz - 212) < 8)).toBe(true);
    expect(flownWith(log.notes)).toEqual(config);
  });

  it('Sorrel: logged with 14 poles, has 12', async () => {
    const {found} = await flown('sorrel', {config: {...replies, loopHz: 2000}});
    expect(found).toContain('wrong-poles');
  });

  it('Alder: the bell of arm 5', async () => {
    const {found} = await flown('alder', {config: {...replies, loopHz: 2000}, seconds: 20});
    expect(found).toContain('unbalanced 4');
    expect(found.filter((f) => f.startsWith('unbalanced'))).toHaveLength(1);
  });

  it('Bramble: nothing', async () => expect((await flown('bramble')).found).toEqual([]));

  it('notches on the motors take their lines away behind the filters, and a wrong count does not', () => {
    const rms = (x: readonly number[]) => {
      const fast = x.map((v, i) => v - (x[i - 1] ?? v));
      return Math.sqrt(fast.reduce((sum, v) => sum + v * v, 0) / fast.length);
    };
    const filters = {...replies, notchHarmonics: [1, 2, 3], movingNotches: 0, gyroLowPassHz: 1000};
    const right = fly('juniper', {config: filters, seconds: 6}).columns;
    const wrong = fly('juniper', {config: {...filters, poles: 10}, seconds: 6}).columns;
    expect(rms(right.filtered[0]!) / rms(right.gyro[0]!)).toBeLessThan(0.25);
    expect(rms(wrong.filtered[0]!) / rms(right.filtered[0]!)).toBeGreaterThan(2);
  });

  it('lost replies are counted, and the last speed stays', async () => {
    const {columns, report} = await flown('bramble', {loss: [0, 0.01, 0, 0], seconds: 8});
    expect(columns.errors[1]!.at(-1)).toBeGreaterThan(120);
    expect(columns.errors[0]!.at(-1)).toBe(0);
    expect(report.losses.map((l) => l.motor)).toEqual([1]);
  });

  it('ESCs that do not reply give no speeds', () => {
    const h = new Harness({craft: demoCraft('juniper')});
    const {columns} = flyBench(h.bench, {craft: 'juniper', seed: 1, seconds: 1})!;
    expect([columns.erpm, columns.errors]).toEqual([[], []]);
    expect(flyBench(h.bench, {craft: 'nobody', seed: 1, seconds: 1})).toBeUndefined();
  });

  it('the same seed is the same flight, another is not', () => {
    const [a, b, c] = [1, 1, 2].map((seed) => fly('bramble', {seed, seconds: 3}));
    expect(a!.columns.gyro).toEqual(b!.columns.gyro);
    expect(a!.columns.gyro).not.toEqual(c!.columns.gyro);
  });
});

it('the script flies every phase, within 0 and full', () => {
  const phases = testFlight(20);
  expect(new Set(phases.map((p) => p.kind)).size).toBe(phaseKinds.length);
  expect(secondsOf(phases)).toBeCloseTo(20, 9);
  for (let t = 0; t < 20; t += 0.05) {
    const throttle = throttleAt(phases, t, 0.3);
    expect(throttle > 0 && throttle <= 1, `${t} s`).toBe(true);
  }
});

it('a moving notch of the simulated controller finds a tone by itself', () => {
  const filters = new AxisFilters({movingNotches: 1, notchMinHz: 80, gyroLowPassHz: 5000}, 4, 8000);
  let [inside, outside] = [0, 0];
  for (let i = 0; i < 8000; i++) {
    const x = Math.sin((2 * Math.PI * 231 * i) / 8000);
    const y = filters.run(x, [0, 0, 0, 0], 0.3);
    if (i > 4000) [inside, outside] = [inside + x * x, outside + y * y];
  }
  expect(outside / inside).toBeLessThan(0.02);
});
