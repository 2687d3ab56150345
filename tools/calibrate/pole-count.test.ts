import {expect, it} from 'vitest';
import {calibratePoleCount} from './pole-count';

it('the pole count of drawn flights is right: so many as bound the share of wrong ones below 5 %', () => {
  // None wrong of 59 is at most 4.95 % wrong (1 − 0.05^(1/59)); `bidex calibrate --runs 1000` draws more.
  const {wrong, atMost} = calibratePoleCount(59, 0);
  expect(wrong).toEqual([]);
  expect(atMost).toBeLessThan(0.05);
});
