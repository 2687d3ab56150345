import {expect, it} from 'vitest';
import {calibrateAmplitudes} from './flight-amplitudes';
import {calibratePairs} from './flight-pairs';

// `bidex calibrate --runs 200` draws every class; two pairs of three classes show here that they are told apart at all.
it('two flights of drawn craft are told apart where they differ, within the stated bound', () => {
  expect(calibratePairs('a tenth less', 2, 2)).toMatchObject({quieter: 2, louder: 0});
  expect(calibratePairs('other rates', 2, 1)).toMatchObject({quieter: 0, louder: 0, within: 2});
  expect(calibratePairs('more wind and throttle', 2, 1)).toMatchObject({quieter: 0, louder: 0, within: 2});
});

it('amplitudes are told where motors are 1 to 3 Hz apart, and for the speed that is stated', () => {
  const close = calibrateAmplitudes('motors 1 to 3 Hz apart', 2, 1);
  expect([close.refused, close.known]).toEqual([0, 24]);
  expect(close.within).toBeGreaterThanOrEqual(22);
  const descents = calibrateAmplitudes('idle descents', 2, 1);
  expect(Math.abs(descents.medianError)).toBeLessThan(0.02);
  expect(descents.within).toBeGreaterThanOrEqual(0.92 * descents.known);
});
