/** The firmware that is planned for each motor: that of the craft, unless a motor has one of its own on purpose. */
import type {FirmwarePlan, WantedFirmware} from '../firmware/plan/firmware-plan';
import type {Variant} from '../settings/variant';
import type {Craft, Plan} from './craft';

/** Firmware planned for the ESC of an output. */
export const plannedFirmware = ({firmware, ownFirmware}: Pick<Plan, 'firmware' | 'ownFirmware'>, output: number) =>
  ownFirmware?.find((own) => own.motor === output)?.firmware ?? firmware;

/** Kind of firmware that turns the motor of an output: a helicopter has its main rotor first and its tail rotor second. */
export const variantOf = ({helicopter}: Pick<Craft, 'helicopter'>, output: number): Variant =>
  helicopter ? (output === 0 ? 'heli-main' : 'heli-tail') : 'multirotor';

/** What an image for the ESC of an output must be. */
export const wantedFirmware = (craft: Pick<Craft, 'plan' | 'helicopter'>, output: number): WantedFirmware => ({
  ...plannedFirmware(craft.plan, output),
  variant: variantOf(craft, output),
});

/** The plan with another firmware on one motor; with none of its own where nothing is given. */
export function withOwnFirmware(plan: Plan, motor: number, firmware: FirmwarePlan | undefined): Plan {
  const {ownFirmware = [], ...rest} = plan;
  const others = ownFirmware.filter((own) => own.motor !== motor);
  const all = firmware ? [...others, {motor, firmware}].sort((a, b) => a.motor - b.motor) : others;
  return all.length ? {...rest, ownFirmware: all} : rest;
}
