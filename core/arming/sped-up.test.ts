/** Motors that speed up by themselves: found where speed and command rise together, and nowhere else. */
import {describe, expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import {Random} from '@simulator/random';
import {sleep} from '../link/port';
import type {Report} from '../link/operations';
import {SpinLease} from '../spin/hold/lease';
import {motorsSpedUp, spedUpText} from './sped-up';

const idle = 0.05;
/** Drawn reports of 20 ms: speed and command of each motor over time, ms since they turn. */
function drawn(
  random: Random,
  motors: readonly {erpm: (ms: number) => number; throttle: (ms: number) => number}[],
  ms = 2500,
): Report[] {
  const power = {volts: 16, amps: 1, cycles: 1};
  return Array.from({length: ms / 20}, (_, i) => ({
    ...{atMs: 1000 + 20 * i, power, load: 0.3},
    motors: motors.map(({erpm, throttle}) => ({
      erpm: Math.max(1, erpm(20 * i) * (1 + 0.01 * random.normal())),
      ...{throttle: throttle(20 * i), asked: 80 * i, lost: 0},
    })),
  }));
}
const still = {erpm: () => 20_000, throttle: () => idle};
/** Comes up to its speed in 200 ms. */
const starting = {erpm: (ms: number) => 20_000 * (1 - Math.exp(-ms / 60)), throttle: () => idle};
const growing = {erpm: (ms: number) => 20_000 + 2 * ms, throttle: (ms: number) => idle + ms / 100_000};

describe('motors that speed up by themselves', () => {
  it('are named with their speeds; the others are not', () => {
    const [found, ...more] = motorsSpedUp(drawn(new Random(3), [still, growing, starting, still]), idle, 4);
    expect(more).toEqual([]);
    // Truth of the drawn line: 21,000 at 500 ms and 24,960 at 2,480 ms; each mean is over a fifth of that.
    expect(found).toMatchObject({output: 1, throttle: expect.closeTo(idle + 0.0248, 3) as number});
    expect(Math.abs(found!.fromErpm - 21_390)).toBeLessThan(150);
    expect(Math.abs(found!.toErpm - 24_570)).toBeLessThan(150);
  });

  it('none in 500 draws of steady motors and of ones that start', () => {
    for (let seed = 1; seed <= 500; seed++)
      expect(motorsSpedUp(drawn(new Random(seed), [still, starting, still, starting]), idle, 4)).toEqual([]);
  });

  it('a motor that got faster while its command stayed is something else', () =>
    expect(motorsSpedUp(drawn(new Random(4), [{...growing, throttle: () => idle}]), idle, 1)).toEqual([]));

  it.each([
    ['too short a time', 900],
    ['none', 0],
  ])('nothing is said of %s', (_, ms) =>
    expect(motorsSpedUp(drawn(new Random(5), [growing], ms), idle, 1)).toEqual([]),
  );

  it('the stand-in’s loop does it under a hold that heeds the receiver, and not without', async () => {
    const seen = async (heeds?: 'receiver') => {
      const h = new Harness();
      await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
      const reports: Report[] = [];
      h.client.onReport((r) => reports.push(r));
      await h.run(h.client.request('reports', {on: true}));
      const lease = new SpinLease(h.client, h.time, () => undefined, heeds);
      lease.set([0, 1, 2, 3].map((output) => ({output, throttle: idle})));
      await h.run(sleep(h.time, 2500));
      await h.run(lease.stop());
      return motorsSpedUp(reports, idle, 4);
    };
    expect((await seen('receiver')).length).toBeGreaterThan(0);
    expect(await seen()).toEqual([]);
  });

  it('reads as no alarm', () =>
    expect(spedUpText([{output: 1, fromErpm: 21_000, toErpm: 28_000, throttle: 0.07}], 14)).toMatch(
      /^At idle motor 2 from 3,000 to 4,000 rpm: .* normal on the bench and no fault\.$/,
    ));
});
