/** The plan of both sides: the flight controller's rotation sense follows the one choice of props in or out. */
import type {Craft, Plan} from './craft';

export const wholePlan = ({plan, props}: Pick<Craft, 'plan' | 'props'>): Plan => ({
  ...plan,
  controller: {...plan.controller, props},
});

export const withWholePlan = (craft: Craft): Craft => ({...craft, plan: wholePlan(craft)});
