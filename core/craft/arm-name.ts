/** "front left": what a motor is called beside its number. */
import type {Craft} from './craft';

/** Name of the arm that an output turns by the plan; empty for an output that the plan gives none. */
export const armName = ({arms, plan}: Pick<Craft, 'arms' | 'plan'>, output: number): string =>
  arms[plan.controller.arms[output] ?? output]?.name ?? '';
