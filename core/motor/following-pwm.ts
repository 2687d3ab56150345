/** PWM that rises with motor speed. */
import {valueIn, type Settings} from '../settings/page';

/** Speed from which on the highest frequency is used, rpm. */
const fullRpm = 30_000;

/** Frequency at a speed, Hz: rises evenly between the two bounds of the settings. */
export function followingPwmHz(rpm: number, settings: Settings): number {
  const [low, high] = [valueIn(settings, 'pwmLow'), valueIn(settings, 'pwmHigh')];
  return 1000 * (low + (high - low) * Math.min(1, Math.max(0, rpm) / fullRpm));
}
