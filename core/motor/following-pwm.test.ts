import {describe, expect, it} from 'vitest';
import {startDuty, startDutyAt} from './esc-currents';
import {followingPwmHz} from './following-pwm';

describe('speed-following PWM', () => {
  it.each([
    [0, 24_000],
    [15_000, 60_000],
    [30_000, 96_000],
    [90_000, 96_000],
    [-5, 24_000],
  ])('between its default bounds, %i rpm gives %i Hz', (rpm, hz) => expect(followingPwmHz(rpm, {})).toBe(hz));
  it('keeps to its own bounds', () => expect(followingPwmHz(15_000, {pwmLow: 20, pwmHigh: 40})).toBe(30_000));
});

describe('what an ESC uses of its supply', () => {
  it('while it starts: 12.5 % at 1125 µs, nothing at 1000', () => {
    expect(startDuty(1125)).toBeCloseTo(0.125, 12);
    expect(startDuty(1000)).toBe(0);
  });
  it('from the lowest power at no throttle to the highest at full', () => {
    expect(startDutyAt(0, 1050, 1125)).toBeCloseTo(0.05, 12);
    expect(startDutyAt(0.5, 1050, 1125)).toBeCloseTo(0.0875, 12);
    expect(startDutyAt(1, 1050, 1125)).toBeCloseTo(0.125, 12);
  });
});
