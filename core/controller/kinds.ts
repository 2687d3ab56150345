/** Kinds of values that a line of the controller text can have: what is taken, and what was expected where it is not. */
import type {TomlValue} from 'smol-toml';
import type {SettingKind, SimpleKind} from '../link/setting-shapes';
import type {Range} from './ranges';

export interface Kind {
  /** In words: "a number from 50 to 1000, Hz". */
  readonly expected: string;
  readonly takes: (value: TomlValue) => boolean;
  /** The same as a controller describes it over the bench link. */
  readonly shape: SettingKind;
  /** The value that it takes nearest to another, where there is one. */
  readonly nearest?: (value: TomlValue) => TomlValue | undefined;
}

const clamped = (min: number, max: number) => (value: TomlValue) =>
  typeof value === 'number' && Number.isFinite(value) ? Math.min(max, Math.max(min, value)) : undefined;

export const onOff: Kind = {
  ...{expected: 'true or false', shape: {of: 'truth'}},
  takes: (v) => typeof v === 'boolean',
};

export function numberIn({min, max, unit, isWhole}: Range): Kind {
  const shape: SettingKind = {of: 'number', min, max, ...(isWhole && {step: 1}), ...(unit !== undefined && {unit})};
  const clamp = clamped(min, max);
  return {
    expected: `a ${isWhole ? 'whole ' : ''}number from ${min} to ${max}${unit ? `, ${unit}` : ''}`,
    shape,
    takes: (v) => typeof v === 'number' && v >= min && v <= max && (!isWhole || Number.isInteger(v)),
    nearest: (v) => clamp(isWhole && typeof v === 'number' ? Math.round(v) : v),
  };
}

export const oneOf = (values: readonly string[]): Kind => ({
  expected: `one of ${values.map((v) => `"${v}"`).join(', ')}`,
  shape: {of: 'one of', words: [...values]},
  takes: (v) => typeof v === 'string' && values.includes(v),
});

export const listOf = (each: Kind, most: number): Kind => ({
  expected: `a list of up to ${most}, each ${each.expected}`,
  shape: {of: 'list', each: simple(each), most},
  takes: (v) => Array.isArray(v) && v.length <= most && v.every((e) => each.takes(e)),
});

export const anyText: Kind = {
  ...{expected: 'a text', shape: {of: 'text', longest: 200}},
  takes: (v) => typeof v === 'string',
};

/** What stands in a list or a column is no list or table itself. */
const simple = ({shape}: Kind): SimpleKind => {
  if (shape.of === 'list' || shape.of === 'table') throw new TypeError('Lists stand in no list');
  return shape;
};

/** Rows that a table has at most. */
const mostRows = 20;

/** Tables with just these keys, one for each thing. */
export const tablesOf = (keys: Readonly<Record<string, Kind>>): Kind => ({
  expected: `tables with ${Object.entries(keys)
    .map(([key, kind]) => `${key}: ${kind.expected}`)
    .join('; ')}`,
  shape: {
    of: 'table',
    columns: Object.entries(keys).map(([name, kind]) => ({name, kind: simple(kind)})),
    most: mostRows,
  },
  takes: (v) =>
    Array.isArray(v) &&
    v.every((e) => isTable(e) && Object.entries(keys).every(([k, kind]) => k in e && kind.takes(e[k]!))),
});

export const isTable = (v: TomlValue): v is Record<string, TomlValue> =>
  typeof v === 'object' && !Array.isArray(v) && !(v instanceof Date);
