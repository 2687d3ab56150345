/** Trade facts of facts.md: small 72 MHz controllers run 2 kHz; bidirectional DShot300 does not go with an 8 kHz loop, 4 kHz is right. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {sorrel} from '@demo/craft/sorrel';
import {loopRates} from './loop-rates';

const verdicts = (plan: typeof juniper.plan.controller, board: {gyroHz: number; clockMhz: number; outputs: number}) =>
  Object.fromEntries(loopRates(plan, board).map((r) => [r.pair.loopHz, r.fault ?? r.verdict]));

describe('loop rates that a chip can hold', () => {
  it('a controller of 72 MHz holds 2 kHz and nothing faster', () => {
    const small = verdicts(sorrel.plan.controller, {gyroHz: 8000, clockMhz: 72, outputs: 4});
    expect(small[2000]).toMatch(/feasible|tight/);
    expect(small[8000]).toMatch(/overloaded|wire too slow/);
  });

  it('replies at DShot300 do not go with 8 kHz; 4 kHz holds on a fast chip', () => {
    const plan = {...juniper.plan.controller, protocol: 'dshot300', replies: true} as const;
    const fast = verdicts(plan, {gyroHz: 8000, clockMhz: 216, outputs: 4});
    expect(fast[8000]).toBe('wire too slow');
    expect(fast[4000]).toBe('feasible');
  });

  it('nothing runs faster than the gyro, and the planned rate is always among them', () => {
    const rates = loopRates({...juniper.plan.controller, loopHz: 5000}, {gyroHz: 4000, clockMhz: 216, outputs: 4});
    expect(rates.map((r) => r.pair.loopHz)).toEqual([8000, 6400, 5000, 4000, 3200, 2000, 1000]);
    expect(rates[4]!.fault).toBe('no whole samples');
    expect(rates.slice(0, 3).every((r) => r.fault === 'beyond the gyro')).toBe(true);
  });

  it.each([
    [8000, [8000, 4000, 2000, 1000]],
    [6400, [6400, 3200, 1600]],
    [3333, [3333, 1667]],
  ])('a loop takes every so many samples of a gyro of %i Hz, a whole number', (gyroHz, whole) => {
    const place = {gyroHz, clockMhz: 480, outputs: 4};
    const plan = {...juniper.plan.controller, protocol: 'dshot600', replies: false} as const;
    const rates = loopRates({...plan, loopHz: gyroHz}, place).filter((r) => r.pair.loopHz <= gyroHz);
    expect(rates.filter((r) => r.fault !== 'no whole samples').map((r) => r.pair.loopHz)).toEqual(whole);
    expect(rates.find((r) => r.fault)?.why).toMatch(/^The gyro gives \d+\.\d\d samples in a turn/);
  });
});
