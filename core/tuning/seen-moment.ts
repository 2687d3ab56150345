/** A moment of a flight as following notches see it: late and smoothed, while speeds climb or fall. */
import type {MomentState, MotorNotches} from '../filters/chain';
import type {ModelMoment} from './flight-model';

/** Behind a ramp a first-order smoothing stays by 1/(2π·f) (any text on control), and a delay by itself. */
export function seenMoment(
  {motorsHz, motorsHzPerS, throttle}: ModelMoment,
  {speedLowPassHz, speedDelayMs}: Pick<MotorNotches, 'speedLowPassHz' | 'speedDelayMs'>,
): MomentState {
  const lateS = speedDelayMs / 1000 + (speedLowPassHz > 0 ? 1 / (2 * Math.PI * speedLowPassHz) : 0);
  return {throttle, motorsHz: motorsHz.map((hz, m) => Math.max(0, hz - lateS * motorsHzPerS[m]!))};
}
