/**
 * A brushless motor behind a bridge, seen as the direct-current machine it averages to.
 * Electrical: V·D = i·R + ω/Kv. Mechanical: J·dω/dt = K_T·i − friction − drag·ω².
 * K_T [N·m/A] = 60 / (2π·KV), KV in rpm/V (any text on permanent-magnet machines).
 */

export interface MotorConstants {
  /** No-load speed per volt, rpm/V. */
  readonly kv: number;
  readonly poles: number;
  /** Winding and bridge, Ω. */
  readonly resistanceOhm: number;
  readonly inductanceH: number;
  /** Rotor and propeller, kg·m². */
  readonly inertia: number;
  /** Torque of air drag over ω², N·m·s². */
  readonly drag: number;
  /** Torque of bearings and iron while turning, N·m. */
  readonly friction: number;
  /** Torque that holds the rotor in its slots at rest, N·m. */
  readonly cogging: number;
}

export interface BridgeSettings {
  readonly pwmHz: number;
  readonly deadTimeS: number;
  /** Share of the time for which the bridge shorts a winding that turns faster than its duty asks, 0 (coasts) to 1. */
  readonly brakeShare: number;
  /** Largest current the ESC allows either way, A. */
  readonly limitAmps: number;
  /** Cosine of the angle between current and back-EMF, see torqueShare in desync.ts; 1 when the timing fits. */
  readonly alignment?: number;
}

export interface MotorState {
  /** Rad/s, never negative: the sense of rotation is kept apart. */
  readonly omega: number;
  /** Motor current, A; negative while it brakes. */
  readonly amps: number;
}

export const torqueConstant = (kv: number): number => 60 / (2 * Math.PI * kv);
export const rpmOf = (omega: number): number => (omega * 60) / (2 * Math.PI);
export const omegaOf = (rpm: number): number => (rpm * 2 * Math.PI) / 60;

/** Share of the duty that reaches the winding: dead time eats 2·t·f of it. */
export function effectiveDuty(duty: number, {pwmHz, deadTimeS}: Pick<BridgeSettings, 'pwmHz' | 'deadTimeS'>): number {
  return Math.max(0, duty - 2 * deadTimeS * pwmHz);
}

/** Peak-to-peak ripple current of a switched winding, A: V·D·(1−D)/(L·f). */
export const rippleAmps = (volts: number, duty: number, inductanceH: number, pwmHz: number): number =>
  (volts * duty * (1 - duty)) / (inductanceH * pwmHz);

/** Motor and bridge as they act together at one moment. */
interface Acting {
  readonly motor: MotorConstants;
  readonly bridge: BridgeSettings;
}

/** K_T as far as current and back-EMF are in line, N·m/A. */
const actingTorque = ({motor, bridge}: Acting): number => torqueConstant(motor.kv) * (bridge.alignment ?? 1);

/** Current in A while the bridge drives: (V·D − ω·K_T)/R. */
const drivingAmps = (omega: number, applied: number, kt: number, {motor}: Acting): number =>
  (applied - omega * kt) / motor.resistanceOhm;

/** Current in A of a shorted winding, for the share of braking: −ω·K_T/R. */
const brakingAmps = (omega: number, kt: number, {motor, bridge}: Acting): number =>
  (-bridge.brakeShare * omega * kt) / motor.resistanceOhm;

/** Never more than the limit of the ESC, A. */
const limited = (amps: number, {limitAmps}: BridgeSettings): number => Math.max(-limitAmps, Math.min(limitAmps, amps));

/** One step of `dtS` seconds. Stable for any step: torque is linear in ω while no limit holds, that part is implicit. */
export function stepMotor(
  state: MotorState,
  drive: {readonly volts: number; readonly duty: number},
  acting: Acting,
  dtS: number,
): MotorState {
  const {motor, bridge} = acting;
  const kt = actingTorque(acting);
  const applied = drive.volts * effectiveDuty(drive.duty, bridge);
  const driving = drivingAmps(state.omega, applied, kt, acting);
  const braking = brakingAmps(state.omega, kt, acting);
  const wanted = Math.max(driving, braking);
  const amps = limited(wanted, bridge);
  // How the torque falls with speed, N·m·s; not at all where the limit holds.
  const share = driving >= braking ? 1 : bridge.brakeShare;
  const damping = amps === wanted ? (share * kt * kt) / motor.resistanceOhm : 0;
  const torque = kt * amps + damping * state.omega;
  const load = motor.friction + motor.drag * state.omega * state.omega;
  const omega = Math.max(0, (motor.inertia * state.omega + (torque - load) * dtS) / (motor.inertia + damping * dtS));
  if (omega === 0 && drive.duty === 0) return {omega, amps: 0};
  const after = Math.max(drivingAmps(omega, applied, kt, acting), brakingAmps(omega, kt, acting));
  return {omega, amps: limited(after, bridge)};
}

/** Steady speed in rad/s at a duty: K_T·i = friction + drag·ω² with i = (V·D − ω·K_T)/R, solved in closed form. */
export function steadyOmega(volts: number, duty: number, motor: MotorConstants, bridge: BridgeSettings): number {
  const kt = actingTorque({motor, bridge});
  const applied = volts * effectiveDuty(duty, bridge);
  const b = (kt * kt) / motor.resistanceOhm;
  const c = motor.friction - (kt * applied) / motor.resistanceOhm;
  if (c >= 0) return 0;
  return motor.drag === 0 ? -c / b : (-b + Math.sqrt(b * b - 4 * motor.drag * c)) / (2 * motor.drag);
}
