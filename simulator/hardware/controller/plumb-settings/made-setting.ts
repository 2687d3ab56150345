/** How the settings of the invented firmware are written down: each as 2.2 has it, with what 2.0 had in its place. */
import type {FormerEntry, SettingEntry, SettingKind, SettingValue, SimpleKind} from '@core/link/setting-shapes';

/** What 2.0 had in place of an entry of 2.2, as far as it was otherwise. */
interface Before {
  readonly key?: string;
  readonly kind?: SettingKind;
  readonly usual?: SettingValue;
  /** From the older value to the one of now: see {@link FormerEntry}. */
  readonly times?: number;
  readonly plus?: number;
  readonly words?: Readonly<Record<string, string>>;
}

export interface MadeSetting extends Pick<SettingEntry, 'key' | 'kind' | 'usual' | 'sentence' | 'lockedWhile'> {
  /** 'same' where 2.0 had it just so; undefined where it had nothing of the kind. */
  readonly before: Before | 'same' | undefined;
}

export const truth: SimpleKind = {of: 'truth'};
export const text = (longest: number): SimpleKind => ({of: 'text', longest});
export const choice = (...words: string[]): SimpleKind => ({of: 'one of', words});
/** @param about its step, its unit, or both. */
export const number = (min: number, max: number, ...about: (number | string)[]): SimpleKind => {
  const step = about.find((a) => typeof a === 'number');
  const unit = about.find((a) => typeof a === 'string');
  return {of: 'number', min, max, ...(step !== undefined && {step}), ...(unit !== undefined && {unit})};
};
export const list = (most: number, each: SimpleKind): SettingKind => ({of: 'list', each, most});
export const table = (most: number, columns: Readonly<Record<string, SimpleKind>>): SettingKind => ({
  ...{of: 'table', most},
  columns: Object.entries(columns).map(([name, kind]) => ({name, kind})),
});

type Rest = Pick<MadeSetting, 'lockedWhile'> & {readonly before?: MadeSetting['before']};
/** What it takes and has as it comes, and what it does. Of both versions alike, unless `before` says otherwise; `before: undefined` where 2.0 had it not. */
export const made = (
  key: string,
  [kind, usual]: readonly [SettingKind, SettingValue],
  sentence: string,
  rest: Rest = {before: 'same'},
): MadeSetting => ({...{key, kind, usual, sentence}, ...rest, before: rest.before});
/** Since 2.2. */
export const fresh = {before: undefined} as const;

/** The entry of 2.2. */
export function entryOf22({before, ...entry}: MadeSetting): SettingEntry {
  const {key = entry.key, times, plus, words} = before === 'same' || !before ? {} : before;
  const former: FormerEntry = {
    ...{key, before: '2.2'},
    ...(times !== undefined && {times}),
    ...(plus !== undefined && {plus}),
    ...(words && {words: {...words}}),
  };
  const isOther = key !== entry.key || Object.keys(former).length > 2;
  return {...entry, since: before === undefined ? '2.2' : '2.0', ...(isOther && {was: [former]})};
}

/** The entry of 2.0 that it took the place of; undefined where there was none. */
export function entryOf20({before, ...entry}: MadeSetting): SettingEntry | undefined {
  if (before === undefined) return undefined;
  const {key = entry.key, kind = entry.kind, usual = entry.usual} = before === 'same' ? {} : before;
  return {...entry, ...{key, kind, usual, since: '2.0'}};
}
