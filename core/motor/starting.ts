/** Whether start-up power gets a motor going, and what it costs when the motor is stuck. */
import {startAmps} from './esc-currents';
import type {Estimate} from './estimates';
import {nominalCellVolts, type CraftParts} from './model';

/** Command at which motors usually start, as share of full throttle: 1020 µs is common practice. */
const usualStart = 0.02;

/** Current in A that breaks a motor away without sensors; from the usual start, so an estimate. */
export const breakawayAmps = ({motor, battery}: CraftParts): Estimate => ({
  value: (usualStart * battery.cells * nominalCellVolts) / motor.resistanceOhm,
  factor: 1.5,
});

/** Torque while starting over the torque that it takes; under 1 the motor stutters. */
export const startMargin = (craft: CraftParts, powerUs: number): number =>
  startAmps(powerUs) / breakawayAmps(craft).value;

/** Heat in a winding that is held at rest, W: I²·R, and never more than the pack can push through it. */
export function stallHeat({motor, battery}: CraftParts, powerUs: number): number {
  const amps = Math.min(startAmps(powerUs), (battery.cells * nominalCellVolts) / motor.resistanceOhm);
  return amps ** 2 * motor.resistanceOhm;
}
