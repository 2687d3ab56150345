import {readSettings} from '../../controller/settings/board-settings';
import {settingsPlannedFor} from '../../controller/settings/planned-settings';
import {runningName} from '../../firmware/controller-releases';
import type {StepOf} from '../../order/steps';
import {counted} from '../../words/counted';
import {stop, type RunContext} from '../run-context';
import {bringSettings} from './bring-settings';

/** Sets what is planned, as far as the firmware that runs now takes it; what it does not take is named. */
export async function setSettings(run: RunContext, step: StepOf<'set-settings'>): Promise<void> {
  const {client} = run;
  await run.note(step, 'begin', 'Setting the other settings of the flight controller.');
  await client.hello();
  const identity = await client.request('controller.identify', null);
  const firmware = runningName(identity);
  if (!client.can('settings.describe'))
    throw stop(
      'unsettable',
      'flight controller',
      `${firmware} does not describe its settings, so that they cannot be set.`,
      'Take them out of the plan on the Parameters station, or resume without this step.',
    );
  run.progress(step, 0.1, 'Flight controller: reading what it holds');
  const now = await readSettings(client, firmware);
  const planned = settingsPlannedFor(step.settings, {version: identity.version, entries: now.entries});
  const lines = planned.filter(({refusal}) => refusal === undefined);
  await bringSettings(run, step, {lines: lines.map(({key, value}) => ({key, value})), firmware, now});
  const refused = planned.filter(({refusal}) => refusal !== undefined);
  const left = refused.map(({key, refusal}) => ` ${key} is not set. ${refusal}`).join('');
  await run.note(step, 'done', `${counted(lines.length, 'other setting')} held after a restart.${left}`);
}
