/** Sets what is planned beside the fields of the flight controller, and looks after its restart whether it was kept. */
import * as z from 'zod';
import {findDifferences} from '../../compare/difference';
import type {BoardSettings} from '../../controller/settings/board-settings';
import {textOf} from '../../controller/settings/carry-settings';
import {otherEntries} from '../../controller/settings/field-entries';
import {lockWords} from '../../controller/locks';
import {
  plannedSettingsSchema,
  withSettings,
  type PlannedSettings,
  type SettingDifference,
} from '../../controller/settings/planned-settings';
import {sameJson} from '../../canonical-json';
import {changesSchema, stepText} from '../../order/step-schemas';
import type {ChangeText, StepOf} from '../../order/steps';
import {counted} from '../../words/counted';
import type {RunnableKind} from '../steps/runnable-kind';

declare module '../../order/steps' {
  interface StepShapes {
    'set-settings': {readonly settings: PlannedSettings; readonly changes: readonly ChangeText[]};
  }
}

export const setOtherSettings: RunnableKind<'set-settings'> = {
  kind: 'set-settings',
  shape: z.object({
    ...stepText,
    kind: z.literal('set-settings'),
    settings: plannedSettingsSchema,
    changes: changesSchema,
  }),
  plan({craft: {plan}, found, leaveSteps, controllerWork}) {
    const {settings} = plan;
    if (!settings || (found.plugged ?? found.road) !== 'controller' || leaveSteps.includes('set-settings')) return [];
    const differences = findDifferences(plan, found).settings.filter((d) => d.refusal === undefined);
    const changes = changesOf(differences, found.controller?.settings);
    // New firmware holds what nobody knows before: all of them are held against it.
    if (!differences.length && !controllerWork) return [];
    const count = controllerWork ? Object.keys(settings).length : differences.length;
    return [stepOf(`Set ${counted(count, 'other setting')} of the flight controller`, settings, changes)];
  },
  inverse({before, now}) {
    const [was, is] = [before.controller, now.controller];
    // What other firmware held is of no use to the one of now.
    if (!was?.settings || !is?.settings || was.identity.version !== is.identity.version) return [];
    const {version} = is.identity;
    const held = is.settings.values;
    const differences = otherEntries(was.settings, version).flatMap(({key}): SettingDifference[] => {
      const to = was.settings!.values[key]!;
      return sameJson(held[key], to) ? [] : [{key, from: held[key], to, refusal: undefined}];
    });
    if (!differences.length) return [];
    const edits = Object.fromEntries(differences.map(({key, to}) => [key, to]));
    const settings = withSettings(undefined, {version, entries: was.settings.entries}, edits)!;
    return [
      stepOf(`Put ${counted(differences.length, 'other setting')} back`, settings, changesOf(differences, is.settings)),
    ];
  },
  touches: () => [{of: 'controller', at: 'controller'}],
  settingsGoal: ({settings}) => settings,
  follows: ['loader'],
  leavable: 'Setting the other settings',
};

const stepOf = (title: string, settings: PlannedSettings, changes: readonly ChangeText[]): StepOf<'set-settings'> => ({
  ...{id: 'set-settings', kind: 'set-settings', title, settings, changes},
  note: 'saved, then restarted and read again',
  estimateMs: 2_000,
});

const changesOf = (differences: readonly SettingDifference[], held: BoardSettings | undefined): ChangeText[] =>
  differences.map(({key, from, to}) => {
    const lock = held?.entries.find((entry) => entry.key === key)?.lockedWhile;
    return {
      title: `${key} ${from === undefined ? 'nothing' : textOf(from)} → ${textOf(to)}`,
      // A craft is never armed while Bidex holds it.
      note: lock && lock !== 'armed' ? `${lockWords[lock].why}; the work order waits ${lockWords[lock].until}` : '',
    };
  });
