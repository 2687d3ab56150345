/** Motors of the benches are given by the throttle at which they start. */
import {torqueConstant, type MotorConstants} from '@core/motor/motor';
import {startTorque} from '@core/motor/starting';

/** Torque that holds the rotor in its slots, N·m, so that a blind start takes `duty` of `volts` at the winding. */
export function coggingFor(duty: number, volts: number, motor: Omit<MotorConstants, 'cogging'>): number {
  const cogging = (torqueConstant(motor.kv) * volts * duty) / motor.resistanceOhm - startTorque({...motor, cogging: 0});
  if (cogging < 0) throw new Error(`A motor with this inertia cannot start at ${duty} of its supply`);
  return cogging;
}
