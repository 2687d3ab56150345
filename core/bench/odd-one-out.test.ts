import {describe, expect, it} from 'vitest';
import {oddOnesOut} from './odd-one-out';

describe('the odd one out', () => {
  it.each([
    ['aaab', 'b'],
    ['aabb', ''],
    ['aaabbc', 'bbc'],
    ['aaaa', ''],
    ['abcd', ''],
    ['', ''],
    ['aaaaabbb', 'bbb'],
  ])('of %s is "%s"', (all, odd) => {
    expect(oddOnesOut([...all], (x) => x).join('')).toBe(odd);
  });
});
