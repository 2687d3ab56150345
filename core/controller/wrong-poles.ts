/** What a wrong pole count does: every speed reads too fast or too slow by the same share, and the notches sit beside their lines. */
import {motorSections} from '../filters/chain';
import {cascade} from '../filters/response';
import {chainOf} from './chain-of';
import type {ControllerPlan} from './plan';

export interface WrongPoles {
  readonly poles: number;
  /** Speed that it reads over the true one. */
  readonly ratio: number;
  /** Where the first notch sits, Hz. */
  readonly notchHz: number;
  /** What the notches leave of the motor's line, dB. */
  readonly leavesDb: number;
  /** Whether it is the count of the motor. */
  readonly isTrue: boolean;
}

/** Less than this nothing tells from the noise, dB. */
const deepest = -60;

/** Counts around the true one. @param lineHz true revolutions of the motor a second. */
export function wrongPoles(
  plan: ControllerPlan,
  {counted, lineHz, rateHz}: {readonly counted: number; readonly lineHz: number; readonly rateHz: number},
): readonly WrongPoles[] {
  const chain = chainOf(plan);
  return [-4, -2, 0, 2, 4]
    .map((by) => counted + by)
    .filter((poles) => poles >= 2)
    .map((poles) => {
      const ratio = counted / poles;
      const notchHz = lineHz * ratio;
      const sections = motorSections(chain, {motorsHz: [notchHz], throttle: 50}, rateHz);
      const {magnitude} = cascade(sections, lineHz, rateHz);
      const leavesDb = Math.max(deepest, 20 * Math.log10(Math.max(1e-9, magnitude)));
      return {poles, ratio, notchHz, leavesDb, isTrue: poles === counted};
    });
}
