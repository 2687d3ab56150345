/** A chosen script as it runs on one craft: what turns, how far, and what cuts it. */
import type {Found} from '../../bench/found';
import type {Craft} from '../../craft/craft';
import {MotionGuard} from '../hold/motion-guard';
import {guardQuestion} from '../replies/reply-question';
import type {ScriptOptions} from './run-script';
import {aloneThrottle, scriptOf, usualChoice, type ScriptChoice} from './script-choices';

export interface ScriptRun {
  readonly choice: ScriptChoice;
  /** Throttle that it does not go beyond, 0…1. */
  readonly cap: number;
  /** Outputs that are turned; all of the craft where left out. */
  readonly outputs?: readonly number[] | undefined;
  /** Outputs that the controller has; as many as the craft has arms where left out. */
  readonly allOutputs?: number | undefined;
}

/** The card of every motor, which the proof of motion is taken from. */
export const everyCard: ScriptRun = {choice: usualChoice, cap: usualChoice.top};

export function scriptRun(
  {choice, cap, outputs, allOutputs}: ScriptRun,
  craft: Craft,
  found: Found | undefined,
): Pick<ScriptOptions, 'script' | 'outputs' | 'allOutputs' | 'poles' | 'guard' | 'aloneAt'> {
  const idle = craft.plan.controller.idlePercent / 100;
  const motors = craft.arms.length;
  const turned = outputs ?? craft.arms.map((_, output) => output);
  return {
    script: scriptOf(choice, idle, cap),
    ...{outputs: turned, allOutputs: allOutputs ?? motors, poles: craft.motor.poles},
    guard: new MotionGuard(guardQuestion(craft, found, turned)),
    aloneAt: aloneThrottle({choice, outputs: turned, motors}, idle),
  };
}
