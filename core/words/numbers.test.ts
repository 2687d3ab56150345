import {describe, expect, it} from 'vitest';
import {grouped} from './grouped';
import {percent} from './percent';

describe('numbers in words', () => {
  it.each([
    [12500, 0, '12,500'],
    [-3.44, 1, '−3.4'],
    [999.6, 0, '1,000'],
  ])('%s with %s digits is %s', (value, digits, text) => expect(grouped(value, digits)).toBe(text));
  it.each([
    [0, '0 %'],
    [0.000131, '0.013 %'],
    [0.0123, '1.2 %'],
    [0.3, '30 %'],
    [1, '100 %'],
  ])('a share of %s is %s', (share, text) => expect(percent(share)).toBe(text));
});
