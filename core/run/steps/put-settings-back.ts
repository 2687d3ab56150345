import {readSettings, type BoardSettings} from '../../controller/settings/board-settings';
import {carrySettings, linesOf, type CarriedSetting, type SettingFate} from '../../controller/settings/carry-settings';
import {isFieldKey} from '../../controller/settings/field-entries';
import {textVersionOf} from '../../controller/text/carry-config';
import {runningName} from '../../firmware/controller-releases';
import type {StepOf} from '../../order/steps';
import {counted} from '../../words/counted';
import type {RunContext} from '../run-context';
import {bringSettings} from './bring-settings';

/** Puts back what the firmware before held, and accounts for each setting. */
export async function putSettingsBack(run: RunContext, step: StepOf<'carry-settings'>): Promise<void> {
  const {client, order} = run;
  const before = order.found.controller!.settings!;
  await run.note(step, 'begin', 'Putting the other settings of the flight controller back.');
  await client.hello();
  if (!client.can('settings.describe'))
    return run.note(
      step,
      'done',
      `The new firmware does not describe its settings: the ${before.entries.length} of before are in the snapshot.`,
    );
  const identity = await client.request('controller.identify', null);
  const firmware = runningName(identity);
  run.progress(step, 0.1, 'Flight controller: reading what the new firmware holds');
  const now = await readSettings(client, firmware);
  const from = order.found.controller!.identity.version;
  const carried = carrySettings(before, now.entries, {from, to: identity.version});
  const isOwn = ({to}: CarriedSetting) => to === undefined || !isFieldKey(to, textVersionOf(identity.version));
  const lines = linesOf(carried.filter(isOwn));
  await bringSettings(run, step, {lines, firmware, now});
  await run.note(step, 'done', accountOf(carried, before));
}

/** Every setting of before and of now, counted by what became of it; what was lost is named. */
export function accountOf(carried: readonly CarriedSetting[], {entries}: BoardSettings): string {
  const of = (...fates: readonly SettingFate[]) => carried.filter(({fate}) => fates.includes(fate));
  const named = (lines: readonly CarriedSetting[]) =>
    lines.length ? ` (${lines.map(({from}) => from).join(', ')})` : '';
  const [gone, bent] = [of('gone'), of('out of range')];
  return (
    `${counted(entries.length, 'setting')} accounted for: ${of('kept').length} kept, ` +
    `${of('moved', 'renamed').length} moved or renamed, ${of('split').length} split, ` +
    `${bent.length} out of range${named(bent)}, ${gone.length} gone${named(gone)}; ${of('new').length} new.`
  );
}
