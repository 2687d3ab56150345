/** What of arming breaks a rule on this craft: its plan, and where that is silent, what the craft has. */
import {planOver, type ControllerFields} from '../../controller/plan';
import type {Craft} from '../../craft/craft';
import {armingRules} from './arming';
import {judgeBy, type Finding} from './rule';

/** Findings on what will be set, refusals first. */
export function armingFindings(craft: Craft, found: ControllerFields | undefined): Finding[] {
  const controller = planOver(craft.plan.controller, found);
  const whole = {...craft, plan: {...craft.plan, controller}};
  return judgeBy(armingRules, {craft: whole, escs: [], sightings: [], processor: undefined, held: undefined});
}
