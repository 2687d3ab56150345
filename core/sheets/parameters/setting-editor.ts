/** How a setting of a flight controller is edited, by its kind: one field, or rows of fields for lists and tables. */
import {refusalOf} from '../../link/setting-accepts';
import type {SettingKind, SettingScalar, SettingValue, SimpleKind} from '../../link/setting-shapes';
import type {Choice} from '../choice';

export type ScalarEditor =
  | {readonly as: 'choices'; readonly options: Choice<SettingScalar>[]; readonly isFew: boolean}
  | {readonly as: 'number'; readonly suffix: string; readonly step: number; readonly digits: number}
  | {readonly as: 'text'; readonly longest: number};

/** So many choices stand beside each other; more are listed. */
const maxFew = 4;
/** Digits after the point where no step says how many. */
const mostDigits = 3;

export function scalarEditor(kind: SimpleKind): ScalarEditor {
  switch (kind.of) {
    case 'truth':
      return {
        as: 'choices',
        isFew: true,
        options: [false, true].map((value) => ({value, label: value ? 'on' : 'off'})),
      };
    case 'one of':
      return {
        as: 'choices',
        isFew: kind.words.length <= maxFew,
        options: kind.words.map((value) => ({value, label: value})),
      };
    case 'number': {
      const {step, unit} = kind;
      const digits = step === undefined ? mostDigits : (String(step).split('.')[1]?.length ?? 0);
      return {as: 'number', suffix: unit ? ` ${unit}` : '', step: step ?? 1, digits};
    }
    case 'text':
      return {as: 'text', longest: kind.longest};
  }
}

/** Why a field does not take what stands in it; undefined where it does. NaN stands for an empty number. */
export function scalarRefusal(kind: SimpleKind, value: SettingScalar): string | undefined {
  const refusal = refusalOf(kind, value);
  return refusal && (Number.isNaN(value) ? refusalOf(kind, '')!.text : refusal.text);
}

/** A list or a table as rows of fields. */
interface Grid {
  readonly columns: readonly {readonly head: string; readonly kind: SimpleKind}[];
  readonly rows: readonly (readonly SettingScalar[])[];
  readonly canAdd: boolean;
}

/** Undefined for what is one field. */
export function gridOf(kind: SettingKind, value: SettingValue): Grid | undefined {
  if ((kind.of !== 'list' && kind.of !== 'table') || !Array.isArray(value)) return undefined;
  const columns =
    kind.of === 'list'
      ? [{head: 'value', kind: kind.each}]
      : kind.columns.map((column) => ({head: column.name.replaceAll('_', ' '), kind: column.kind}));
  const rows = value.map((row) =>
    typeof row === 'object' && kind.of === 'table' ? kind.columns.map(({name}) => row[name]!) : [row as SettingScalar],
  );
  return {columns, rows, canAdd: rows.length < kind.most};
}

type GridEdit =
  | {readonly row: number; readonly column: number; readonly value: SettingScalar}
  | {readonly remove: number}
  | 'add';

/** The value with one field changed, a row taken out or a row added: the last one again, else the least of each kind. */
export function withGridEdit(kind: SettingKind, value: SettingValue, edit: GridEdit): SettingValue {
  const {columns, rows} = gridOf(kind, value)!;
  const next = edited(rows, columns, edit);
  if (kind.of !== 'table') return next.map(([only]) => only!);
  return next.map((row) => Object.fromEntries(kind.columns.map(({name}, i) => [name, row[i]!])));
}

function edited(rows: Grid['rows'], columns: Grid['columns'], edit: GridEdit): (readonly SettingScalar[])[] {
  if (edit === 'add') return [...rows, rows.at(-1) ?? columns.map(({kind}) => leastOf(kind))];
  if ('remove' in edit) return rows.filter((_, i) => i !== edit.remove);
  return rows.map((row, r) => (r === edit.row ? row.map((cell, c) => (c === edit.column ? edit.value : cell)) : row));
}

function leastOf(kind: SimpleKind): SettingScalar {
  switch (kind.of) {
    case 'truth':
      return false;
    case 'one of':
      return kind.words[0]!;
    case 'number':
      return kind.min;
    case 'text':
      return '';
  }
}
