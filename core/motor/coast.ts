/** How fast a motor falls after a throttle cut, integrated with the motor's own equation. */
import {brakeShare} from './esc-currents';
import {hoverPoint, type Drive} from './hover';
import {bellInertia, motorOf, nominalCellVolts, type CraftParts} from './model';
import {omegaOf, stepMotor, type MotorState} from './motor';

interface CoastQuestion {
  readonly craft: CraftParts;
  readonly drive: Drive;
  /** Largest current the ESC allows, A. */
  readonly limitAmps: number;
  readonly activeBraking: boolean;
  /** Brake strength, %. */
  readonly strength: number;
  /** As in flight, or as on the bench. */
  readonly propeller: boolean;
}

/** Seconds from hover speed to 37 % of it. */
export function coastDownS({craft, drive, limitAmps, activeBraking, strength, propeller}: CoastQuestion): number {
  const whole = motorOf(craft);
  const bell = bellInertia(craft).value;
  const motor = propeller ? whole : {...whole, inertia: bell, drag: 0};
  const bridge = {...drive, brakeShare: activeBraking ? brakeShare(strength) : 0, limitAmps};
  const volts = craft.battery.cells * nominalCellVolts;
  const start = omegaOf(hoverPoint(craft, drive).rpm);
  let state: MotorState = {omega: start, amps: 0};
  const step = 1e-4;
  for (let t = 0; t < 10; t += step) {
    if (state.omega <= 0.37 * start) return t;
    state = stepMotor(state, {volts, duty: 0}, {motor, bridge}, step);
  }
  return 10;
}
