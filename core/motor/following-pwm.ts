/** PWM that rises with motor speed. */
import type {Settings} from '../settings/page';
import {definitionOf} from '../settings/definitions';

/** Speed from which on the highest frequency is used, rpm. */
const fullRpm = 30_000;

/** Frequency at a speed, Hz: rises evenly between the two bounds of the settings. */
export function followingPwmHz(rpm: number, {pwmLow, pwmHigh}: Pick<Settings, 'pwmLow' | 'pwmHigh'>): number {
  const low = pwmLow ?? definitionOf('pwmLow').default;
  const high = pwmHigh ?? definitionOf('pwmHigh').default;
  return 1000 * (low + (high - low) * Math.min(1, Math.max(0, rpm) / fullRpm));
}
