/** Half widths of 95 % intervals, held against scipy. */
import {expect, it} from 'vitest';
import {normal95, student95} from './student';

it('Student’s quantile is that of scipy within 1 % from 3 degrees of freedom on', () => {
  // scipy.stats.t.ppf(0.975, freedom), scipy 1.17.
  const known = [
    [3, 3.182446],
    [4, 2.776445],
    [5, 2.570582],
    [7.5, 2.33304],
    [10, 2.228139],
    [40, 2.021075],
    [200, 1.971896],
  ] as const;
  for (const [freedom, quantile] of known) expect(Math.abs(student95(freedom) / quantile - 1)).toBeLessThan(0.01);
  expect(student95(1e9)).toBeCloseTo(normal95, 6);
});
