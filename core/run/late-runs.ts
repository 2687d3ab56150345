/**
 * How kinds of step are carried out whose code is large: the runner has it, so that whoever only makes orders, as the
 * application's first view does, needs none of it.
 */
import type {Step, StepKind, StepOf} from '../order/steps';
import type {JournalEntry} from './journal';
import type {RunContext} from './run-context';
import {stepKinds} from './steps/step-kinds';
import {measureMotion} from './steps/measure-motion';
import {putSettingsBack} from './steps/put-settings-back';
import {setSettings} from './steps/set-settings';

type Run<K extends StepKind> = (run: RunContext, steps: readonly [StepOf<K>, ...StepOf<K>[]]) => Promise<void>;

const late = {
  'prove-motion': (run, [step]) => measureMotion(run, step),
  'carry-settings': (run, [step]) => putSettingsBack(run, step),
  'set-settings': (run, [step]) => setSettings(run, step),
} satisfies {readonly [K in StepKind]?: Run<K>};

export const lateKinds = Object.keys(late) as readonly StepKind[];

/** Carries out steps of a kind that stand together. Throws a problem when the order must stop. */
export function carryOutSteps(
  run: RunContext,
  steps: readonly [Step, ...Step[]],
  entries: readonly JournalEntry[],
): Promise<void> {
  const kind = stepKinds.of(steps[0]);
  if (kind.run) return kind.run(run, steps, entries);
  return (late as Partial<Record<StepKind, Run<StepKind>>>)[kind.kind]!(run, steps);
}
