/** Sets the flight controller, and looks after its restart whether it kept what it was given. */
import {controllerDifferences, controllerFieldName} from '../controller/fields';
import {configFromWire, configToWire} from '../controller/wire';
import {ProblemError} from '../problem';
import {stop, type RunContext} from './run-context';
import type {StepOf} from '../order/steps';
import {pageRetries} from './write-with-retries';

export async function setController(run: RunContext, step: StepOf<'set-controller'>): Promise<void> {
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
    await run.client.request('controller.set', configToWire(step.config));
    await run.client.request('controller.save', null);
    run.progress(step, 0.6, 'Flight controller: restarting');
    await run.client.request('controller.restart', null);
    const config = configFromWire(await run.client.request('controller.read', null));
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
