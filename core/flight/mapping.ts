/** Which column of a table of numbers holds what of a flight, and in which unit. */
import * as z from 'zod';

export const axes = ['roll', 'pitch', 'yaw'] as const;
export type Axis = (typeof axes)[number];

export const timeUnits = ['s', 'ms', 'µs'] as const;
export const gyroUnits = ['deg/s', 'rad/s', 'raw'] as const;
export const throttleUnits = ['%', '0–1', 'µs'] as const;
/** `period` is the electrical period in µs, as a reply carries it; `Hz` is revolutions per second. */
export const speedUnits = ['rpm', 'eRPM', 'Hz', 'period'] as const;

const column = z.number().int().min(0);
const columns = z.array(column).readonly();

/** Columns are counted from 0. A role that the table does not have is undefined, or an empty list. */
export const mappingSchema = z.object({
  time: column,
  timeUnit: z.enum(timeUnits),
  /** Roll, pitch, yaw: as measured where the table has that, else as filtered. */
  gyro: z.tuple([column, column, column]).readonly(),
  gyroUnit: z.enum(gyroUnits),
  /** deg/s of one step, for `raw`. */
  gyroScale: z.number().positive(),
  /** −1 where an axis is logged with the other sign. */
  gyroSigns: z.tuple([z.number(), z.number(), z.number()]).readonly(),
  /** The same axes behind the controller's filters, where the table has both. */
  filteredGyro: z.tuple([column, column, column]).readonly().optional(),
  /** Rates that the pilot asked for, roll, pitch, yaw, in the gyro's unit; deg/s beside a raw gyro. */
  setpoint: z.tuple([column, column, column]).readonly().optional(),
  throttle: column.optional(),
  throttleUnit: z.enum(throttleUnits),
  /** One per motor. */
  speeds: columns,
  speedUnit: z.enum(speedUnits),
  /** What one step of the column is worth, for speeds logged in hundreds. */
  speedScale: z.number().positive(),
  /** Throttle of each motor, in the unit that its range says; one per motor or none. */
  commands: columns,
  /** Counts or shares of bad replies; one per motor, one for all, or none. */
  replyErrors: columns,
  volts: column.optional(),
  amps: column.optional(),
});
export type Mapping = z.infer<typeof mappingSchema>;

/** Full scale ±2000 deg/s in 16 bits: the usual setting of gyros on flight controllers (common practice). */
export const usualGyroScale = 2000 / 32768;

/** Every column a mapping reads, each once, ascending. */
export function columnsOf(m: Mapping): number[] {
  const some = [m.throttle, m.volts, m.amps].filter((c) => c !== undefined);
  const axesOf = [...m.gyro, ...(m.filteredGyro ?? []), ...(m.setpoint ?? [])];
  const all = [m.time, ...axesOf, ...some, ...m.speeds, ...m.commands, ...m.replyErrors];
  return [...new Set(all)].sort((a, b) => a - b);
}

/** Units as a person names them, by what they are of: `eRPM/100` for speeds logged in hundreds. */
export const unitNames = {
  time: timeUnits,
  gyro: gyroUnits,
  throttle: throttleUnits,
  speed: [...speedUnits, 'eRPM/100'],
} as const satisfies Record<string, readonly string[]>;
export type UnitOf = keyof typeof unitNames;

/** A mapping with another unit; the unit has to be one of `unitNames[of]`. */
function withUnit(mapping: Mapping, of: UnitOf, unit: string): Mapping {
  if (of !== 'speed') return {...mapping, [`${of}Unit`]: unit};
  return unit === 'eRPM/100'
    ? {...mapping, speedUnit: 'eRPM', speedScale: 100}
    : {...mapping, speedUnit: unit as Mapping['speedUnit'], speedScale: 1};
}

/** With every unit that a person said. */
export const withUnits = (mapping: Mapping, units: Partial<Record<UnitOf, string>>): Mapping =>
  Object.entries(units).reduce((m, [of, unit]) => withUnit(m, of as UnitOf, unit), mapping);
