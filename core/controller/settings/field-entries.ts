/** The fields that Bidex plans, as entries of a controller's own description: one line for each of the controller text. */
import type {TomlValue} from 'smol-toml';
import type {FormerEntry, SettingEntry, SettingValue} from '../../link/setting-shapes';
import {definitions, textVersions, type FieldLine, type Place, type TextVersion} from '../definitions';
import type {ControllerPlan} from '../plan';
import {textVersionOf} from '../text/carry-config';
import {entries, type Entry} from '../text/entries';

/** Section and key of a place. */
export const keyOf = ({section, key}: Place): string => (key === undefined ? section : `${section}.${key}`);

/** What a line says where nobody told it otherwise. */
const usualAt = ({usual}: FieldLine, {toLine}: Place): SettingValue => (toLine ? toLine(usual) : usual) as SettingValue;

interface Moved {
  readonly older: Place;
  readonly place: Place;
  /** Version in which it stands in its place first. */
  readonly before: TextVersion;
}

/** Where a value of the older place became another: by how much, for a number. */
function formerOf({older, before, place}: Moved, usual: TomlValue): FormerEntry | undefined {
  const isNumber = typeof usual === 'number' && (older.fromLine ?? place.toLine) !== undefined;
  const now = (line: number): number => {
    const value = older.fromLine ? older.fromLine(line) : line;
    return (place.toLine ? place.toLine(value) : value) as number;
  };
  // Far enough apart that rounding to a tenth says nothing.
  const [times, plus] = isNumber ? [(now(10_000) - now(0)) / 10_000, now(0)] : [1, 0];
  if (keyOf(older) === keyOf(place) && times === 1 && plus === 0) return undefined;
  return {...{key: keyOf(older), before}, ...(times !== 1 && {times}), ...(plus !== 0 && {plus})};
}

export function fieldEntries(version: TextVersion): SettingEntry[] {
  return entries.flatMap((line) => {
    const place = line.places[version];
    return place ? [entryAt(line, place, version)] : [];
  });
}

function entryAt(line: Entry, place: Place, version: TextVersion): SettingEntry {
  const field = line.field.split('.')[0] as keyof ControllerPlan;
  const since = textVersions.find((v) => line.places[v])!;
  const older = textVersions.slice(0, textVersions.indexOf(version)).findLast((v) => line.places[v]);
  const was = older && formerOf({older: line.places[older]!, before: version, place}, line.usual);
  return {
    ...{key: keyOf(place), kind: place.kind.shape, usual: usualAt(line, place), since},
    sentence: `${definitions[field].name}: ${line.comment}.`,
    ...(was && {was: [was]}),
  };
}

/** Keys that the plan of a craft has fields for. */
export const isFieldKey = (key: string, version: TextVersion): boolean =>
  entries.some(({places}) => places[version] && keyOf(places[version]) === key);

/** Entries beside those that the plan has fields for. @param version of the firmware that holds them. */
export function otherEntries(
  {entries: all}: {readonly entries: readonly SettingEntry[]},
  version: string,
): SettingEntry[] {
  const text = textVersionOf(version);
  return all.filter(({key}) => !isFieldKey(key, text));
}
