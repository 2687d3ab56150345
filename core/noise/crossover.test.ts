/** The crossover of loops whose answer is known: made here sample by sample, and flown by the simulated craft. */
import {describe, expect, it} from 'vitest';
import {bytesOf, readFlight} from '../flight/read-flight';
import type {FlightLog} from '../flight/flight-log';
import {knownFlight} from '../testing/known-flight';
import {flightCsv} from '@simulator/flights/flight-csv';
import {flyBench} from '@simulator/flights/fly-bench';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {aliasedLines, imageOf} from './aliased-lines';
import {findCrossover} from './crossover';

const rate = 2000;
/** An integrator behind a delay, closed: it crosses 1 at its gain over 2π, with 90° less the delay's turn. */
function closedLoop({hz, delay, noise, steps = 60}: {hz: number; delay: number; noise: number; steps?: number}) {
  let state = 99;
  const random = () => (state = (state * 48271) % 2147483647) / 2147483647;
  const seconds = 20;
  const asked = new Float32Array(seconds * rate);
  for (let s = 0; s < steps; s++) asked.fill(s % 2 ? 100 : -60, Math.floor(((s + random()) / steps) * asked.length));
  const gyro = new Float32Array(asked.length);
  let turned = 0;
  for (let i = 0; i < asked.length; i++) {
    gyro[i] = turned + noise * (random() + random() + random() - 1.5) * 2;
    const at = i - delay;
    if (at >= 0) turned += ((2 * Math.PI * hz) / rate) * (asked[at]! - gyro[at]!);
  }
  const empty = new Float32Array(asked.length);
  const base = knownFlight({seed: 1, poles: 14, speeds: [1], loud: [0], seconds: 1});
  const log: FlightLog = {
    ...base,
    ...{sampleRateHz: rate, samples: asked.length, durationS: seconds, filteredGyro: undefined},
    stretches: [{start: 0, end: asked.length, atS: 0}],
    gyro: {roll: gyro, pitch: empty, yaw: empty},
    setpoint: {roll: asked, pitch: empty, yaw: empty},
  };
  return log;
}

describe('crossover', () => {
  it.each([
    {hz: 20, delay: 6, noise: 1},
    {hz: 35, delay: 8, noise: 4},
    {hz: 60, delay: 4, noise: 4},
    {hz: 80, delay: 2, noise: 1},
  ])('of an integrator of $hz Hz behind $delay samples with $noise deg/s of noise lies within its bounds', (loop) => {
    const found = findCrossover(closedLoop(loop));
    if (found.kind !== 'found') throw new Error(found.why);
    expect(found.axis).toBe('roll');
    expect(Math.abs(found.hz - loop.hz)).toBeLessThan(1.5 * found.boundHz + 0.02 * loop.hz);
    expect(found.boundHz).toBeLessThan(0.12 * loop.hz);
    // The loop acts one sample after it has seen: half a sample of its hold beside the delay.
    const turn = (360 * loop.hz * (loop.delay + 0.5)) / rate;
    expect(Math.abs(found.marginDeg - (90 - turn))).toBeLessThan(1.5 * found.marginBoundDeg + 1);
  });

  it('is not told without sticks, steps or a loop, each with its reason', () => {
    const loop = {hz: 35, delay: 8, noise: 1};
    const log = closedLoop(loop);
    const why = (l: FlightLog) => {
      const c = findCrossover(l);
      return c.kind === 'none' ? c.why : `found ${c.hz}`;
    };
    expect(why({...log, setpoint: undefined})).toContain('has no record of the sticks');
    expect(why(closedLoop({...loop, steps: 1}))).toContain('too few quick steps');
    const half = log.gyro.roll.map((v) => v / 2);
    expect(why({...log, gyro: {...log.gyro, roll: half}})).toContain('0.50 times as fast');
    expect(why(closedLoop({...loop, noise: 4000}))).not.toContain('found');
  });

  it('of a simulated craft is where its own numbers put it', async () => {
    const h = new Harness({craft: demoCraft('bramble')});
    const config = {
      ...({replies: true, protocol: 'dshot300', loopHz: 4000} as const),
      ...{notchHarmonics: [1], movingNotches: 0, gyroLowPassHz: 300},
    };
    const flown = flyBench(h.bench, {craft: 'bramble', seed: 4, seconds: 20, config})!;
    const read = await readFlight(bytesOf(flightCsv(flown.columns, [], flown.config)));
    if (!read.ok) throw new Error(read.problem.meaning);
    const found = findCrossover(read.value);
    // An integrator of 38 Hz and a lag of 130 Hz; notches and low-pass take about 2 % there.
    let expected = 38;
    for (let i = 0; i < 20; i++) expected = (38 * 0.98) / Math.hypot(1, expected / 130);
    expect(found).toMatchObject({kind: 'found'});
    if (found.kind === 'found') expect(Math.abs(found.hz / expected - 1)).toBeLessThan(0.06);
  });
});

describe('aliased lines', () => {
  it('come back mirrored at half the rate and at its multiples', () => {
    expect([900, 1100, 1990, 2010, 3000].map((hz) => imageOf(hz, 2000))).toEqual([900, 900, 10, 10, 1000]);
  });

  it('are told with how low they come and for how long', () => {
    const speeds = [Float32Array.from({length: 1000}, (_, i) => (i < 900 ? 300 : 600))];
    const [twice, ...more] = aliasedLines({sampleRateHz: 2000}, speeds, [1, 2]);
    expect(more).toEqual([]);
    expect(twice).toEqual({order: 2, highestHz: 1200, lowestImageHz: 800, share: 0.1});
  });
});
