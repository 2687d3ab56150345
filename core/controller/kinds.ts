/** Kinds of values that a line of the controller text can have: what is taken, and what was expected where it is not. */
import type {TomlValue} from 'smol-toml';
import type {Range} from './ranges';

export interface Kind {
  /** In words: "a number from 50 to 1000, Hz". */
  readonly expected: string;
  readonly takes: (value: TomlValue) => boolean;
  /** The value that it takes nearest to another, where there is one. */
  readonly nearest?: (value: TomlValue) => TomlValue | undefined;
}

const clamped = (min: number, max: number) => (value: TomlValue) =>
  typeof value === 'number' && Number.isFinite(value) ? Math.min(max, Math.max(min, value)) : undefined;

export const onOff: Kind = {expected: 'true or false', takes: (v) => typeof v === 'boolean'};

export function numberIn({min, max, unit, isWhole}: Range): Kind {
  const clamp = clamped(min, max);
  return {
    expected: `a ${isWhole ? 'whole ' : ''}number from ${min} to ${max}${unit ? `, ${unit}` : ''}`,
    takes: (v) => typeof v === 'number' && v >= min && v <= max && (!isWhole || Number.isInteger(v)),
    nearest: (v) => clamp(isWhole && typeof v === 'number' ? Math.round(v) : v),
  };
}

export const oneOf = (values: readonly string[]): Kind => ({
  expected: `one of ${values.map((v) => `"${v}"`).join(', ')}`,
  takes: (v) => typeof v === 'string' && values.includes(v),
});

export const listOf = (each: Kind, most: number): Kind => ({
  expected: `a list of up to ${most}, each ${each.expected}`,
  takes: (v) => Array.isArray(v) && v.length <= most && v.every((e) => each.takes(e)),
});

export const anyText: Kind = {expected: 'a text', takes: (v) => typeof v === 'string'};

/** Tables with just these keys, one for each thing. */
export const tablesOf = (keys: Readonly<Record<string, Kind>>): Kind => ({
  expected: `tables with ${Object.entries(keys)
    .map(([key, kind]) => `${key}: ${kind.expected}`)
    .join('; ')}`,
  takes: (v) =>
    Array.isArray(v) &&
    v.every((e) => isTable(e) && Object.entries(keys).every(([k, kind]) => k in e && kind.takes(e[k]!))),
});

export const isTable = (v: TomlValue): v is Record<string, TomlValue> =>
  typeof v === 'object' && !Array.isArray(v) && !(v instanceof Date);
