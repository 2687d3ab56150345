/** Whether start-up power gets a motor going, and what it costs when the motor is stuck. */
import {restAmps, startDuty} from './esc-currents';
import {startTrust, type RoughEstimate} from './estimates';
import {motorOf, nominalCellVolts, type CraftParts} from './model';
import {torqueConstant, type MotorConstants} from './motor';

/**
 * Time of one commutation of a blind start, s: the rotor must follow the field through its 60° within it, or is lost.
 * Our figure for the firmware families we know; with it motors of all classes start near 1020 µs (common practice).
 */
const blindStepS = 6e-3;

/** Torque that a blind start takes, N·m: out of the slots, against friction, and θ = ½·(T/J)·t² through one sector. */
export function startTorque({
  inertia,
  cogging,
  friction,
  poles,
}: Pick<MotorConstants, 'inertia' | 'cogging' | 'friction' | 'poles'>): number {
  const sector = Math.PI / 3 / (poles / 2);
  return cogging + friction + (2 * sector * inertia) / blindStepS ** 2;
}

/** Torque of a motor at rest at a duty, N·m. */
export const torqueAtRest = (
  {kv, resistanceOhm}: Pick<MotorConstants, 'kv' | 'resistanceOhm'>,
  {volts, duty, limitAmps}: {readonly volts: number; readonly duty: number; readonly limitAmps: number},
): number => torqueConstant(kv) * restAmps(volts, duty, resistanceOhm, limitAmps);

/** A craft whose motors start at a start-up power, with propellers on. */
interface StartQuestion {
  readonly craft: CraftParts;
  readonly powerUs: number;
  /** Largest current the ESC allows, A. */
  readonly limitAmps: number;
}

const supplyOf = ({battery}: CraftParts): number => battery.cells * nominalCellVolts;

/** Torque while starting over the torque that it takes; under 1 the motor stutters. */
export function startMargin({craft, powerUs, limitAmps}: StartQuestion): RoughEstimate {
  const motor = motorOf(craft);
  const drive = {volts: supplyOf(craft), duty: startDuty(powerUs), limitAmps};
  return {value: torqueAtRest(motor, drive) / startTorque(motor), factor: startTrust};
}

/** Current while starting, A. */
export const startAmps = ({craft, powerUs, limitAmps}: StartQuestion): number =>
  restAmps(supplyOf(craft), startDuty(powerUs), craft.motor.resistanceOhm, limitAmps);

/** Heat in a winding that is held at rest, W: I²·R. */
export const stallHeat = (question: StartQuestion): number =>
  startAmps(question) ** 2 * question.craft.motor.resistanceOhm;
