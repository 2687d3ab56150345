/** Pole counts by KV × volts × throttle: a micro motor of 12 poles read with 14 (scenario of the demo). */
import {describe, expect, it} from 'vitest';
import {polesFromSpeed} from './poles-from-speed';

const measures = (share: number) =>
  [0.06, 0.3, 0.6].map((throttle) => ({
    throttle,
    motors: Array.from({length: 4}, () => ({
      asked: 100,
      lost: 0,
      rpm: share * throttle * 50_000,
      noLoadRpm: throttle * 50_000,
    })),
  }));

describe('poles from speed', () => {
  it('takes the fastest level; the true count is among those left', () => {
    // Truly 94 % of KV × volts with 12 poles; read with 14 it seems 81 %.
    const told = polesFromSpeed(measures((0.94 * 12) / 14), 14)!;
    expect(told.throttle).toBe(0.6);
    expect(told.plausible).toContain(12);
    expect(told.plausible).not.toContain(24);
    expect(told.plausible.length).toBeLessThanOrEqual(3);
  });

  it('a count that is far off is not left', () => {
    // A motor of 14 poles read with 28 turns at half its speed.
    expect(polesFromSpeed(measures(0.47), 28)!.plausible).not.toContain(28);
  });

  it('without a speed nothing can be said', () => {
    const silent = measures(1).map((m) => ({...m, motors: m.motors.map((x) => ({...x, rpm: null}))}));
    expect(polesFromSpeed(silent, 14)).toBeUndefined();
    expect(polesFromSpeed([], 14)).toBeUndefined();
  });
});
