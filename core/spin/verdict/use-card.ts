/** Measured constants in the place of a label's and of estimates. */
import type {Craft} from '../../craft/craft';
import type {Answer} from '../../motion/answer';
import type {MotorReport} from '../../motion/report';
import {isEstimate} from '../../motion/time-constants';
import {median} from '../../numbers/median';

/** The middle of what motors told; undefined while fewer than half of them did. */
function middleTold(motors: readonly MotorReport[], of: (motor: MotorReport) => Answer): number | undefined {
  const told = motors.map(of).filter(isEstimate);
  return told.length * 2 > motors.length ? median(told.map((t) => t.value)) : undefined;
}

/**
 * The motor of a craft with KV, resistance, inertia and friction as its motors showed them, each in the middle of them; what was
 * not told stays as it is. Undefined when KV, resistance or inertia were not told.
 */
export function motorFromCard(
  motor: Craft['motor'],
  reports: readonly MotorReport[],
  at: number,
): Craft['motor'] | undefined {
  const kv = middleTold(reports, (r) => r.kv);
  const resistanceOhm = middleTold(reports, (r) => r.resistanceOhm);
  const inertia = middleTold(reports, (r) => r.inertia);
  const friction = middleTold(reports, (r) => r.friction);
  if (kv === undefined || resistanceOhm === undefined || inertia === undefined) return undefined;
  return {
    ...motor,
    kv: Math.round(kv),
    resistanceOhm,
    estimated: motor.estimated?.filter((key) => key !== 'resistanceOhm'),
    measured: {inertia, ...(friction !== undefined && {friction}), at},
  };
}
