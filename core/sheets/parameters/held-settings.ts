/** Everything that a flight controller holds beside the fields of the plan: by its own description, searched and opened. */
import {sameJson} from '../../canonical-json';
import {lockWords} from '../../controller/locks';
import {textOf} from '../../controller/settings/carry-settings';
import {otherEntries} from '../../controller/settings/field-entries';
import {runningName} from '../../firmware/controller-releases';
import {expectedOf} from '../../link/setting-accepts';
import type {SettingEntry, SettingKind, SettingValue, SettingValues} from '../../link/setting-shapes';
import {capital} from '../../words/capital';
import {counted} from '../../words/counted';
import type {JudgedCraft} from '../craft-question';

export interface SettingsSearch {
  /** Every word of it stands in the key or the sentence of a setting. */
  readonly text: string;
  readonly onlyChanged: boolean;
  /** Key of the setting that is opened; undefined while none is. */
  readonly opened: string | undefined;
}

interface HeldSettings {
  /** How many there are, of which firmware. */
  readonly title: string;
  /** What is said where none are there, or none match; empty where lines stand. */
  readonly empty: string;
  readonly sections: readonly HeldSection[];
  /** What the button says that leaves those at their default away. */
  readonly changedText: string;
}

interface HeldSection {
  readonly name: string;
  readonly lines: readonly HeldLine[];
}

interface HeldLine {
  readonly key: string;
  /** Key without its section, in words. */
  readonly name: string;
  readonly found: string;
  readonly usual: string;
  readonly isUsual: boolean;
  /** What is told of one that is opened; undefined of the others. */
  readonly opened: OpenedLine | undefined;
}

interface OpenedLine {
  readonly sentence: string;
  /** What it takes, since when it is there, what locks it: a name and a text each. */
  readonly facts: readonly {readonly name: string; readonly text: string}[];
  /** A table's rows with their heads, as they were found; undefined where it is none. */
  readonly table: {readonly heads: readonly string[]; readonly rows: readonly (readonly string[])[]} | undefined;
}

export function heldSettingsSheet({record}: Pick<JudgedCraft, 'record'>, search: SettingsSearch): HeldSettings {
  const {identity, settings, unread} = record.found?.controller ?? {};
  const nothing = (empty: string): HeldSettings => ({
    title: 'Everything else it holds',
    empty,
    sections: [],
    changedText: '',
  });
  if (!identity) return nothing('It has not been read: survey the bench.');
  if (unread)
    return nothing(
      'It describes its settings, and long transfers get lost on the way: plug the cable straight into the computer, without a hub, and survey again.',
    );
  if (!settings) return nothing(`${runningName(identity)} does not describe what else it holds.`);
  const all = otherEntries(settings, identity.version);
  const changed = all.filter((entry) => !isUsual(entry, settings.values));
  const words = search.text.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = (search.onlyChanged ? changed : all).filter((entry) => matches(entry, words));
  const sections = [...new Set(shown.map(sectionOf))];
  return {
    title: `Everything else it holds, ${counted(all.length, 'setting')} by the account of ${runningName(identity)}`,
    empty: shown.length ? '' : 'No setting matches: shorten the search, or show all.',
    sections: sections.map((section) => ({
      name: capital(section.replaceAll('_', ' ')),
      lines: shown
        .filter((entry) => sectionOf(entry) === section)
        .map((entry) => lineOf(entry, settings.values, search)),
    })),
    changedText: search.onlyChanged ? 'Show all' : `Only what is not default, ${changed.length}`,
  };
}

const sectionOf = ({key}: SettingEntry): string => key.split('.')[0]!;
const nameOf = ({key}: SettingEntry): string => (key.split('.')[1] ?? key).replaceAll('_', ' ');
const isUsual = ({key, usual}: SettingEntry, values: SettingValues): boolean => sameJson(values[key], usual);

function matches(entry: SettingEntry, words: readonly string[]): boolean {
  const said = `${entry.key} ${entry.key.replaceAll(/[._]/g, ' ')} ${entry.sentence}`.toLowerCase();
  return words.every((word) => said.includes(word));
}

function lineOf(entry: SettingEntry, values: SettingValues, {opened}: SettingsSearch): HeldLine {
  const value = values[entry.key]!;
  return {
    ...{key: entry.key, name: nameOf(entry), isUsual: isUsual(entry, values)},
    found: withUnit(value, entry.kind),
    usual: withUnit(entry.usual, entry.kind),
    opened: opened === entry.key ? openedOf(entry, value) : undefined,
  };
}

/** A value with its unit; words without the marks of a text. */
function withUnit(value: SettingValue, kind: SettingKind): string {
  if (kind.of === 'truth') return value === true ? 'on' : 'off';
  if (kind.of === 'one of' && typeof value === 'string') return value;
  const text = value === '' ? 'empty' : textOf(value);
  return kind.of === 'number' && kind.unit ? `${text} ${kind.unit}` : text;
}

function openedOf({kind, sentence, since, lockedWhile, was}: SettingEntry, value: SettingValue): OpenedLine {
  const before = was?.map((former) => `${former.key}, before ${former.before}`).join('; ');
  const facts = [
    {name: 'takes', text: expectedOf(kind)},
    {name: 'there since', text: since},
    ...(before ? [{name: 'was', text: before}] : []),
    ...(lockedWhile ? [{name: 'locked', text: lockWords[lockedWhile].why}] : []),
  ];
  return {sentence, facts, table: kind.of === 'table' ? tableOf(kind, value) : undefined};
}

function tableOf({columns}: Extract<SettingKind, {of: 'table'}>, value: SettingValue): OpenedLine['table'] {
  const rows = Array.isArray(value) ? value.filter((row) => typeof row === 'object') : [];
  return {
    heads: columns.map(({name}) => name.replaceAll('_', ' ')),
    rows: rows.map((row) => columns.map(({name, kind}) => withUnit(row[name] ?? '', kind))),
  };
}
