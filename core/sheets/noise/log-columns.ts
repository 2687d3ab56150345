/** What the columns of a log may hold: what each is taken for, its first values and range, units, and what is still to be named. */
import {columnsOfMapping, columnsOfRoles, rolesMissing, rolesOf, type ColumnRole} from '../../flight/column-role';
import {completed} from '../../flight/guess-columns';
import {axes, gyroUnits, speedUnits, throttleUnits, timeUnits, type Mapping} from '../../flight/mapping';
import type {UnmappedTable} from '../../flight/read-flight';
import type {Choice} from '../choice';
export {withRole, type ColumnRole} from '../../flight/column-role';

/** A table that waits for a person, and what it is read as now where it is kept already. */
export interface WaitingTable {
  readonly file: {readonly name: string};
  readonly table: UnmappedTable;
  readonly kept?: {readonly mapping: Mapping} | undefined;
}

interface ColumnsNow {
  readonly waiting: WaitingTable;
  readonly roles: readonly ColumnRole[];
  /** Units, signs and scales that a person said. */
  readonly changes: Partial<Mapping>;
}

interface ColumnsSheet {
  readonly title: string;
  readonly rows: readonly ColumnRow[];
  /** What is still to be named; empty where it can be read. */
  readonly missing: string;
  readonly reading: ColumnsReading | undefined;
}

interface ColumnRow {
  readonly name: string;
  readonly column: number;
  readonly first: string;
  readonly range: string;
  readonly role: ColumnRole;
}

interface ColumnsReading {
  readonly mapping: Mapping;
  readonly units: readonly UnitField[];
  readonly signs: readonly {readonly axis: number; readonly name: string; readonly isTurned: boolean}[];
  readonly isRaw: boolean;
  readonly hasSpeeds: boolean;
  readonly questions: readonly string[];
}

export interface UnitField {
  readonly field: 'timeUnit' | 'gyroUnit' | 'throttleUnit' | 'speedUnit';
  readonly name: string;
  readonly options: string[];
  readonly value: string;
}

export const roleChoices: readonly Choice<ColumnRole>[] = [
  {label: 'skip', value: 'nothing'},
  {label: 'time', value: 'time'},
  ...axes.map((axis, a) => ({label: `gyro ${axis}`, value: `gyro ${a}` as const})),
  ...axes.map((axis, a) => ({label: `gyro ${axis}, filtered`, value: `filtered ${a}` as const})),
  ...axes.map((axis, a) => ({label: `setpoint ${axis}`, value: `setpoint ${a}` as const})),
  {label: 'throttle', value: 'throttle'},
  {label: 'speed of a motor', value: 'speed'},
  {label: 'throttle of a motor', value: 'command'},
  {label: 'lost replies', value: 'errors'},
  {label: 'volts', value: 'volts'},
  {label: 'amps', value: 'amps'},
];

/** What each column is taken for before a person says anything. */
export const rolesAtFirst = ({table, kept}: WaitingTable): ColumnRole[] =>
  rolesOf(table.head.names.length, kept ? columnsOfMapping(kept.mapping) : table.guess.found);

/** What the columns themselves do not say: of a kept log as it was said. */
export function saidAtFirst({kept}: WaitingTable): Partial<Mapping> {
  if (!kept) return {};
  const {timeUnit, gyroUnit, gyroScale, gyroSigns, throttleUnit, speedUnit, speedScale} = kept.mapping;
  return {timeUnit, gyroUnit, gyroScale, gyroSigns, throttleUnit, speedUnit, speedScale};
}

export function columnsSheet({waiting, roles, changes}: ColumnsNow): ColumnsSheet {
  const {head} = waiting.table;
  const {mapping, questions} = completed(head, columnsOfRoles(roles));
  return {
    title: `What the columns of ${waiting.file.name} hold`,
    rows: head.names.map((name, column) => ({
      ...{name, column, role: roles[column]!, ...valuesIn(head.sample[column]!)},
    })),
    missing: rolesMissing(roles).join(', '),
    reading: mapping && readingOf({...mapping, ...changes}, questions),
  };
}

/** A value with so many digits that count. */
const short = (value: number, digits: number): string => String(Number(value.toPrecision(digits)));

function valuesIn(sample: Iterable<number>): Pick<ColumnRow, 'first' | 'range'> {
  const values = [...sample].filter((v) => !Number.isNaN(v));
  const first = values.slice(0, 4).map((v) => short(v, 6));
  const [least, most] = [Math.min(...values), Math.max(...values)];
  return {first: first.join('  '), range: values.length ? `${short(least, 5)} … ${short(most, 5)}` : 'no numbers'};
}

function readingOf(m: Mapping, questions: readonly {readonly text: string}[]): ColumnsReading {
  return {
    ...{mapping: m, units: unitFields(m), isRaw: m.gyroUnit === 'raw', hasSpeeds: m.speeds.length > 0},
    signs: axes.map((name, axis) => ({axis, name, isTurned: m.gyroSigns[axis]! < 0})),
    questions: questions.map((q) => q.text),
  };
}

/** Units of what the table has. */
function unitFields(m: Mapping): UnitField[] {
  const all = [
    {field: 'timeUnit', name: 'Time in', options: [...timeUnits], isThere: true},
    {field: 'gyroUnit', name: 'Gyro in', options: [...gyroUnits], isThere: true},
    {field: 'throttleUnit', name: 'Throttle in', options: [...throttleUnits], isThere: m.throttle !== undefined},
    {field: 'speedUnit', name: 'Speeds in', options: [...speedUnits], isThere: m.speeds.length > 0},
  ] as const;
  return all
    .filter((u) => u.isThere)
    .map(({field, name, options}) => ({field, name, options: [...options], value: m[field]}));
}

/** The signs of the gyro's axes with one turned over. */
export function withSignTurned({gyroSigns}: Mapping, axis: number): Pick<Mapping, 'gyroSigns'> {
  const [roll, pitch, yaw] = gyroSigns.map((sign, a) => (a === axis ? -sign : sign));
  return {gyroSigns: [roll!, pitch!, yaw!]};
}
