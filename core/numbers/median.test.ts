import {describe, expect, it} from 'vitest';
import {median, upperMedian} from './median';

describe('the median', () => {
  // numpy.median of the same values.
  it.each([
    [[3], 3],
    [[4, 1], 2.5],
    [[9, 1, 5], 5],
    [[10, 2, 30, 4], 7],
  ])('of %s is %s', (values, expected) => expect(median(values)).toBe(expected));
  it('of nothing is not a number', () => expect(median([])).toBeNaN());
  it('leaves what it was given as it is, whole or part of an array', () => {
    const values = Float64Array.of(3, 1, 2, 9);
    expect(median(values.subarray(0, 3))).toBe(2);
    expect([...values]).toEqual([3, 1, 2, 9]);
  });
  it('has an upper one that occurs', () => {
    expect([upperMedian([4, 1]), upperMedian([9, 1, 5]), upperMedian([10, 2, 30, 4])]).toEqual([4, 5, 10]);
    expect(upperMedian([])).toBeNaN();
  });
});
