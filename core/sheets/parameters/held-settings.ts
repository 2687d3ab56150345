/** Everything that a flight controller holds beside the fields of the plan: by its own description, planned line by line. */
import {changesOver, type SettingChangeOver} from '../../controller/settings/changes-over';
import {settingRemarks} from '../../compare/setting-remarks';
import {planOver} from '../../controller/plan';
import {textOf} from '../../controller/settings/carry-settings';
import {otherEntries} from '../../controller/settings/field-entries';
import {
  settingsPlannedFor,
  valuesPlannedFor,
  withSettings,
  type Described,
  type PlannedSetting,
  type SettingEdits,
} from '../../controller/settings/planned-settings';
import type {Craft} from '../../craft/craft';
import type {FoundController} from '../../bench/found';
import {runningName} from '../../firmware/controller-releases';
import type {Remark} from '../../remark';
import type {SettingEntry, SettingValues} from '../../link/setting-shapes';
import {settingsHeldBy, type Snapshot} from '../../snapshot/snapshot';
import {capital} from '../../words/capital';
import {counted} from '../../words/counted';
import type {JudgedCraft} from '../craft-question';
import {heldLine, type HeldLine} from './held-line';

/** What is shown alone: what differs from the plan, what is not default, what the last update of the firmware changed. */
export type SettingsFilter = 'plan' | 'usual' | 'update';

export interface SettingsSearch {
  /** Every word of it stands in the key or the sentence of a setting. */
  readonly text: string;
  /** Undefined where all are shown. */
  readonly only: SettingsFilter | undefined;
  /** Key of the setting that is opened; undefined while none is. */
  readonly opened: string | undefined;
  /** Of the craft, newest first: what its firmware of before held. */
  readonly snapshots: readonly Snapshot[];
}

interface HeldSettings {
  /** How many there are, of which firmware. */
  readonly title: string;
  /** What is said where none are there, or none match; empty where lines stand. */
  readonly empty: string;
  readonly sections: readonly HeldSection[];
  /** What can be shown alone; none where nothing is there. */
  readonly filters: readonly {readonly only: SettingsFilter; readonly text: string; readonly isOn: boolean}[];
  /** What settings say together with the craft. */
  readonly remarks: readonly Remark[];
  /** What one press plans. */
  readonly offers: readonly {readonly text: string; readonly edits: SettingEdits}[];
  /** What is planned and this firmware cannot hold: the key that it was planned by, and why. */
  readonly refused: readonly {readonly key: string; readonly text: string}[];
}

interface HeldSection {
  readonly name: string;
  readonly lines: readonly HeldLine[];
  readonly keys: readonly string[];
  /** How many lines a button of the section acts on: "7 lines". */
  readonly count: string;
}

type Asked = Pick<JudgedCraft, 'craft' | 'record' | 'plan'>;

const nothing = (empty: string): HeldSettings => ({
  ...{title: 'Everything else it holds', empty, sections: [], filters: [], refused: [], remarks: [], offers: []},
});

export function heldSettingsSheet(q: Asked, search: SettingsSearch): HeldSettings {
  const {controller} = q.record.found ?? {};
  if (!controller) return nothing('It has not been read: survey the bench.');
  if (controller.unread)
    return nothing(
      'It describes its settings, and long transfers get lost on the way: plug the cable straight into the computer, without a hub, and survey again.',
    );
  if (!controller.settings) return nothing(`${runningName(controller.identity)} does not describe what else it holds.`);
  return sheetOf(q, controller, search);
}

function sheetOf({plan, craft}: Asked, controller: FoundController, search: SettingsSearch): HeldSettings {
  const {identity, settings} = controller;
  const held = settings!;
  const all = otherEntries(held, identity.version);
  const planned = settingsPlannedFor(plan.settings, describedBy(controller));
  const values = valuesPlannedFor(plan.settings, describedBy(controller));
  const changes = lastUpdate(controller, search.snapshots);
  const now = {...held.values, ...values};
  const lineAt = (entry: SettingEntry): HeldLine =>
    heldLine({
      ...{entry, found: held.values[entry.key]!, planned: values[entry.key]},
      ...{change: changes?.get(entry.key), isOpened: search.opened === entry.key},
    });
  const lines = all.map((entry) => ({entry, line: lineAt(entry)}));
  const isIn: Readonly<Record<SettingsFilter, (line: HeldLine) => boolean>> = {
    plan: ({differs}) => differs,
    usual: ({isUsual}) => !isUsual,
    update: ({key}) => changes?.has(key) === true,
  };
  const words = search.text.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = lines
    .filter(({entry, line}) => matches(entry, words) && (search.only === undefined || isIn[search.only](line)))
    .map(({line}) => line);
  return {
    title: `Everything else it holds, ${counted(all.length, 'setting')} by the account of ${runningName(identity)}`,
    empty: shown.length ? '' : 'No setting matches: shorten the search, or show all.',
    sections: sectionsOf(shown),
    filters: filterNames
      .filter(({only}) => only !== 'update' || changes)
      .map(({only, name}) => ({
        ...{only, isOn: search.only === only},
        text: `${name}, ${lines.filter(({line}) => isIn[only](line)).length}`,
      })),
    remarks: remarksOf({plan, craft}, controller, now),
    offers: namesOffered(craft, all, now),
    refused: planned.flatMap(refusedOf),
  };
}

