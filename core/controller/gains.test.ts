/** Gains as they are read and scaled, and their attenuation by the line through its two ends. */
import {describe, expect, it} from 'vitest';
import {acting, gainsIn, gainShareAt, quieterIn, wholeIn} from './gains';

const values = {'gains.roll_p': 45, 'gains.roll_i': 80, 'gains.roll_d': 30, 'gains.roll_feed': 100};

describe('gains', () => {
  it('are read of an axis that has all four parts', () => {
    expect(gainsIn(values, 'roll')).toEqual({p: 45, i: 80, d: 30, feed: 100});
    expect(gainsIn(values, 'yaw')).toBeUndefined();
    expect(gainsIn({...values, 'gains.roll_d': '30'}, 'roll')).toBeUndefined();
  });

  it('are scaled together by one factor: the feed is not, and ratios stay', () => {
    expect(wholeIn({})).toBe(1);
    const whole = wholeIn({'gains.whole_percent': 150});
    const scaled = acting(gainsIn(values, 'roll')!, whole);
    expect(scaled).toEqual({p: 67.5, i: 120, d: 45, feed: 100});
    expect(scaled.d / scaled.p).toBeCloseTo(30 / 45, 12);
  });

  it.each([
    [65, 60],
    [0, 100],
    [90, 5],
    [100, 60],
  ])('are taken back from %i %% throttle on by the line to %i %% less at full', (from, by) => {
    const quieter = quieterIn({'gains.quieter_from_percent': from, 'gains.quieter_by_percent': by})!;
    // Weights of the two ends, by the lever of the place between them.
    for (let percent = 0; percent <= 100; percent++) {
      const lever = percent <= from ? 0 : (percent - from) / (100 - from);
      const expected = (1 - lever) * 1 + lever * (1 - by / 100);
      expect(gainShareAt(quieter, percent / 100)).toBeCloseTo(expected, 12);
    }
    expect(quieterIn({'gains.quieter_by_percent': by})).toBeUndefined();
  });
});
