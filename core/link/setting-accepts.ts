/** Whether a value is one that a setting takes, by the description that its controller gives. */
import type {SettingKind, SettingScalar, SettingValue, SimpleKind, WrongLine} from './setting-shapes';

export type Refusal = Pick<WrongLine, 'code' | 'text'>;

/** Share of a step by which a number may be off it: values come as binary fractions. */
const offStep = 1e-6;

/** Undefined where the kind takes the value; else what was expected. */
export function refusalOf(kind: SettingKind, value: SettingValue): Refusal | undefined {
  if (kind.of === 'list') return ofList(kind, value);
  if (kind.of === 'table') return ofTable(kind, value);
  return Array.isArray(value) ? wrongKind(kind) : ofScalar(kind, value);
}

function ofScalar(kind: SimpleKind, value: SettingScalar): Refusal | undefined {
  switch (kind.of) {
    case 'truth':
      return typeof value === 'boolean' ? undefined : wrongKind(kind);
    case 'number':
      return typeof value === 'number' ? ofNumber(kind, value) : wrongKind(kind);
    case 'one of':
      if (typeof value !== 'string') return wrongKind(kind);
      return kind.words.includes(value) ? undefined : outOfRange(`"${value}"`, kind);
    case 'text':
      if (typeof value !== 'string') return wrongKind(kind);
      return [...value].length <= kind.longest ? undefined : outOfRange(`"${value}"`, kind);
  }
}

function ofNumber(kind: Extract<SimpleKind, {of: 'number'}>, value: number): Refusal | undefined {
  const {min, max, step} = kind;
  const steps = step === undefined ? 0 : (value - min) / step;
  const isOn = Math.abs(steps - Math.round(steps)) < offStep;
  return value >= min && value <= max && isOn ? undefined : outOfRange(String(value), kind);
}

function ofList({each, most}: Extract<SettingKind, {of: 'list'}>, value: SettingValue): Refusal | undefined {
  const kind = {of: 'list', each, most} as const;
  if (!Array.isArray(value)) return wrongKind(kind);
  if (value.length > most) return outOfRange(`a list of ${value.length}`, kind);
  for (const v of value) {
    const refusal = typeof v === 'object' ? wrongKind(kind) : ofScalar(each, v);
    if (refusal) return refusal;
  }
  return undefined;
}

function ofTable({columns, most}: Extract<SettingKind, {of: 'table'}>, value: SettingValue): Refusal | undefined {
  const kind = {of: 'table', columns, most} as const;
  if (!Array.isArray(value)) return wrongKind(kind);
  if (value.length > most) return outOfRange(`a table of ${value.length} rows`, kind);
  for (const [i, row] of value.entries()) {
    if (typeof row !== 'object' || Object.keys(row).length !== columns.length) return wrongKind(kind);
    for (const column of columns) {
      const cell = row[column.name];
      const refusal = cell === undefined ? wrongKind(kind) : ofScalar(column.kind, cell);
      if (refusal) return {...refusal, text: `Row ${i + 1}, ${column.name}: ${refusal.text}`};
    }
  }
  return undefined;
}

const wrongKind = (kind: SettingKind): Refusal => ({code: 'kind', text: `Expected ${expectedOf(kind)}.`});
const outOfRange = (shown: string, kind: SettingKind): Refusal => ({
  code: 'range',
  text: `${shown.slice(0, 80)} is not ${expectedOf(kind)}.`.slice(0, 300),
});

/** What a kind takes, in words: "a number from 50 to 1000, Hz". */
export function expectedOf(kind: SettingKind): string {
  switch (kind.of) {
    case 'truth':
      return 'true or false';
    case 'number': {
      const {min, max, step, unit} = kind;
      const whole = step === 1 && Number.isInteger(min) ? 'whole ' : '';
      const steps = step === undefined || whole ? '' : ` in steps of ${step}`;
      return `a ${whole}number from ${min} to ${max}${steps}${unit ? `, ${unit}` : ''}`;
    }
    case 'one of':
      return `one of ${kind.words.map((w) => `"${w}"`).join(', ')}`;
    case 'text':
      return `a text of up to ${kind.longest} characters`;
    case 'list':
      return `a list of up to ${kind.most}, each ${expectedOf(kind.each)}`;
    case 'table':
      return `up to ${kind.most} rows of ${kind.columns.map((c) => c.name).join(', ')}`;
  }
}
