/** A wrong pole count: speeds by the ratio of counts (facts of the trade), and what a notch beside its line leaves of it. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {wrongPoles} from './wrong-poles';

const plan = {...juniper.plan.controller, replies: true, notchHarmonics: [1], notchQ: 5, notchMinHz: 60};

describe('a wrong pole count', () => {
  const rows = wrongPoles(plan, {counted: 14, lineHz: 300, rateHz: 8000});

  it('shifts every speed and notch by the ratio', () => {
    expect(rows.map((r) => [r.poles, Number(r.notchHz.toFixed(2))])).toEqual([
      [10, 420],
      [12, 350],
      [14, 300],
      [16, 262.5],
      [18, 233.33],
    ]);
  });

  it('the true count leaves nothing of the line, a wrong one what an analog notch leaves beside its centre', () => {
    for (const {isTrue, leavesDb, notchHz} of rows) {
      if (isTrue) {
        expect(leavesDb).toBe(-60);
        continue;
      }
      // |H| of a notch: 1 / √(1 + (f·f0 / Q·(f0² − f²))²), the analog prototype of the cookbook; at 8 kHz nearly the same.
      const x = (300 * notchHz) / (5 * (notchHz ** 2 - 300 ** 2));
      expect(Math.abs(leavesDb - -10 * Math.log10(1 + x * x))).toBeLessThan(0.15);
    }
  });

  it('without replies there is no notch that could sit anywhere', () => {
    const none = wrongPoles({...plan, replies: false}, {counted: 14, lineHz: 300, rateHz: 8000});
    expect(none.map((r) => r.leavesDb)).toEqual([0, 0, 0, 0, 0]);
  });

  it('no motor has fewer than two poles', () => {
    expect(wrongPoles(plan, {counted: 4, lineHz: 300, rateHz: 8000}).map((r) => r.poles)).toEqual([2, 4, 6, 8]);
  });
});
