/** The loop budget of a configuration: one formula for the rule, the Signal station and the stand-in. */
import {biquadsPerAxis, loopBudget, type LoopBudget} from '../dshot/loop-budget';
import type {ControllerFields} from './plan';

type LoopFields = Pick<ControllerFields, 'protocol' | 'replies' | 'loopHz' | 'notchHarmonics' | 'movingNotches'>;

/** On a controller of `clockMhz`. Notches that follow motors run with replies only; one that is absent is off. */
export function budgetOf(
  {protocol, replies, loopHz, notchHarmonics = [], movingNotches = 0}: LoopFields,
  {clockMhz, outputs}: {readonly clockMhz: number; readonly outputs: number},
): LoopBudget {
  const filters = {notchHarmonics: replies ? notchHarmonics : [], movingNotches};
  return loopBudget({clockMhz, loopHz, protocol, replies, outputs, biquadsPerAxis: biquadsPerAxis(filters, outputs)});
}
