/** A flight as recorded: evenly sampled columns in the units of the trade, and what was done to get them. */
import type {Damage} from './damage';
import type {Axis, Mapping} from './mapping';
import type {UnitQuestion} from './guess-units';
import type {BadCell} from './number-scanner';
import type {Gap, Stretch} from './time-base';

export interface FlightLog {
  readonly sampleRateHz: number;
  /** Samples of each column. */
  readonly samples: number;
  readonly durationS: number;
  /** Parts without a break: nothing that looks at neighbouring samples may look across their ends. */
  readonly stretches: readonly Stretch[];
  /** deg/s, as measured where the log has that, else as filtered. */
  readonly gyro: Readonly<Record<Axis, Float32Array>>;
  /** deg/s behind the controller's filters, where the log has both. */
  readonly filteredGyro: Readonly<Record<Axis, Float32Array>> | undefined;
  /** Rates that the pilot asked for, deg/s. */
  readonly setpoint: Readonly<Record<Axis, Float32Array>> | undefined;
  /** Percent. */
  readonly throttle: Float32Array | undefined;
  readonly speeds: LoggedSpeeds;
  /** Percent of each motor. */
  readonly commands: readonly Float32Array[];
  /** As logged, counts or shares; one per motor, one for all, or none. */
  readonly replyErrors: readonly Float32Array[];
  readonly volts: Float32Array | undefined;
  readonly amps: Float32Array | undefined;
  readonly mapping: Mapping;
  /** Every column's name, as the header has it. */
  readonly names: readonly string[];
  readonly notes: readonly string[];
  /** Units that were guessed, where another one fits too. */
  readonly questions: readonly UnitQuestion[];
  readonly dropped: {
    readonly badValues: number;
    readonly badCells: readonly BadCell[];
    readonly repeatedTimes: number;
    readonly gaps: readonly Gap[];
  };
  readonly otherFlights: readonly {readonly fromLine: number; readonly rows: number}[];
  /** What is no measurement; undefined where everything is. */
  readonly damage?: Damage | undefined;
  /** Of the clock, as a share. */
  readonly drift: number;
  /** Of the time stamps about an even clock, root mean square, as a share of a step. */
  readonly jitter?: number;
}

/**
 * Speeds as logged, Hz: electrical, or mechanical as the controller computed them with the pole count that it had. Zero
 * where no reply came or the motor stands.
 */
export interface LoggedSpeeds {
  readonly kind: 'electrical' | 'mechanical';
  readonly hz: readonly Float32Array[];
}

/** A log that knows no speed of a motor has none. */
export const motorsIn = (log: FlightLog): number => log.speeds.hz.length;

/**
 * What to multiply a logged speed with to get revolutions per second of a motor with `poles`. `loggedPoles` is the count
 * that the controller had in flight: mechanical speeds were computed with it.
 */
export const toMotorHz = ({kind}: LoggedSpeeds, poles: number, loggedPoles = poles): number =>
  kind === 'electrical' ? 2 / poles : loggedPoles / poles;

/** The log's own name of an axis: that of its column. */
export const axisName = (log: FlightLog, axis: Axis): string =>
  log.names[log.mapping.gyro[['roll', 'pitch', 'yaw'].indexOf(axis)]!]!;
