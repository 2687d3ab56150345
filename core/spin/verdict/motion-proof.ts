/** What a card of every motor of a craft proves of how they move. */
import type {Found} from '../../bench/found';
import type {Craft} from '../../craft/craft';
import type {MotionReport} from '../../motion/report';
import {countOf, isSome, type NewProof} from '../../proof/proof';
import type {AloneState} from '../../replies/replies';
import {judgeMotion, type MotionVerdict} from './judge-motion';
import {knownTimings} from './known-timings';

export interface MotionMeasure {
  readonly report: MotionReport;
  /** What replies said while each motor was driven alone; undefined where none was. */
  readonly alone?: readonly AloneState[] | undefined;
}

/** @param found what timing the ESCs hold: without it, KV is as it is seen. */
export const verdictOnCard = ({report, alone}: MotionMeasure, craft: Craft, found: Found | undefined): MotionVerdict =>
  judgeMotion({
    ...{report, alone, labelKv: craft.motor.kv, poles: craft.motor.poles, isCounted: craft.motor.counted},
    isTimed: knownTimings(craft, found).every((timing) => timing !== undefined),
    idlePercent: craft.plan.controller.idlePercent,
  });

/** Undefined where nothing was told of any motor, or nobody is known to have turned. */
export function motionProof(
  {holds, text, count: told}: MotionVerdict,
  on: readonly {readonly output: number; readonly serial: string}[],
  about: Pick<NewProof, 'at' | 'session' | 'cycles' | 'grounds'>,
): NewProof | undefined {
  const count = countOf(told);
  return count === undefined || !isSome(on) ? undefined : {...about, kind: 'motion', holds, text, on, count};
}
