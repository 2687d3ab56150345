/** A propeller that stands in still air. */
import type {Craft} from '../craft/craft';
import type {RoughEstimate} from './estimates';

/** Air at 15 °C and sea level, kg/m³ (International Standard Atmosphere). */
export const airDensity = 1.225;
const metres = (inch: number) => inch * 0.0254;

/**
 * Static thrust coefficient, T = C_T·ρ·n²·D⁴ with n in turns per second. Our fit: 0.13 for two blades at a pitch of 0.7
 * diameters, with the root of the pitch, and three blades 1.28 times two.
 */
export function thrustCoefficient({diameterInch, pitchInch, blades}: Craft['propeller']): RoughEstimate {
  return {value: 0.13 * Math.sqrt(pitchInch / diameterInch / 0.7) * (blades / 2) ** 0.6, factor: 1.2};
}

/** Figure of merit in hover: small propellers waste more. Our fit, 0.26 at 1.6 inch, 0.51 at 5 inch. */
export function figureOfMerit({diameterInch}: Craft['propeller']): RoughEstimate {
  return {value: 0.62 * (1 - Math.exp(-diameterInch / 3)), factor: 1.15};
}

/** Speed in rad/s at which the propeller carries `thrustN`. */
export function omegaForThrust(propeller: Craft['propeller'], thrustN: number): number {
  const turns =
    Math.sqrt(thrustN / (thrustCoefficient(propeller).value * airDensity)) / metres(propeller.diameterInch) ** 2;
  return 2 * Math.PI * turns;
}

/** Power in W that `thrustN` takes out of the shaft: momentum theory, T^1.5 / √(2ρA), over the figure of merit. */
export function shaftPower(
  propeller: Craft['propeller'],
  thrustN: number,
  merit = figureOfMerit(propeller).value,
): number {
  const area = (Math.PI / 4) * metres(propeller.diameterInch) ** 2;
  return thrustN ** 1.5 / Math.sqrt(2 * airDensity * area) / merit;
}

/** Torque of air drag over ω², N·m·s²: power and thrust both follow the speed, so one point gives it. */
export function dragOf(propeller: Craft['propeller'], merit = figureOfMerit(propeller).value): number {
  const omega = omegaForThrust(propeller, 1);
  return shaftPower(propeller, 1, merit) / omega ** 3;
}
