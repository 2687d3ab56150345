import {describe, expect, it} from 'vitest';
import {startAmps} from './esc-currents';
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

it('start-up power of 1125 µs allows 12.5 A', () => expect(startAmps(1125)).toBeCloseTo(12.5, 12));
