/** Writes settings beside the fields of a flight controller until it holds them after a restart. */
import {readSettings, writeSettings, type BoardSettings} from '../../controller/settings/board-settings';
import {lockWords} from '../../controller/locks';
import {sameJson} from '../../canonical-json';
import type {SettingLine} from '../../link/setting-shapes';
import {sleep} from '../../link/port';
import type {Step} from '../../order/steps';
import {ProblemError} from '../../problem';
import {counted} from '../../words/counted';
import {stop, type RunContext} from '../run-context';
import {lookEveryMs, waitForBattery, waitsFor} from './wait-for-unlock';
import {pageRetries} from './write-with-retries';

interface Wanted {
  readonly lines: readonly SettingLine[];
  /** Name and version of the firmware that runs. */
  readonly firmware: string;
  /** What it holds now. */
  readonly now: BoardSettings;
}

/** Writes what differs, saves it, restarts, and reads it again. */
export async function bringSettings(run: RunContext, step: Step, {lines, firmware, now}: Wanted): Promise<void> {
  const {client} = run;
  const lacking = ({values}: BoardSettings) => lines.filter(({key, value}) => !sameJson(values[key], value));
  let missing = lacking(now);
  for (let attempt = 0; missing.length; attempt++) {
    const keys = missing.map(({key}) => key).join(', ');
    if (attempt > pageRetries)
      throw stop(
        'controller-check',
        'flight controller',
        `After ${attempt} tries it does not keep ${keys}: its memory for settings is worn.`,
        'Resume to try again. If it fails again, replace the flight controller.',
      );
    if (attempt) await run.note(step, 'retry', `After its restart it did not keep ${keys}; trying again.`);
    run.progress(step, 0.4, `Flight controller: setting ${counted(missing.length, 'line')}`);
    const batteryOff = await writeUnlocked(run, step, {missing, now});
    await client.request('settings.save', null);
    run.progress(step, 0.7, 'Flight controller: restarting');
    await client.request('controller.restart', null);
    missing = lacking(await readSettings(client, firmware));
    if (batteryOff) await waitForBattery(run, step);
  }
}

interface Missing {
  readonly missing: readonly SettingLine[];
  readonly now: BoardSettings;
}

/** Writes once nothing locks them: a person unlocks. Resolves with whether the battery was taken off for it. */
async function writeUnlocked(run: RunContext, step: Step, {missing, now}: Missing): Promise<boolean> {
  for (let batteryOff = false; ;) {
    run.checkCancel();
    try {
      await writeSettings(run.client, missing);
      return batteryOff;
    } catch (error) {
      if (!(error instanceof ProblemError) || error.problem.code !== 'locked') throw error;
      const isNamed = ({key}: SettingLine) => error.problem.place.endsWith(key);
      const key = missing.find(isNamed)?.key;
      const lock = now.entries.find((entry) => entry.key === key)?.lockedWhile;
      if (!lock) throw error;
      batteryOff ||= lock === 'powered';
      const {why, unlock} = lockWords[lock];
      run.progress(step, 0.3, `${unlock}: ${key} is ${why}.`, {waitsFor: waitsFor[lock]});
      await sleep(run.host.clock, lookEveryMs);
    }
  }
}
