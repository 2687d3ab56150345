/** Sets the flight controller, and looks after its restart whether it kept what it was given. */
import * as z from 'zod';
import {findDifferences} from '../../compare/difference';
import {
  controllerDifferences,
  controllerFieldName,
  controllerFields,
  type ControllerDifference,
} from '../../controller/fields';
import {controllerConfigShape, type ControllerPlan} from '../../controller/plan';
import type {CarriedLine} from '../../controller/text/carry-text';
import {readConfig, setConfig} from '../../bench/controller-access';
import {changesShape, stepText} from '../../order/step-shapes';
import type {ControllerWork} from '../../order/controller-work';
import type {ChangeText, StepOf} from '../../order/steps';
import {ProblemError} from '../../problem';
import {stop, type RunContext} from '../run-context';
import type {RunnableKind} from '../step-kind';
import {pageRetries} from '../write-with-retries';

declare module '../../order/steps' {
  interface StepShapes {
    'set-controller': {readonly config: Partial<ControllerPlan>; readonly changes: readonly ChangeText[]};
  }
}

export const setController: RunnableKind<'set-controller'> = {
  kind: 'set-controller',
  shape: z.object({
    ...stepText,
    kind: z.literal('set-controller'),
    config: controllerConfigShape.partial(),
    changes: changesShape,
  }),
  plan({craft: {plan}, found, leaveSteps, controllerWork}) {
    if ((found.plugged ?? found.road) !== 'controller' || leaveSteps.includes('set-controller')) return [];
    const differences = findDifferences(plan, found).controller;
    if (controllerWork) return [afterFirmware(plan.controller, controllerWork, differences)];
    return stepOf('Set the flight controller', plan.controller, differences);
  },
  inverse({before, now}) {
    const [was, is] = [before.controller?.config, now.controller?.config];
    if (!was || !is) return [];
    const config = Object.fromEntries(controllerFields.map(({field}) => [field, was[field]]));
    return stepOf('Put the flight controller back', config, controllerDifferences(is, was));
  },
  touches: () => [{of: 'controller', at: 'controller'}],
  controllerGoal: ({config}) => config,
  follows: 'loader',
  leavable: 'Setting the flight controller',
  run: (run, [step]) => setAndLook(run, step),
};

/** New firmware knows nothing of what was set: all that carries over is set again, with the plan over it. */
function afterFirmware(
  plan: ControllerPlan,
  {carried, to}: ControllerWork,
  differences: readonly ControllerDifference[],
): StepOf<'set-controller'> {
  const count = (...fates: readonly CarriedLine['fate'][]) =>
    (carried?.report ?? []).filter((l) => fates.includes(l.fate)).length;
  const lost = (carried?.report ?? []).filter((l) => l.fate === 'gone' || l.fate === 'out of range');
  const note = carried
    ? `${count('kept')} lines kept, ${count('moved', 'renamed')} moved or renamed, ${count('new')} new, ${lost.length} without a place; with the plan over them`
    : 'its configuration was not read: the plan alone';
  return {
    ...{id: 'controller', kind: 'set-controller', note, estimateMs: 1_500},
    title: `Put the configuration back on ${to.family} ${to.version}`,
    config: {...carried?.fields, ...plan},
    changes: [
      ...differences.map(changeText),
      ...lost.map((l) => ({title: `${l.from ?? ''} ${l.was ?? ''}: ${l.fate}`, note: l.note})),
    ],
  };
}

const changeText = ({field, from, to}: ControllerDifference): ChangeText => ({
  title: `${controllerFieldName(field)} ${from} → ${to}`,
  note: '',
});

/** None where nothing differs. */
function stepOf(
  title: string,
  config: Partial<ControllerPlan>,
  differences: readonly ControllerDifference[],
): StepOf<'set-controller'>[] {
  if (!differences.length) return [];
  return [
    {
      id: 'controller',
      kind: 'set-controller',
      title,
      note: `${differences.length} ${differences.length === 1 ? 'field' : 'fields'}, saved, then restarted`,
      config,
      changes: differences.map(changeText),
      estimateMs: 1_500,
    },
  ];
}

async function setAndLook(run: RunContext, step: StepOf<'set-controller'>): Promise<void> {
  await run.note(step, 'begin', 'Setting the flight controller.');
  try {
    await setWithRetries(run, step);
  } catch (error) {
    if (!(error instanceof ProblemError) || error.problem.code !== 'controller-check') throw error;
    run.controllerLost = error;
    await run.note(step, 'isolated', `${error.problem.meaning} The ESCs are finished and proven without it.`);
    return;
  }
  await run.note(step, 'done', 'Flight controller set, saved and restarted; it holds what it was given.');
}

async function setWithRetries(run: RunContext, step: StepOf<'set-controller'>): Promise<void> {
  for (let attempt = 0; ; attempt++) {
    run.progress(step, 0.2, 'Flight controller: setting fields');
    await setConfig(run.client, step.config);
    await run.client.request('controller.save', null);
    run.progress(step, 0.6, 'Flight controller: restarting');
    await run.client.request('controller.restart', null);
    const config = await readConfig(run.client);
    const lost = controllerDifferences(config, {...config, ...step.config});
    if (!lost.length) return;
    const fields = lost.map((d) => controllerFieldName(d.field)).join(', ');
    if (attempt < pageRetries) {
      await run.note(step, 'retry', `After its restart the flight controller did not hold ${fields}; once more.`);
      continue;
    }
    throw stop(
      'controller-check',
      'flight controller',
      `After ${pageRetries + 1} tries it does not keep ${fields}: its memory for settings is worn.`,
      'Resume to try once more; if it fails again, exchange the flight controller.',
    );
  }
}
