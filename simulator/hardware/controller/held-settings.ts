/** What the simulated flight controller answers about its settings: the fields of its configuration, and everything else. */
import {refusalOf} from '@core/link/setting-accepts';
import {fieldEntries, keyOf} from '@core/controller/settings/field-entries';
import {textVersionOf} from '@core/controller/text/carry-config';
import {fieldsIn, valueOf} from '@core/controller/text/field-values';
import {entries} from '@core/controller/text/entries';
import {canonicalJson, sameJson} from '@core/canonical-json';
import {crc32} from '@core/checksums';
import {hexOf} from '@core/hex';
import {everyField, type Answer, type Argument, type FieldLock, type WireConfig} from '@core/link/operations';
import type {SettingEntry, SettingLine, SettingValue, SettingValues, WrongLine} from '@core/link/setting-shapes';
import {plumbSettings} from './plumb-settings/plumb-settings';

/** What a line is set to: a field of the configuration, or a value beside it. */
export interface SettingChanges {
  readonly fields: Partial<WireConfig>;
  readonly kept: SettingValues;
}

/** Everything that a version of the firmware holds, in the order of its sections. */
export function describeSettings(version: string): SettingEntry[] {
  const all = [...fieldEntries(textVersionOf(version)), ...plumbSettings(version)];
  const sections = [...new Set(all.map(sectionOf))];
  return sections.flatMap((section) => all.filter((entry) => sectionOf(entry) === section));
}
const sectionOf = ({key}: SettingEntry) => key.split('.')[0]!;

interface Description {
  readonly id: string;
  readonly entries: readonly SettingEntry[];
}
const described = new Map<string, Description>();
function descriptionOf(version: string): Description {
  const known = described.get(version);
  if (known) return known;
  const entries = describeSettings(version);
  const told = {id: hexOf(crc32(new TextEncoder().encode(canonicalJson(entries))), 8), entries};
  described.set(version, told);
  return told;
}
const entriesOf = (version: string): readonly SettingEntry[] => descriptionOf(version).entries;

interface Held {
  readonly version: string;
  readonly config: WireConfig;
  readonly kept: SettingValues;
}

export function describeFrom(
  version: string,
  {from, most}: Argument<'settings.describe'>,
): Answer<'settings.describe'> {
  const {id, entries} = descriptionOf(version);
  return {count: entries.length, id, entries: entries.slice(from, from + most)};
}

export function readFrom(held: Held, {from, most}: Argument<'settings.read'>): Answer<'settings.read'> {
  const all = entriesOf(held.version);
  const lines = all
    .slice(from, from + most)
    .map((entry): SettingLine => ({key: entry.key, value: valueIn(held, entry)}));
  return {count: all.length, lines};
}

/** Field of the configuration that a line is of, or part of; undefined for one beside it. */
const fieldOf = (version: string, key: string): string | undefined => lineOf(version, key)?.field.split('.')[0];

const locksField = ({fields}: FieldLock, field: string | undefined): boolean =>
  fields.includes(everyField) || (field !== undefined && fields.includes(field));

function lineOf(version: string, key: string) {
  const text = textVersionOf(version);
  return entries.find(({places}) => places[text] && keyOf(places[text]) === key);
}

function valueIn({version, config, kept}: Held, {key, usual}: SettingEntry): SettingValue {
  const line = lineOf(version, key);
  if (!line) return kept[key] ?? usual;
  const value = valueOf(config, line.field);
  const {toLine} = line.places[textVersionOf(version)]!;
  return value === undefined ? usual : ((toLine ? toLine(value) : value) as SettingValue);
}

/** What lines would change, or which of them is wrong: then none is set. */
export function changesOf(
  held: Held,
  lines: readonly SettingLine[],
  locks: readonly FieldLock[],
): SettingChanges | WrongLine {
  const all = entriesOf(held.version);
  for (const [line, {key, value}] of lines.entries()) {
    const entry = all.find((e) => e.key === key);
    if (!entry) return {line, code: 'unknown', text: `This firmware has no "${key}".`};
    const refusal = refusalOf(entry.kind, value);
    if (refusal) return {line, ...refusal};
    const isChanged = !sameJson(valueIn(held, entry), value);
    const lock =
      isChanged &&
      locks.find((l) => l.held && (l.while === entry.lockedWhile || locksField(l, fieldOf(held.version, key))));
    if (lock) return {line, code: 'locked', text: `"${key}" cannot be set while it is ${lock.while}.`};
  }
  const version = textVersionOf(held.version);
  const texts = lines.map(({key, value}) => {
    const [section, name = ''] = key.split('.') as [string, string | undefined];
    return {section, key: name, value, line: 0, known: true};
  });
  const {fields, used} = fieldsIn(texts, version, held.config);
  const own = texts.flatMap((t, i) => (used.includes(t) ? [] : [[lines[i]!.key, lines[i]!.value] as const]));
  return {fields, kept: {...held.kept, ...Object.fromEntries(own)}};
}
