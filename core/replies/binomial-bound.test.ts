/** Exact bounds of a counted share against scipy.stats (core/fixtures/make-bounds.py). */
import {readFileSync} from 'node:fs';
import {describe, expect, it} from 'vitest';
import {betaShare, lowerBound, upperBound} from './binomial-bound';

const {cases} = JSON.parse(readFileSync(new URL('../fixtures/bounds.json', import.meta.url), 'utf8')) as {
  cases: {lost: number; asked: number; upper: number; lower: number}[];
};

describe('the lower bound of a loss', () => {
  // It is the upper one of what was not lost: what is left of 1 is as exact as doubles are there.
  it.each(cases)('$lost of $asked lost', ({lost, asked, lower}) =>
    expect(Math.abs(lowerBound(lost, asked) - lower)).toBeLessThan(1e-6 * lower + 1e-10),
  );
  it('closed forms: one of n, and all of them; of nothing it is 0', () => {
    expect(lowerBound(1, 50)).toBeCloseTo(1 - 0.95 ** (1 / 50), 9);
    expect(lowerBound(50, 50)).toBeCloseTo(0.05 ** (1 / 50), 9);
    expect(lowerBound(0, 0)).toBe(0);
  });
});

describe('the upper bound of a loss', () => {
  it.each(cases)('$lost of $asked lost', ({lost, asked, upper}) =>
    expect(upperBound(lost, asked) / upper).toBeCloseTo(1, 7),
  );

  it('rises with what was lost, and nothing asked for bounds nothing', () => {
    const bounds = Array.from({length: 200}, (_, lost) => upperBound(lost, 400));
    expect(bounds.every((b, i) => i === 0 || b > bounds[i - 1]!)).toBe(true);
    expect([upperBound(0, 0), upperBound(5, 5)]).toEqual([1, 1]);
  });

  it('closed forms of the incomplete beta function: I_x(1, b) and the middle of a symmetric one', () => {
    for (const x of [0.01, 0.3, 0.9]) expect(betaShare(x, 1, 7)).toBeCloseTo(1 - (1 - x) ** 7, 12);
    expect(betaShare(0.5, 30, 30)).toBeCloseTo(0.5, 12);
    expect([betaShare(0, 2, 3), betaShare(1, 2, 3)]).toEqual([0, 1]);
  });
});
