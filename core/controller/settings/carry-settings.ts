/**
 * Carries everything that a flight controller holds over to another version of its firmware, by what the newer one says
 * of itself: which older entry each took the place of, and how a value of that reads now. Nothing is dropped silently:
 * every older entry and every newer one has its line in the account.
 */
import {compareVersions} from '../../firmware/identity';
import type {FormerEntry, SettingEntry, SettingKind, SettingValue} from '../../link/setting-shapes';
import {sameJson} from '../../canonical-json';
import {expectedOf, refusalOf} from '../../link/setting-accepts';
import type {BoardSettings} from './board-settings';

export type SettingFate = 'kept' | 'moved' | 'renamed' | 'split' | 'new' | 'gone' | 'out of range';

export interface CarriedSetting {
  readonly fate: SettingFate;
  /** Key before; undefined for a new one. */
  readonly from: string | undefined;
  /** Key afterwards; undefined where it is gone. */
  readonly to: string | undefined;
  readonly was: SettingValue | undefined;
  /** Afterwards: where it is out of range, the nearest value that is taken. */
  readonly is: SettingValue | undefined;
  /** What to know about it; empty where nothing. */
  readonly note: string;
  /** Where it is out of range: what is wrong with the value of before. */
  readonly refused?: string;
}

interface Versions {
  /** Of the firmware that held them, and of the one that they are carried to. */
  readonly from: string;
  readonly to: string;
}

/** In the order of the description that they are carried to, then what is gone. */
export function carrySettings(
  before: BoardSettings,
  now: readonly SettingEntry[],
  versions: Versions,
): CarriedSetting[] {
  const older = new Map(before.entries.map((entry) => [entry.key, entry]));
  const sources = new Map(now.map((entry) => [entry.key, sourceOf(entry, older, versions)]));
  const uses = (key: string) => [...sources.values()].filter((source) => source?.key === key).length;
  const carried = now.map((entry): CarriedSetting => {
    const source = sources.get(entry.key);
    if (!source) return fresh(entry);
    return carryOne({entry, source, older: older.get(source.key)!, isSplit: uses(source.key) > 1}, before);
  });
  const used = new Set([...sources.values()].map((source) => source?.key));
  const gone = before.entries.filter(({key}) => !used.has(key)).map((entry) => lost(entry, before.values[entry.key]!));
  return [...carried, ...gone];
}

/** Lines that bring the newer firmware to what the older one held, as far as it has them. */
export const linesOf = (carried: readonly CarriedSetting[]): {readonly key: string; readonly value: SettingValue}[] =>
  carried.flatMap(({fate, to, is}) =>
    fate === 'new' || to === undefined || is === undefined ? [] : [{key: to, value: is}],
  );

type Source = Omit<FormerEntry, 'before'>;

/**
 * The entry of before that one takes the place of, by the nearest change between the two versions: itself, where there was
 * none. Back to older firmware it is the newer description that tells, read the other way round.
 */
function sourceOf(
  {key, was = []}: SettingEntry,
  older: ReadonlyMap<string, SettingEntry>,
  {from, to}: Versions,
): Source | undefined {
  const changed = was
    .filter((former) => older.has(former.key) && compareVersions(from, former.before) < 0)
    .sort((a, b) => compareVersions(a.before, b.before));
  const back = [...older.values()].flatMap((newer) =>
    (newer.was ?? [])
      .filter((former) => former.key === key && compareVersions(to, former.before) < 0)
      .map((former) => inverse(newer.key, former)),
  );
  return changed[0] ?? back[0] ?? (older.has(key) ? {key} : undefined);
}

function inverse(key: string, {times = 1, plus = 0, words}: FormerEntry): Source {
  const turned = words && Object.fromEntries(Object.entries(words).map(([old, now]) => [now, old]));
  const isNumber = times !== 1 || plus !== 0;
  return {key, ...(isNumber && {times: 1 / times, plus: -plus / times}), ...(turned && {words: turned})};
}

interface Carrying {
  readonly entry: SettingEntry;
  readonly source: Source;
  readonly older: SettingEntry;
  readonly isSplit: boolean;
}

function carryOne({entry, source, older, isSplit}: Carrying, before: BoardSettings): CarriedSetting {
  const was = before.values[source.key]!;
  const value = valueNow(was, source, entry.kind);
  const about = {from: source.key, to: entry.key, was};
  const refusal = value === undefined ? {text: `It takes ${expectedOf(entry.kind)}.`} : refusalOf(entry.kind, value);
  if (refusal) {
    const is = value === undefined ? entry.usual : nearest(entry, value);
    return {
      ...about,
      fate: 'out of range',
      is,
      note: `${refusal.text} It becomes ${textOf(is)}.`,
      refused: refusal.text,
    };
  }
  const isConverted = source.times !== undefined || source.plus !== undefined || source.words !== undefined;
  const units = [unitOf(older.kind), unitOf(entry.kind)];
  const note = isConverted ? `The same in other ${units[0] !== units[1] ? 'units' : 'words'}.` : '';
  const fate = isSplit ? 'split' : entry.key === source.key ? 'kept' : moveOf(source.key, entry.key);
  const both = isSplit ? 'One setting before, several now. ' : '';
  return {...about, fate, is: value, note: `${both}${note}`.trim()};
}

const moveOf = (from: string, to: string): SettingFate =>
  from.split('.')[0] === to.split('.')[0] ? 'renamed' : 'moved';

/** Digits that a converted number is told to: binary fractions go beyond what anybody set. */
const digits = 6;

/** An older value as it reads now; undefined where it cannot be told. */
function valueNow(
  was: SettingValue,
  {times = 1, plus = 0, words}: Source,
  kind: SettingKind,
): SettingValue | undefined {
  if (words && !Array.isArray(was)) return words[String(was)];
  if (typeof was !== 'number' || (times === 1 && plus === 0)) return was;
  const value = Number((was * times + plus).toFixed(digits));
  if (kind.of !== 'number' || kind.step === undefined) return value;
  // In other units a value may lie between two steps: the nearer one is meant.
  return Number((kind.min + Math.round((value - kind.min) / kind.step) * kind.step).toFixed(digits));
}

/** The nearest value that is taken; the default where none is nearer than another. */
function nearest({kind, usual}: SettingEntry, value: SettingValue): SettingValue {
  if (kind.of !== 'number' || typeof value !== 'number') return usual;
  const {min, max, step} = kind;
  const clamped = Math.min(max, Math.max(min, value));
  return step === undefined ? clamped : Number((min + Math.floor((clamped - min) / step + 0.5) * step).toFixed(digits));
}

const unitOf = (kind: SettingKind): string | undefined => (kind.of === 'number' ? kind.unit : undefined);

const fresh = ({key, usual, since}: SettingEntry): CarriedSetting => ({
  ...{fate: 'new', from: undefined, to: key, was: undefined, is: usual},
  note: `There since ${since}; it starts with the default.`,
});

const lost = ({key, usual}: SettingEntry, was: SettingValue): CarriedSetting => ({
  ...{fate: 'gone', from: key, to: undefined, was, is: undefined},
  note: sameJson(was, usual)
    ? 'The newer firmware has nothing in its place; it held the default.'
    : 'The newer firmware has nothing in its place.',
});

/** A value as a person reads it. */
export function textOf(value: SettingValue): string {
  if (!Array.isArray(value)) return typeof value === 'string' ? `"${value}"` : String(value);
  if (value.some((v) => typeof v === 'object')) return `${value.length} ${value.length === 1 ? 'row' : 'rows'}`;
  return value.length ? value.map((v) => textOf(v as SettingValue)).join(', ') : 'none';
}
