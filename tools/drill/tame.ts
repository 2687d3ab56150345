/** A random plan that Bidex would refuse is no drill: what its rules refuse is planned at its default instead. */
import type {Craft} from '@core/craft/craft';
import {definitionOf} from '@core/settings/definitions';
import type {Found} from '@core/bench/found';
import {judgePlan, ruleQuestion} from '@core/compare/rules/judge-plan';
import type {OrderQuestion} from '@core/order/work-order';

export function tame(craft: Craft, found: Found, imageFor: OrderQuestion['imageFor']): Craft {
  const refused = judgePlan(ruleQuestion(craft, found, imageFor)).filter((f) => f.severity === 'refuse');
  const keys = refused.flatMap((f) => f.keys);
  const parameters: Craft['plan']['parameters'] = {...craft.plan.parameters};
  for (const key of keys) parameters[key] = {kind: 'same', value: definitionOf(key).default};
  return {...craft, plan: {...craft.plan, parameters}};
}
