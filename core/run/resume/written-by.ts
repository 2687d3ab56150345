/** What a step writes, as far as proofs of it are void from then on. */
import {armingFields} from '../../controller/arming-fields';
import {controllerDifferences} from '../../controller/fields';
import type {Step} from '../../order/steps';
import type {WorkOrder} from '../../order/work-order';
import type {WrittenPart} from '../../proof/standing';
import {stepKinds, touchesOf} from '../steps/step-kinds';

/** Setting a filter again takes nothing from a mounting that was proven: fields of arming count apart. */
export function writtenBy({found}: Pick<WorkOrder, 'found'>, step: Step): readonly WrittenPart[] {
  // Firmware that is written anew takes the configuration with it.
  const touched = new Set(
    touchesOf(step).flatMap(({of}): WrittenPart[] => (of === 'loader' ? ['controller', 'arming'] : [of])),
  );
  const goal = stepKinds.of(step).controllerGoal?.(step);
  const before = found.controller?.config;
  const sets = goal && before ? controllerDifferences(before, {...before, ...goal}).map((d) => d.field) : [];
  if ((goal && !before) || sets.some((field) => field in armingFields)) touched.add('arming');
  return [...touched];
}