function remarksOf(
  {plan, craft}: Pick<Asked, 'plan' | 'craft'>,
  {identity, config}: FoundController,
  values: SettingValues,
) {
  const channels = planOver(plan.controller, config);
  return settingRemarks({craft, values, channels, loopHz: channels.loopHz, logBytes: identity.logBytes});
}

/** The name of the craft, as much of it as there is room for, where the flight controller has another. */
function namesOffered(craft: Craft, entries: readonly SettingEntry[], values: SettingValues): HeldSettings['offers'] {
  const entry = entries.find(({key}) => key === 'craft.name');
  if (entry?.kind.of !== 'text') return [];
  const name = craft.name.trim().slice(0, entry.kind.longest);
  return values[entry.key] === name ? [] : [{text: `Plan the name ${name}`, edits: {[entry.key]: name}}];
}

const filterNames: readonly {readonly only: SettingsFilter; readonly name: string}[] = [
  {only: 'plan', name: 'Differs from plan'},
  {only: 'usual', name: 'Not default'},
  {only: 'update', name: 'Changed by the update'},
];

function sectionsOf(lines: readonly HeldLine[]): HeldSection[] {
  const sectionOf = ({key}: HeldLine) => key.split('.')[0]!;
  return [...new Set(lines.map(sectionOf))].map((section) => {
    const own = lines.filter((line) => sectionOf(line) === section);
    const keys = own.map(({key}) => key);
    return {name: capital(section.replaceAll('_', ' ')), lines: own, keys, count: counted(keys.length, 'line')};
  });
}

function matches(entry: SettingEntry, words: readonly string[]): boolean {
  const said = `${entry.key} ${entry.key.replaceAll(/[._]/g, ' ')} ${entry.sentence}`.toLowerCase();
  return words.every((word) => said.includes(word));
}

const refusedOf = ({plannedAs, value, refusal}: PlannedSetting) =>
  refusal === undefined ? [] : [{key: plannedAs, text: `Planned as ${textOf(value)}. ${refusal}`}];

const describedBy = ({identity, settings}: FoundController): Described => ({
  ...{version: identity.version, entries: settings!.entries},
});

/** By the newest snapshot of other firmware; undefined where there is none. */
function lastUpdate(
  controller: FoundController,
  snapshots: readonly Snapshot[],
): ReadonlyMap<string, SettingChangeOver> | undefined {
  const now = describedBy(controller);
  for (const snapshot of snapshots) {
    const before = settingsHeldBy(snapshot);
    if (before && before.version !== now.version) return changesOver(before, now);
  }
  return undefined;
}

export type {SettingEdits} from '../../controller/settings/planned-settings';

/** What lines are planned as: their default, what was found, or nothing. */
export type PlanAs = 'default' | 'found' | 'nothing';

export function editsTo({record}: Pick<JudgedCraft, 'record'>, keys: readonly string[], to: PlanAs): SettingEdits {
  const {entries, values} = record.found!.controller!.settings!;
  const usual = new Map(entries.map((entry) => [entry.key, entry.usual]));
  const value = (key: string) => (to === 'default' ? usual.get(key) : to === 'found' ? values[key] : undefined);
  return Object.fromEntries(keys.map((key) => [key, value(key)]));
}

/** The craft with these settings planned. The flight controller must have been read. */
export function withPlannedSettings(craft: Craft, {record}: Pick<JudgedCraft, 'record'>, edits: SettingEdits): Craft {
  const {settings: planned, ...plan} = craft.plan;
  const settings = withSettings(planned, describedBy(record.found!.controller!), edits);
  return {...craft, plan: settings ? {...plan, settings} : plan};
}
