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
  readonly activeBraking: boolean;
  /** Largest braking current, A. */
  readonly brakeAmps: number;
  /** Largest driving current the ESC allows, A. */
  readonly limitAmps: number;
}

export interface MotorState {
  /** Rad/s, never negative: the sense of rotation is kept apart. */
  readonly omega: number;
  /** Motor current, A; negative while it brakes. */
  readonly amps: number;
}

export const torqueConstant = (kv: number): number => 60 / (2 * Math.PI * kv);
export const rpmOf = (omega: number): number => (omega * 60) / (2 * Math.PI);

/** Share of the duty that reaches the winding: dead time eats 2·t·f of it. */
export function effectiveDuty(duty: number, {pwmHz, deadTimeS}: Pick<BridgeSettings, 'pwmHz' | 'deadTimeS'>): number {
  return Math.max(0, duty - 2 * deadTimeS * pwmHz);
}

/** Peak-to-peak ripple current of a switched winding, A: V·D·(1−D)/(L·f). */
export const rippleAmps = (volts: number, duty: number, inductanceH: number, pwmHz: number): number =>
  (volts * duty * (1 - duty)) / (inductanceH * pwmHz);

/** One step of `dtS` seconds. Stable for any step: the speed is solved implicitly in the electrical damping. */
export function stepMotor(
  state: MotorState,
  drive: {readonly volts: number; readonly duty: number},
  {motor, bridge}: {readonly motor: MotorConstants; readonly bridge: BridgeSettings},
  dtS: number,
): MotorState {
  const kt = torqueConstant(motor.kv);
  const applied = drive.volts * effectiveDuty(drive.duty, bridge);
  const free = (applied - state.omega * kt) / motor.resistanceOhm;
  const lowest = bridge.activeBraking ? -bridge.brakeAmps : 0;
  const amps = Math.min(bridge.limitAmps, Math.max(lowest, free));
  const atRest = state.omega < 1;
  if (atRest && kt * amps < motor.cogging) return {omega: 0, amps: drive.duty > 0 ? amps : 0};
  const limited = amps !== free;
  // Torque is linear in ω while the current is not limited: take that part implicitly.
  const damping = limited ? 0 : (kt * kt) / motor.resistanceOhm;
  const push = limited ? kt * amps : (kt * applied) / motor.resistanceOhm;
  const load = motor.friction + motor.drag * state.omega * state.omega;
  const omega = Math.max(0, (motor.inertia * state.omega + (push - load) * dtS) / (motor.inertia + damping * dtS));
  return {omega, amps: omega === 0 && drive.duty === 0 ? 0 : amps};
}

/** Steady speed in rad/s at a duty: K_T·i = friction + drag·ω² with i = (V·D − ω·K_T)/R, solved in closed form. */
export function steadyOmega(volts: number, duty: number, motor: MotorConstants, bridge: BridgeSettings): number {
  const kt = torqueConstant(motor.kv);
  const applied = volts * effectiveDuty(duty, bridge);
  const b = (kt * kt) / motor.resistanceOhm;
  const c = motor.friction - (kt * applied) / motor.resistanceOhm;
  if (c >= 0) return 0;
  return motor.drag === 0 ? -c / b : (-b + Math.sqrt(b * b - 4 * motor.drag * c)) / (2 * motor.drag);
}
