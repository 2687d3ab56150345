/** What each column of a table is taken for, column by column, as a person says it; and the mapping that this makes. */
import type {Guess, Role} from './guess-columns';
import {axes, type Mapping} from './mapping';

/** An axis is counted from 0: roll, pitch, yaw. */
export type ColumnRole =
  | 'nothing'
  | 'time'
  | 'throttle'
  | 'volts'
  | 'amps'
  | `gyro ${number}`
  | `filtered ${number}`
  | `setpoint ${number}`
  | 'speed'
  | 'command'
  | 'errors';

/** Roles that several columns may have. */
const shared: readonly ColumnRole[] = ['nothing', 'speed', 'command', 'errors'];

/** The roles with one column's said: what only one column can be, no other is any more. */
export const withRole = (roles: readonly ColumnRole[], column: number, role: ColumnRole): ColumnRole[] =>
  roles.map((r, i) => (i === column ? role : !shared.includes(role) && r === role ? 'nothing' : r));

/** Of every column of a table, from what was found in it. */
export function rolesOf(columns: number, found: Guess['found']): ColumnRole[] {
  const of = (column: number): ColumnRole => {
    const single = (['time', 'throttle', 'volts', 'amps'] as const).find((role) => found[role].includes(column));
    if (single) return single;
    if (found.gyro.includes(column)) return `gyro ${found.gyro.indexOf(column)}`;
    if (found.filteredGyro.includes(column)) return `filtered ${found.filteredGyro.indexOf(column)}`;
    if (found.setpoint.includes(column)) return `setpoint ${found.setpoint.indexOf(column)}`;
    if (found.speeds.includes(column)) return 'speed';
    if (found.commands.includes(column)) return 'command';
    return found.replyErrors.includes(column) ? 'errors' : 'nothing';
  };
  return Array.from({length: columns}, (_, column) => of(column));
}

/** Columns that a mapping reads, by role. */
export function columnsOfMapping(m: Mapping): Record<Role, readonly number[]> {
  const one = (column: number | undefined) => (column === undefined ? [] : [column]);
  return {
    time: [m.time],
    gyro: m.gyro,
    filteredGyro: m.filteredGyro ?? [],
    setpoint: m.setpoint ?? [],
    throttle: one(m.throttle),
    speeds: m.speeds,
    commands: m.commands,
    replyErrors: m.replyErrors,
    volts: one(m.volts),
    amps: one(m.amps),
  };
}

/** Columns by role; three axes count where all three are said. */
export function columnsOfRoles(roles: readonly ColumnRole[]): Record<Role, readonly number[]> {
  const all = (role: ColumnRole) => roles.flatMap((r, i) => (r === role ? [i] : []));
  const three = (prefix: 'gyro' | 'filtered' | 'setpoint') => {
    const columns = axes.map((_, a) => all(`${prefix} ${a}`)[0]);
    return columns.every((c) => c !== undefined) ? columns : [];
  };
  return {
    time: all('time'),
    gyro: three('gyro'),
    filteredGyro: three('filtered'),
    setpoint: three('setpoint'),
    throttle: all('throttle'),
    speeds: all('speed'),
    commands: all('command'),
    replyErrors: all('errors'),
    volts: all('volts'),
    amps: all('amps'),
  };
}

/** What a mapping needs and no column is taken for. */
export const rolesMissing = (roles: readonly ColumnRole[]): string[] => [
  ...(roles.includes('time') ? [] : ['time']),
  ...axes.filter((_, a) => !roles.includes(`gyro ${a}`)).map((axis) => `gyro ${axis}`),
];
