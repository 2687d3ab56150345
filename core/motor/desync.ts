/**
 * How far a hard throttle step is from losing step. After each commutation the outgoing winding needs t = L·I/V until its
 * current is gone (V = L·di/dt); only then the crossing of its voltage can be seen, which comes 30° plus the timing advance
 * after the commutation (six-step drive, any text on sensorless control).
 */
import {timingAutomatic} from '../settings/parameters/special-values';
import {electricalHz, fullThrottle} from './full-throttle';
import {hoverPoint, type Drive} from './hover';
import {motorOf, nominalCellVolts, type CraftParts} from './model';
import {torqueConstant} from './motor';

/** Share of the step's current that is left in a winding at commutation, by demag compensation. Our figures. */
export const demagShare: readonly number[] = [1, 0.75, 0.5];

export interface StepQuestion {
  readonly craft: CraftParts;
  readonly drive: Drive;
  /** Largest current the ESC allows, A. */
  readonly limitAmps: number;
  /** Demag compensation: 0 off, 1 low, 2 high. */
  readonly demag: number;
}

/** Largest angle in electrical degrees that a winding needs to become free of current, from hover to full throttle. */
export function demagAngle({craft, drive, limitAmps, demag}: StepQuestion): number {
  const motor = motorOf(craft);
  const kt = torqueConstant(motor.kv);
  const {cellVolts, rpm: top} = fullThrottle(craft, drive);
  const sagged = cellVolts * craft.battery.cells;
  const {rpm: hover} = hoverPoint(craft, drive);
  let worst = 0;
  for (let i = 0; i <= 20; i++) {
    const rpm = hover + ((Math.max(top, hover) - hover) * i) / 20;
    const free = (sagged - (rpm * 2 * Math.PI * kt) / 60) / motor.resistanceOhm;
    const amps = Math.min(limitAmps, Math.max(0, free)) * (demagShare[demag] ?? 1);
    worst = Math.max(worst, 360 * electricalHz(rpm, motor.poles) * ((motor.inductanceH * amps) / sagged));
  }
  return worst;
}

/** Electrical degrees left between a winding being free and its crossing. Below zero steps are lost. */
export const desyncMargin = (question: StepQuestion, advanceDegrees: number): number =>
  30 + advanceDegrees - demagAngle(question);

/**
 * Advance in electrical degrees at which current and back-EMF are in phase in a hover: atan(ω_e·L·I / (E + I·R)).
 * Automatic timing follows it.
 */
export function idealAdvance(craft: CraftParts, drive: Drive): number {
  const {kv, poles, resistanceOhm, inductanceH} = motorOf(craft);
  const {rpm, amps} = hoverPoint(craft, drive);
  const reactive = 2 * Math.PI * electricalHz(rpm, poles) * inductanceH * amps;
  const active = Math.min(rpm / kv, craft.battery.cells * nominalCellVolts) + amps * resistanceOhm;
  return (Math.atan2(reactive, active) * 180) / Math.PI;
}

/** Advance in electrical degrees that a planned timing gives in a hover. */
export const advanceOf = (timing: number, craft: CraftParts, drive: Drive): number =>
  timing === timingAutomatic ? idealAdvance(craft, drive) : timing;

/** Share of the torque that a wrong advance leaves: the cosine of the error. */
export const torqueShare = (advance: number, ideal: number): number => Math.cos(((advance - ideal) * Math.PI) / 180);
