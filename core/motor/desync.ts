/**
 * How far a hard throttle step is from losing step. After each commutation the outgoing winding needs t = L·I/V until its
 * current is gone (V = L·di/dt); only then the crossing of its voltage can be seen, which comes 30° plus the timing advance
 * after the commutation (six-step drive, any text on sensorless control).
 */
import {timingAutomatic} from '../settings/parameters/special-values';
import {electricalHz, fullThrottle} from './full-throttle';
import {hoverPoint, type Drive} from './hover';
import {motorOf, type CraftParts} from './model';
import {torqueConstant, type MotorConstants} from './motor';

/** Share of the step's current that is left in a winding at commutation, by demag compensation. Our figures. */
const demagShare: readonly number[] = [1, 0.75, 0.5];

/** A motor at one moment, as its ESC's commutation sees it. */
interface CommutationPoint {
  /** Electrical turns per second. */
  readonly hz: number;
  /** Winding current, A. */
  readonly amps: number;
  /** Supply, V. */
  readonly volts: number;
  readonly inductanceH: number;
  readonly pwmHz: number;
  /** Demag compensation: 0 off, 1 low, 2 high. */
  readonly demag: number;
}

/** Electrical degrees that a winding needs to become free of current: 360·f·L·I/V. */
export const freeAngle = ({hz, amps, volts, inductanceH, demag}: CommutationPoint): number =>
  360 * hz * ((inductanceH * Math.max(0, amps) * (demagShare[demag] ?? 1)) / volts);

/** Electrical degrees by which a crossing is seen late: it is looked for at both edges of a PWM period. */
export const watchAngle = ({hz, pwmHz}: Pick<CommutationPoint, 'hz' | 'pwmHz'>): number => (90 * hz) / pwmHz;

/** Electrical degrees left between a winding being free and its crossing being seen. Below zero steps are lost. */
export const commutationMargin = (point: CommutationPoint, advanceDegrees: number): number =>
  30 + advanceDegrees - freeAngle(point) - watchAngle(point);

export interface StepQuestion {
  readonly craft: CraftParts;
  readonly drive: Drive;
  /** Largest current the ESC allows, A. */
  readonly limitAmps: number;
  /** Demag compensation: 0 off, 1 low, 2 high. */
  readonly demag: number;
}

/** Largest angle in electrical degrees that commutation needs, from hover to full throttle: 30° plus the advance are there. */
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
    const amps = Math.min(limitAmps, Math.max(0, free));
    const hz = electricalHz(rpm, motor.poles);
    const point = {hz, amps, volts: sagged, inductanceH: motor.inductanceH, pwmHz: drive.pwmHz, demag};
    worst = Math.max(worst, freeAngle(point) + watchAngle(point));
  }
  return worst;
}

/** Electrical degrees left on a hard throttle step. Below zero steps are lost. */
export const desyncMargin = (question: StepQuestion, advanceDegrees: number): number =>
  30 + advanceDegrees - demagAngle(question);

/** Advance in electrical degrees at which current and back-EMF are in phase: atan(ω_e·L·I / (E + I·R)). */
export function phaseAngle(
  {kv, poles, resistanceOhm, inductanceH}: Pick<MotorConstants, 'kv' | 'poles' | 'resistanceOhm' | 'inductanceH'>,
  {rpm, amps}: {readonly rpm: number; readonly amps: number},
): number {
  const reactive = 2 * Math.PI * electricalHz(rpm, poles) * inductanceH * amps;
  const active = rpm / kv + amps * resistanceOhm;
  return active > 0 ? (Math.atan2(reactive, active) * 180) / Math.PI : 0;
}

/** The same in a hover. Automatic timing follows it. */
export const idealAdvance = (craft: CraftParts, drive: Drive): number =>
  phaseAngle(motorOf(craft), hoverPoint(craft, drive));

/** Advance in electrical degrees that a planned timing gives in a hover. */
export const advanceOf = (timing: number, craft: CraftParts, drive: Drive): number =>
  timing === timingAutomatic ? idealAdvance(craft, drive) : timing;

/** Share of the torque that a wrong advance leaves: the cosine of the error. */
export const torqueShare = (advance: number, ideal: number): number => Math.cos(((advance - ideal) * Math.PI) / 180);

/** The same of a motor without load, whose current is next to nothing: 1 where timing follows, or is not known. */
export const idleTimingShare = (timing: number | undefined): number =>
  timing === undefined || timing === timingAutomatic ? 1 : torqueShare(timing, 0);
