/** The idle throttle that measured starts ask for. */
import type {MotorReport} from '../../motion/report';
import {isEstimate} from '../../motion/time-constants';
import {idleAbove} from '../sighting/sighting';

interface MeasuredIdle {
  /** Motor that starts last, counted from 0, the command it starts at and what that may be at most, percent. */
  readonly motor: number;
  readonly startsAtPercent: number;
  readonly atMostPercent: number;
  /** Upper bound plus the margin, percent in steps of 0.1. */
  readonly percent: number;
}

/** Undefined until the start of every motor is told: one that is not known may be the last. */
export function idleFromCard(motors: readonly MotorReport[]): MeasuredIdle | undefined {
  const starts = motors.flatMap(({startsAtPercent: s}, motor) =>
    isEstimate(s) ? [{motor, value: s.value, high: s.high}] : [],
  );
  if (!motors.length || starts.length < motors.length) return undefined;
  const last = starts.reduce((a, b) => (b.high > a.high ? b : a));
  return {
    motor: last.motor,
    startsAtPercent: last.value,
    atMostPercent: last.high,
    percent: idleAbove(1000 + 10 * last.high),
  };
}
