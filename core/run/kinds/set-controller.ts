/** Sets the flight controller, and looks after its restart whether it kept what it was given. */
import * as z from 'zod';
import {findDifferences} from '../../compare/difference';
import {
  controllerDifferences,
  controllerFieldName,
  controllerFields,
  type ControllerDifference,
} from '../../controller/fields';
import {controllerConfigSchema, type ControllerPlan} from '../../controller/plan';
import {lockNote, lockWords} from '../../controller/locks';
import type {CarriedLine} from '../../controller/text/carry-text';
import {readConfig, setConfig} from '../../bench/controller-access';
import type {FoundController} from '../../bench/found';
import {changesSchema, stepText} from '../../order/step-schemas';
import type {ControllerWork} from '../../order/controller-work';
import type {ChangeText, StepOf} from '../../order/steps';
import {ProblemError} from '../../problem';
import {stop, type RunContext} from '../run-context';
import type {RunnableKind} from '../steps/runnable-kind';
import {waitForBattery, waitForUnlock} from '../steps/wait-for-unlock';
import {pageRetries} from '../steps/write-with-retries';

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
    config: controllerConfigSchema.partial(),
    changes: changesSchema,
  }),
  plan({craft: {plan}, found, leaveSteps, controllerWork}) {
    if ((found.plugged ?? found.road) !== 'controller' || leaveSteps.includes('set-controller')) return [];
    const changes = changesOf(findDifferences(plan, found).controller, found.controller?.locks);
    if (controllerWork)
      return [afterFirmware(plan.controller, controllerWork, [...changes, ...mayBeLocked(found.controller)])];
    return stepOf('Set the flight controller', plan.controller, changes);
  },
  inverse({before, now}) {
    const [was, is] = [before.controller?.config, now.controller?.config];
    if (!was || !is) return [];
    const config = Object.fromEntries(controllerFields.map(({field}) => [field, was[field]]));
    const changes = changesOf(controllerDifferences(is, was), now.controller?.locks);
    return stepOf('Put the flight controller back', config, changes);
  },
  touches: () => [{of: 'controller', at: 'controller'}],
  controllerGoal: ({config}) => config,
  follows: ['loader'],
  leavable: 'Setting the flight controller',
  run: (run, [step]) => setAndLook(run, step),
};

/** New firmware knows nothing of what was set: all that carries over is set again, with the plan over it. */
function afterFirmware(
  plan: ControllerPlan,
  {carried, to}: ControllerWork,
  changes: readonly ChangeText[],
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
    changes: [...changes, ...lost.map((l) => ({title: `${l.from ?? ''} ${l.was ?? ''}: ${l.fate}`, note: l.note}))],
  };
}

const changesOf = (differences: readonly ControllerDifference[], locks: FoundController['locks']): ChangeText[] =>
  differences.map(({field, from, to}) => ({
    title: `${controllerFieldName(field)} ${from} → ${to}`,
    note: lockNote(field, locks),
  }));

/** What new firmware comes with is not known before: fields that it may ask to be unlocked for. */
const mayBeLocked = (found: FoundController | undefined): ChangeText[] =>
  (found?.locks ?? [])
    .filter((lock) => lock.while !== 'armed')
    .map(({fields, while: state}) => ({
      title: `${controllerFields
        .filter(({field}) => fields.includes(field))
        .map(({name}) => name)
        .join(', ')}: where it comes with another value, you are asked`,
      note: `${lockWords[state].why}. ${lockWords[state].unlock}`,
    }));

/** None where nothing differs. */
function stepOf(
  title: string,
  config: Partial<ControllerPlan>,
  changes: readonly ChangeText[],
): StepOf<'set-controller'>[] {
  if (!changes.length) return [];
  return [
    {
      id: 'controller',
      kind: 'set-controller',
      title,
      note: `${changes.length} ${changes.length === 1 ? 'field' : 'fields'}, saved, then restarted`,
      config,
      changes,
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
  const {clockMhz} = step.config;
  const clock = clockMhz ? ` Set to ${clockMhz} MHz, it came back and speaks over USB.` : '';
  await run.note(step, 'done', `Flight controller set, saved and restarted; it holds what it was given.${clock}`);
}

/** Sets the fields once nothing locks them; a lock that closes in between is waited for again. */
async function setUnlocked(run: RunContext, step: StepOf<'set-controller'>): Promise<boolean> {
  let batteryOff = false;
  for (;;) {
    batteryOff = (await waitForUnlock(run, step, step.config)) || batteryOff;
    run.progress(step, 0.2, 'Flight controller: setting fields');
    try {
      await setConfig(run.client, step.config);
      return batteryOff;
    } catch (error) {
      if (!(error instanceof ProblemError) || error.problem.code !== 'locked') throw error;
      if (!run.client.can('locks.read')) throw error;
    }
  }
}

/** A raised clock may keep the board from coming back: then it is said what that is, and what to do. */
async function restart(run: RunContext, config: Partial<ControllerPlan>): Promise<void> {
  try {
    await run.client.request('controller.restart', null);
  } catch (error) {
    const isSilent = error instanceof ProblemError && error.problem.code === 'unanswered' && !run.client.isClosed;
    if (!isSilent || !config.clockMhz) throw error;
    if (await answers(run)) return;
    throw stop(
      'clock-too-high',
      'flight controller',
      `Started at ${config.clockMhz} MHz it does not come back: its processor or its USB does not run at that clock.`,
      'In this order: plan the clock as it is rated; pull the cable and plug it in with its button held or its pads bridged, which forgets the raised clock; survey and carry out the new order. Nothing else was lost.',
    );
  }
}

/** An answer that got lost looks like a board that is gone: it is asked once more. */
async function answers(run: RunContext): Promise<boolean> {
  try {
    await run.client.request('controller.identify', null);
    return true;
  } catch (error) {
    if (!(error instanceof ProblemError) || error.problem.code !== 'unanswered' || run.client.isClosed) throw error;
    return false;
  }
}

async function setWithRetries(run: RunContext, step: StepOf<'set-controller'>): Promise<void> {
  for (let attempt = 0; ; attempt++) {
    const batteryOff = await setUnlocked(run, step);
    await run.client.request('controller.save', null);
    run.progress(step, 0.6, 'Flight controller: restarting');
    await restart(run, step.config);
    const config = await readConfig(run.client);
    if (batteryOff) await waitForBattery(run, step);
    const lost = controllerDifferences(config, {...config, ...step.config});
    if (!lost.length) return;
    const fields = lost.map((d) => controllerFieldName(d.field)).join(', ');
    if (attempt < pageRetries) {
      await run.note(step, 'retry', `After its restart the flight controller did not keep ${fields}; trying again.`);
      continue;
    }
    throw stop(
      'controller-check',
      'flight controller',
      `After ${pageRetries + 1} tries it does not keep ${fields}: its memory for settings is worn.`,
      'Resume to try again. If it fails again, replace the flight controller.',
    );
  }
}
