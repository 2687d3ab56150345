/** A found controller that holds other settings than the plan: for questions that sheets are tried with. */
import type {Found} from '../bench/found';
import type {ControllerConfig} from '../controller/plan';
import type {Craft} from '../craft/craft';
import {foundAsPlanned} from './found-as-planned';

/** Everything found as planned, but for these fields of the flight controller. */
export function foundWith(craft: Craft, changes: Partial<ControllerConfig>): Found {
  const found = foundAsPlanned(craft);
  const {controller} = found;
  return {...found, controller: {...controller!, config: {...controller!.config, ...changes}}};
}

/** The craft with these fields of its flight controller planned. */
export const planning = (craft: Craft, changes: Partial<Craft['plan']['controller']>): Craft => ({
  ...craft,
  plan: {...craft.plan, controller: {...craft.plan.controller, ...changes}},
});
