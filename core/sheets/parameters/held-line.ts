/** One setting of a flight controller as its line says it: found, planned, default, and what is told when it is opened. */
import {lockWords} from '../../controller/locks';
import {textOf} from '../../controller/settings/carry-settings';
import type {SettingChangeOver} from '../../controller/settings/changes-over';
import {sameJson} from '../../canonical-json';
import {expectedOf} from '../../link/setting-accepts';
import {placesOf} from './places';
import type {SettingEntry, SettingKind, SettingValue} from '../../link/setting-shapes';

export interface HeldLine {
  readonly key: string;
  /** Key without its section, in words. */
  readonly name: string;
  readonly found: string;
  readonly plan: string;
  readonly usual: string;
  readonly isUsual: boolean;
  readonly differs: boolean;
  readonly verdict: 'as planned' | 'differs' | 'not planned';
  /** What is told of one that is opened; undefined of the others. */
  readonly opened: OpenedLine | undefined;
}

interface OpenedLine {
  readonly sentence: string;
  /** What it takes, since when it is there, what locks it: a name and a text each. */
  readonly facts: readonly {readonly name: string; readonly text: string}[];
  /** A table's rows with their heads, as they were found; undefined where it is none. */
  readonly table: {readonly heads: readonly string[]; readonly rows: readonly (readonly string[])[]} | undefined;
  /** Things with a place on a screen, as planned, else as found; undefined where it holds none. */
  readonly map: {readonly kind: SettingKind; readonly value: SettingValue} | undefined;
  /** What an editor starts with: as planned, else as found. Undefined for rows that are not planned: they are told as found. */
  readonly edited: {readonly kind: SettingKind; readonly value: SettingValue} | undefined;
  readonly isPlanned: boolean;
}

interface LineQuestion {
  readonly entry: SettingEntry;
  readonly found: SettingValue;
  /** Undefined where nothing is planned. */
  readonly planned: SettingValue | undefined;
  /** What the last update of the firmware did to it; undefined where nothing, or where there was none. */
  readonly change: SettingChangeOver | undefined;
  readonly isOpened: boolean;
}

export function heldLine(q: LineQuestion): HeldLine {
  const {entry, found, planned} = q;
  const differs = planned !== undefined && !sameJson(found, planned);
  return {
    ...{key: entry.key, name: settingName(entry), isUsual: sameJson(found, entry.usual), differs},
    found: settingText(found, entry.kind),
    plan: planned === undefined ? '–' : settingText(planned, entry.kind),
    usual: settingText(entry.usual, entry.kind),
    verdict: planned === undefined ? 'not planned' : differs ? 'differs' : 'as planned',
    opened: q.isOpened ? openedOf(q) : undefined,
  };
}

export const settingName = ({key}: Pick<SettingEntry, 'key'>): string =>
  (key.split('.')[1] ?? key).replaceAll('_', ' ');

/** A value with its unit; words without the marks of a text. */
export function settingText(value: SettingValue, kind: SettingKind): string {
  if (kind.of === 'truth') return value === true ? 'on' : 'off';
  if (kind.of === 'one of' && typeof value === 'string') return value;
  const text = value === '' ? 'empty' : textOf(value);
  return kind.of === 'number' && kind.unit ? `${text} ${kind.unit}` : text;
}

function openedOf({entry, found, planned, change}: LineQuestion): OpenedLine {
  const {kind, sentence, since, lockedWhile, was} = entry;
  const before = was?.map((former) => `${former.key}, before ${former.before}`).join('; ');
  const facts = [
    {name: 'takes', text: expectedOf(kind)},
    {name: 'there since', text: since},
    ...(before ? [{name: 'was', text: before}] : []),
    ...(change ? [{name: 'by the update', text: change.text}] : []),
    ...(lockedWhile ? [{name: 'locked', text: lockWords[lockedWhile].why}] : []),
  ];
  return {
    ...{sentence, facts, table: kind.of === 'table' ? tableOf(kind, found) : undefined},
    map: placesOf(kind, planned ?? found) && {kind, value: planned ?? found},
    edited: planned !== undefined || !isRows(kind) ? {kind, value: planned ?? found} : undefined,
    isPlanned: planned !== undefined,
  };
}

const isRows = (kind: SettingKind): boolean => kind.of === 'table' || kind.of === 'list';

function tableOf({columns}: Extract<SettingKind, {of: 'table'}>, value: SettingValue): OpenedLine['table'] {
  const rows = Array.isArray(value) ? value.filter((row) => typeof row === 'object') : [];
  return {
    heads: columns.map(({name}) => name.replaceAll('_', ' ')),
    rows: rows.map((row) => columns.map(({name, kind}) => settingText(row[name] ?? '', kind))),
  };
}
