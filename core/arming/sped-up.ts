/**
 * Motors that speed up by themselves at one command: a stabilised loop corrects what the gyro drifts by, and without propellers
 * nothing answers, so the correction grows. With propellers off that is normal (common practice).
 */
import type {Report} from '../link/operations';

export interface SpedUp {
  /** Output, counted from 0. */
  readonly output: number;
  /** Electrical speed in the first and the last fifth of the time, 1/min. */
  readonly fromErpm: number;
  readonly toErpm: number;
  /** Command at the end, 0…1, as the flight controller tells it: what the loop made of the idle that was asked for. */
  readonly throttle: number;
}

/** Motors come up to speed first, ms. */
const startsMs = 500;
/** Looked at for at least so long, ms, in at least so many reports. */
const [minMs, minReports] = [500, 15];
/** A rise is one that is this much of the speed, and this many standard errors of the two means. */
const [minShare, minErrors] = [0.03, 4];

/** @param commanded throttle that was asked for, 0…1. Reports of the time in which the motors turned, oldest first. */
export function motorsSpedUp(reports: readonly Report[], commanded: number, outputs: number): SpedUp[] {
  const first = reports.findIndex((r) => r.motors.length >= outputs && r.motors.every((m) => (m.erpm ?? 0) > 0));
  const began = reports[first]?.atMs;
  if (began === undefined) return [];
  const turning = reports.filter((r) => r.atMs >= began + startsMs && r.motors.some((m) => m.throttle > 0));
  if (turning.length < minReports || turning.at(-1)!.atMs - turning[0]!.atMs < minMs) return [];
  return Array.from({length: outputs}, (_, output) => risen(turning, output)).filter(
    (motor) => motor !== undefined && motor.throttle > commanded,
  ) as SpedUp[];
}

function risen(reports: readonly Report[], output: number): SpedUp | undefined {
  const told = reports.flatMap(({motors}) => {
    const {erpm, throttle} = motors[output] ?? {erpm: null, throttle: 0};
    return erpm !== null && throttle > 0 ? [{erpm, throttle}] : [];
  });
  const fifth = Math.floor(told.length / 5);
  if (fifth < 3) return undefined;
  const [early, late] = [meanOf(told.slice(0, fifth)), meanOf(told.slice(-fifth))];
  const rise = late.mean - early.mean;
  if (rise < minShare * early.mean || rise < minErrors * Math.hypot(early.error, late.error)) return undefined;
  return {output, fromErpm: early.mean, toErpm: late.mean, throttle: told.at(-1)!.throttle};
}

/** Mean and its standard error. */
function meanOf(told: readonly {readonly erpm: number}[]): {readonly mean: number; readonly error: number} {
  const mean = told.reduce((sum, {erpm}) => sum + erpm, 0) / told.length;
  const squares = told.reduce((sum, {erpm}) => sum + (erpm - mean) ** 2, 0);
  return {mean, error: Math.sqrt(squares / (told.length - 1) / told.length)};
}

/** Told where it is seen; empty where no motor did. @param poles of the motors, to make rpm of electrical speed. */
export function spedUpText(motors: readonly SpedUp[], poles: number): string {
  if (!motors.length) return '';
  const rpm = (erpm: number) => Math.round((2 * erpm) / poles / 10) * 10;
  const each = motors.map(
    ({output, fromErpm, toErpm}) =>
      `motor ${output + 1} from ${rpm(fromErpm).toLocaleString('en-US')} to ${rpm(toErpm).toLocaleString('en-US')} rpm`,
  );
  return `At idle ${each.join(', ')}: the loop sped ${motors.length === 1 ? 'it' : 'them'} up by itself. Without propellers nothing answers its corrections, so they grow. That is normal on the bench and no fault.`;
}
