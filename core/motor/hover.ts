/** One motor of a craft that carries its share of the weight, and how long the pack lasts. */
import {figureOfMerit, omegaForThrust, shaftPower} from './propeller';
import {bridgeHeat, lossesAt, lossTangent, totalLoss, type Losses} from './losses';
import {motorOf, nominalCellVolts, packResistance, type CraftParts} from './model';
import {rippleAmps, rpmOf, torqueConstant} from './motor';

/** Standard gravity, m/s². */
const gravity = 9.80665;

export interface Drive {
  readonly pwmHz: number;
  readonly deadTimeS: number;
}

/** What is not known, as multiples of the middle: thrust over hover, figure of merit, ripple loss. */
interface Assumptions {
  readonly thrust: number;
  readonly merit: number;
  readonly tangent: number;
}

/** A craft that is flown, not hung in the air, draws more than a hover; half as much thrust again is our middle. */
const middleFlight: Assumptions = {thrust: 1.5, merit: 1, tangent: 1};
const hovering: Assumptions = {thrust: 1, merit: 1, tangent: 1};

interface HoverPoint {
  readonly rpm: number;
  /** Throttle as duty of the bridge, dead time included, 0…1. */
  readonly duty: number;
  /** Mean motor current, A. */
  readonly amps: number;
  /** Peak-to-peak ripple of it, A. */
  readonly rippleAmps: number;
  /** Power at the propeller, W. */
  readonly shaftW: number;
  readonly losses: Losses;
  readonly bridgeHeatW: number;
  /** Out of the pack, W. */
  readonly inputW: number;
  /** Shaft over input. */
  readonly efficiency: number;
  /** Whether the pack can hold it at all: duty within reach. */
  readonly reachable: boolean;
}

/** The working point of one motor. The pack's sag is solved by a few rounds; it settles at once. */
export function hoverPoint(craft: CraftParts, drive: Drive, assume: Assumptions = hovering): HoverPoint {
  const motor = motorOf(craft);
  const kt = torqueConstant(motor.kv);
  const thrustN = ((craft.weightG / 1000) * gravity * assume.thrust) / craft.arms.length;
  const omega = omegaForThrust(craft.propeller, thrustN);
  const shaftW = shaftPower(craft.propeller, thrustN, figureOfMerit(craft.propeller).value * assume.merit);
  const amps = (shaftW / omega + motor.friction) / kt;
  const windingVolts = omega * kt + amps * motor.resistanceOhm;
  const open = craft.battery.cells * nominalCellVolts;
  let volts = open;
  let point: {duty: number; losses: Losses; inputW: number} | undefined;
  for (let round = 0; round < 6; round++) {
    const duty = Math.min(1, windingVolts / volts);
    const {resistanceOhm, inductanceH} = motor;
    const losses = lossesAt(
      {volts, duty, amps, ...drive, resistanceOhm, inductanceH},
      lossTangent.value * assume.tangent,
    );
    const inputW = shaftW + motor.friction * omega + totalLoss(losses);
    point = {duty, losses, inputW};
    const packAmps = (inputW * craft.arms.length + restPower(craft)) / volts;
    volts = Math.max(open / 2, open - packAmps * packResistance(craft));
  }
  const {duty, losses, inputW} = point!;
  return {
    rpm: rpmOf(omega),
    duty: duty + lostDuty(drive),
    amps,
    rippleAmps: rippleAmps(volts, duty, motor.inductanceH, drive.pwmHz),
    shaftW,
    losses,
    bridgeHeatW: bridgeHeat(losses),
    inputW,
    efficiency: shaftW / inputW,
    reachable: duty + lostDuty(drive) < 1,
  };
}

/** Share of the duty that dead time takes: 2·t·f. Below it a motor does not turn. */
export const lostDuty = ({pwmHz, deadTimeS}: Drive): number => 2 * deadTimeS * pwmHz;

/** What everything but the motors draws, W: our fit, 0.4 W and 1 W for every 100 g. */
const restPower = ({weightG}: Pick<CraftParts, 'weightG'>): number => 0.4 + weightG / 100;

/** Share of the charge that is flown before landing: common practice, to spare the cells. */
const usedCharge = 0.8;

/** Flight time in minutes. */
export function flightMinutes(craft: CraftParts, drive: Drive, assume: Assumptions = middleFlight): number {
  const {cells, capacityMah} = craft.battery;
  const joules = (capacityMah / 1000) * 3600 * cells * nominalCellVolts * usedCharge;
  const watts = hoverPoint(craft, drive, assume).inputW * craft.arms.length + restPower(craft);
  return joules / watts / 60;
}

/** Bounds of the flight time: from hard flying with a poor propeller to a calm hover with a good one. */
export function flightBounds(craft: CraftParts, drive: Drive): {readonly least: number; readonly most: number} {
  const {factor} = figureOfMerit(craft.propeller);
  return {
    least: flightMinutes(craft, drive, {thrust: 2, merit: 1 / factor, tangent: lossTangent.factor}),
    most: flightMinutes(craft, drive, {thrust: 1, merit: factor, tangent: 1 / lossTangent.factor}),
  };
}
