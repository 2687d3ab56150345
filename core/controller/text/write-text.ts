/** Writes a configuration as text: by sections, each line with its unit and what it means; lines nobody knows go along. */
import {stringify, type TomlValue} from 'smol-toml';
import {sameJson} from '../../canonical-json';
import type {ControllerConfig} from '../plan';
import {groupedBySection, isPlainTable} from './read-text';
import {entries, headSection, type Place, type TextVersion} from './entries';
import {valueOf} from './field-values';

export interface WrittenOf {
  readonly firmware: string;
  readonly version: string;
  readonly board: string;
  readonly chip: string;
  /** Lines that no entry knows, kept as they were read; what each means, where that is known. */
  readonly more?: readonly (Omit<LineToWrite, 'comment'> & {readonly comment?: string; readonly isUsual?: boolean})[];
  /** Which lines are meant, all where left out. @param isUsual whether it is at its default. */
  readonly isMeant?: (line: LineToWrite, isUsual: boolean) => boolean;
}

export interface LineToWrite {
  readonly section: string;
  readonly key: string;
  readonly value: TomlValue;
  readonly comment: string;
}

/** By the places of `version`; a field that it has no place for is left out. */
export function writeText(config: Partial<ControllerConfig>, of: WrittenOf, version: TextVersion): string {
  const {isMeant = () => true} = of;
  const head: LineToWrite[] = [
    ...(['firmware', 'version', 'board', 'chip'] as const).map((key) => ({
      ...{section: headSection, key, value: of[key], comment: ''},
    })),
    ...(config.gyroHz === undefined
      ? []
      : [{section: headSection, key: 'gyro_hz', value: config.gyroHz, comment: 'Hz; of the gyro, not to be set'}]),
  ];
  const known = entries.flatMap((entry): LineToWrite[] => {
    const place = entry.places[version];
    const value = valueOf(config, entry.field);
    if (!place || value === undefined) return [];
    const line = lineFor(place, value, entry.comment);
    return isMeant(line, sameJson(line.value, lineFor(place, entry.usual, '').value)) ? [line] : [];
  });
  const more = (of.more ?? []).flatMap(({isUsual = false, ...l}): LineToWrite[] => {
    const line = {comment: 'kept as it was found', ...l};
    return isMeant(line, isUsual) ? [line] : [];
  });
  return writeLines([...head, ...known, ...more]);
}

export const lineFor = (place: Place, value: TomlValue, comment: string): LineToWrite => ({
  ...{section: place.section, key: place.key ?? '', value: place.toLine ? place.toLine(value) : value},
  comment: place.key === undefined ? comment : `${place.kind.expected}; ${comment}`,
});

/** Any lines as a text: those without a section first, then each section with its own tables last. */
export function writeLines(lines: readonly LineToWrite[]): string {
  // An empty list of tables is a key like any other: behind a heading it would belong to that.
  const isBare = (l: LineToWrite) => l.key === '' && !isNested(l.value);
  const bare = lines.filter(isBare).map((l) => wholeText(l.section, l));
  const others = lines.filter((l) => !isBare(l));
  const sections = groupedBySection(others).sort(([a], [b]) => Number(a !== '') - Number(b !== ''));
  const parts = sections.map(([section, own]) => {
    const flat = own.filter((l) => l.key !== '' && !isNested(l.value));
    const nested = own.filter((l) => l.key !== '' && isNested(l.value));
    const head = section && flat.length ? `[${nameText(section)}]\n` : '';
    const inner = nested.length
      ? [ended(stringify({[section]: Object.fromEntries(nested.map((l) => [l.key, l.value]))}))]
      : [];
    const wholes = own.filter((l) => l.key === '').map((l) => wholeText(section, l));
    return [head + flat.map(flatText).join(''), ...inner, ...wholes].filter((part) => part !== '').join('\n');
  });
  return [bare.join(''), ...parts].filter((part) => part !== '').join('\n');
}

/** Tables, and lists of nothing but tables, are written under a heading of their own. */
const isNested = (value: TomlValue): boolean =>
  isPlainTable(value) || (Array.isArray(value) && value.length > 0 && value.every((v) => isPlainTable(v)));

const ended = (text: string) => (text.endsWith('\n') ? text : `${text}\n`);

/** The comment stands behind a short line, above a long one. */
function flatText({key, value, comment}: LineToWrite): string {
  const line = ended(stringify({[key]: value}));
  if (!comment) return line;
  return line.length > 60 || line.trimEnd().includes('\n')
    ? `# ${comment}\n${line}`
    : `${line.trimEnd()}  # ${comment}\n`;
}

/** A section that is one value: a list of tables, or a table without keys. */
function wholeText(section: string, {value, comment}: LineToWrite): string {
  const said = comment && `# ${comment}\n`;
  if (isPlainTable(value)) return `[${nameText(section)}]\n`;
  return said + ended(stringify({[section]: value}));
}

/** A section's name as TOML writes it. */
const nameText = (name: string) => stringify({[name]: 0}).replace(/ = 0\n?$/, '');
