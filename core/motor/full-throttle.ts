/** A craft held at full throttle: how fast, how many amperes, and how far the pack sags. */
import {motorOf, nominalCellVolts, packResistance, type CraftParts} from './model';
import {effectiveDuty, rpmOf, steadyOmega, torqueConstant, type BridgeSettings, type MotorConstants} from './motor';
import {hoverPoint, type Drive} from './hover';

interface FullThrottle {
  readonly rpm: number;
  /** Per motor, A. */
  readonly amps: number;
  /** Volts per cell while it lasts. */
  readonly cellVolts: number;
}

/** Motors alike on one pack. */
interface Supply {
  readonly openVolts: number;
  readonly packOhm: number;
  readonly motors: number;
}

/** Where the pack's sag and what the motors draw at full duty meet. The more volts are left, the more they draw: halving. */
export function sagBalance(
  motor: MotorConstants,
  drive: Drive,
  {openVolts, packOhm, motors}: Supply,
): {readonly volts: number; readonly omega: number; readonly amps: number} {
  const kt = torqueConstant(motor.kv);
  const bridge: BridgeSettings = {...drive, brakeShare: 1, limitAmps: 1e6};
  const ampsAt = (volts: number) =>
    Math.max(0, volts * effectiveDuty(1, drive) - steadyOmega(volts, 1, motor, bridge) * kt) / motor.resistanceOhm;
  let [low, high] = [0, openVolts];
  for (let round = 0; round < 50; round++) {
    const volts = (low + high) / 2;
    if (openVolts - ampsAt(volts) * motors * packOhm > volts) low = volts;
    else high = volts;
  }
  return {volts: low, omega: steadyOmega(low, 1, motor, bridge), amps: ampsAt(low)};
}

export function fullThrottle(craft: CraftParts, drive: Drive): FullThrottle {
  const {cells} = craft.battery;
  const {volts, omega, amps} = sagBalance(motorOf(craft), drive, {
    openVolts: cells * nominalCellVolts,
    packOhm: packResistance(craft),
    motors: craft.arms.length,
  });
  return {rpm: rpmOf(omega), amps, cellVolts: volts / cells};
}

/** Bridge of a usual ESC: at full throttle it switches little, so that its figures hardly count. */
const usualDrive: Drive = {pwmHz: 24_000, deadTimeS: 50e-9};

/** Turns per second of a motor at full throttle, predicted from the craft. */
export const fastestHz = (craft: CraftParts): number => fullThrottle(craft, usualDrive).rpm / 60;

/** Electrical turns per second. */
export const electricalHz = (rpm: number, poles: number): number => (rpm / 60) * (poles / 2);
/** Commutations per second: six to an electrical turn. */
export const commutationHz = (rpm: number, poles: number): number => 6 * electricalHz(rpm, poles);

/** Commutations per second in a hover and at full throttle. */
export const commutationRange = (craft: CraftParts, drive: Drive): readonly [hoverHz: number, fullHz: number] => [
  commutationHz(hoverPoint(craft, drive).rpm, craft.motor.poles),
  commutationHz(fullThrottle(craft, drive).rpm, craft.motor.poles),
];

/**
 * Whether PWM and commutation come close somewhere between hover and full throttle: within a quarter of each other they
 * beat, and the torque pulses with the difference.
 */
export const beatsWithPwm = (pwmHz: number, hoverHz: number, fullHz: number): boolean =>
  pwmHz > hoverHz * 0.8 && pwmHz < fullHz * 1.25;
