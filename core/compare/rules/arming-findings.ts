/** What of arming breaks a rule on this craft: its plan, and where that is silent, what the craft has. */
import {planOver, type ControllerFields} from '../../controller/plan';
import type {Craft} from '../../craft/craft';
import {armingRules} from './arming';
import type {Finding} from './rule';

/** Findings on what will be set, refusals first. */
export function armingFindings(craft: Craft, found: ControllerFields | undefined): Finding[] {
  const controller = planOver(craft.plan.controller, found);
  const question = {
    craft: {...craft, plan: {...craft.plan, controller}},
    ...{escs: [], sightings: [], clockMhz: undefined},
  };
  const findings = armingRules.flatMap(({check, ...rule}): Finding[] => {
    const breach = check(question);
    return breach ? [{...rule, meaning: breach.meaning, place: 'flight controller'}] : [];
  });
  return findings.sort((a, b) => Number(a.severity === 'warn') - Number(b.severity === 'warn'));
}
