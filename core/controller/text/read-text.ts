/** Reads a controller text: every line, known or not; each fault with its line, its key and what was expected. */
import {parse, TomlDate, TomlError, type TomlTable, type TomlValue} from 'smol-toml';
import {entries, entryOf, headKeys, headSection, textVersions, type TextVersion} from './entries';
import {isTable} from '../kinds';
import {keyLines, LineIndex} from './lines';

interface TextFault {
  /** Counted from 1. */
  readonly line: number;
  /** Section and key, joined by a dot; empty where the text is no TOML. */
  readonly key: string;
  readonly message: string;
}

export interface TextLine {
  readonly section: string;
  /** Empty where the section itself is a list of tables. */
  readonly key: string;
  readonly value: TomlValue;
  readonly line: number;
  /** Whether the firmware that the text is of is known to have it. */
  readonly known: boolean;
}

export interface ControllerText {
  readonly firmware: string | undefined;
  readonly version: string | undefined;
  /** Version whose places the lines are read by: the text's own, else the newest. */
  readonly readAs: TextVersion;
  readonly lines: readonly TextLine[];
  readonly faults: readonly TextFault[];
}

/** Longest text that is read, letters, and most keys in it: the configurations of controllers have some hundred lines. */
const [longestText, maxKeys] = [1_000_000, 50_000];
/** Tables and lists inside each other: no controller has more than three levels. */
const deepest = 32;

/** Never throws: a text that is not valid TOML, or far too long, has no lines and one fault. */
export function readText(text: string): ControllerText {
  if (text.length > longestText)
    return refused(
      `It has ${text.length} letters. A controller text has some thousand; at most ${longestText} are read.`,
    );
  let table: TomlTable;
  try {
    table = parse(text);
  } catch (error) {
    if (!(error instanceof TomlError)) throw error;
    const message = `It is not valid TOML: ${error.message.split('\n')[0]!.replace(/^Invalid TOML document: /, '')}`;
    return refused(message, error.line);
  }
  if (!isWithin(table, deepest)) return refused(`Tables stand in tables more than ${deepest} levels deep.`);
  const read = linesOf(table);
  if (read.length > maxKeys)
    return refused(`It has ${read.length} keys. A controller has some hundred; at most ${maxKeys} are read.`);
  const where = new LineIndex(keyLines(text));
  const lines = read.map((l) => ({...l, line: where.lineOf(pathOf(l)), known: false}));
  const head = (key: string) => {
    const value = lines.find((l) => l.section === headSection && l.key === key)?.value;
    return typeof value === 'string' ? value : undefined;
  };
  const version = head('version');
  const readAs = textVersions.find((v) => v === version) ?? textVersions.at(-1)!;
  const faults: TextFault[] = [];
  if (version !== undefined && readAs !== version)
    faults.push(
      fault(where, `${headSection}.version`, `"${version}" is not known; expected one of ${textVersions.join(', ')}`),
    );
  const checked = lines.map((l): TextLine => {
    const kind = kindOf(l, readAs);
    if (kind && !kind.takes(l.value)) faults.push(fault(where, pathOf(l), `${shown(l.value)} is not ${kind.expected}`));
    return {...l, known: kind !== undefined};
  });
  return {firmware: head('firmware'), version, readAs, lines: checked, faults};
}

const nothing: ControllerText = {
  firmware: undefined,
  version: undefined,
  readAs: textVersions.at(-1)!,
  lines: [],
  faults: [],
};

/** Whether nothing stands deeper than so many levels. */
const isWithin = (value: TomlValue, levels: number): boolean =>
  typeof value !== 'object' ||
  value instanceof TomlDate ||
  (levels > 0 && (Array.isArray(value) ? value : Object.values(value)).every((v) => isWithin(v, levels - 1)));

const refused = (message: string, line = 1): ControllerText => ({...nothing, faults: [{line, key: '', message}]});

export const pathOf = ({section, key}: Pick<TextLine, 'section' | 'key'>): string =>
  [section, key].filter((part) => part !== '').join('.');

/** Things with a section by that section, in the order in which sections come first. */
export function groupedBySection<T extends {readonly section: string}>(lines: readonly T[]): [string, T[]][] {
  const groups = new Map<string, T[]>();
  for (const line of lines) {
    const group = groups.get(line.section);
    if (group) group.push(line);
    else groups.set(line.section, [line]);
  }
  return [...groups];
}

const fault = (where: LineIndex, key: string, message: string): TextFault => ({
  line: where.lineOf(key),
  key,
  message: `${message}.`,
});

function kindOf({section, key}: Pick<TextLine, 'section' | 'key'>, version: TextVersion) {
  if (section === headSection) return headKeys[key];
  return entryOf({section, key}, version)?.places[version]?.kind;
}

/**
 * Keys of tables, one by one; keys outside of any table have an empty section. Tables in tables stay one value, and so does
 * a table without keys.
 */
function linesOf(table: TomlTable): Pick<TextLine, 'section' | 'key' | 'value'>[] {
  return Object.entries(table).flatMap(([name, value]) => {
    if (isPlainTable(value)) {
      const inner = Object.entries(value).map(([key, v]) => ({section: name, key, value: v}));
      return inner.length ? inner : [{section: name, key: '', value}];
    }
    const isTables = Array.isArray(value) && value.length > 0 && value.every((v) => isPlainTable(v));
    return [isTables || isKnownList(name, value) ? {section: name, key: '', value} : {section: '', key: name, value}];
  });
}
const isKnownList = (name: string, value: TomlValue) =>
  Array.isArray(value) && entries.some((e) => Object.values(e.places).some((p) => p.section === name && !p.key));
export const isPlainTable = (v: TomlValue): v is TomlTable => isTable(v) && !(v instanceof TomlDate);

/** A value as a person reads it in a message. */
export function shown(value: TomlValue): string {
  if (value instanceof TomlDate) return value.toISOString();
  if (Array.isArray(value)) return `[${value.map((v) => shown(v)).join(', ')}]`;
  if (typeof value === 'object')
    return `{${Object.entries(value)
      .map(([k, v]) => `${k} = ${shown(v)}`)
      .join(', ')}}`;
  return typeof value === 'string' ? `"${value}"` : String(value);
}
