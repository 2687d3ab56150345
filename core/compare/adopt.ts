/** What was found, taken over as the plan: wholly, one parameter, or from one motor for all. */
import type {Craft, Plan, PlannedValue} from '../craft/craft';
import {firmwareName, type FirmwarePlan} from '../firmware/plan/firmware-plan';
import type {ControllerConfig, ControllerPlan} from '../controller/plan';
import {joinValues} from '../craft/plan-values';
import {valuesPlannedFor, withSettings} from '../controller/settings/planned-settings';
import {controllerFields} from '../controller/fields';
import {definitionOf, parameterDefinitions, type ParameterKey} from '../settings/definitions';
import {firmwareText, foundEsc, type Found, type FoundEsc} from '../bench/found';

/**
 * What the ESCs hold as a plan: one value where they agree, else one per motor. End points that calibration made stay
 * with calibration. Undefined where an ESC does not tell the value.
 */
export function adoptValue(found: Found, key: ParameterKey, motors: number): PlannedValue | undefined {
  if (definitionOf(key).calibratedSpread) return {kind: 'calibrated'};
  const values = Array.from({length: motors}, (_, output) => heldBy(found, key, output));
  if (values.some((v) => v === undefined)) return undefined;
  return joinValues(values as number[]);
}

/** The value of one motor for all of them; undefined where its ESC does not tell it. */
export function adoptFrom(found: Found, key: ParameterKey, output: number): PlannedValue | undefined {
  const value = heldBy(found, key, output);
  return value === undefined ? undefined : {kind: 'same', value};
}

const heldBy = (found: Found, key: ParameterKey, output: number) => foundEsc(found, output)?.settings?.values[key];

/**
 * The craft with a plan that says what was found: every parameter, the firmware of the largest group, the flight controller
 * with the way it was told that the propellers turn.
 */
export function adoptAll(craft: Craft, found: Found): Craft {
  const props = found.controller?.config.props ?? craft.props;
  return {...craft, props, plan: adoptedPlan(craft, found)};
}

function adoptedPlan({plan, arms}: Craft, found: Found): Plan {
  const parameters: Record<string, PlannedValue> = {...plan.parameters};
  for (const {key} of parameterDefinitions) {
    const told = found.escs.some((e) => e.settings?.values[key] !== undefined);
    const adopted = told ? adoptValue(found, key, arms.length) : undefined;
    if (adopted) parameters[key] = adopted;
  }
  return {
    parameters,
    firmware: commonFirmware(found) ?? plan.firmware,
    controller: found.controller ? controllerPlan(plan.controller, found.controller.config) : plan.controller,
    ...ownFirmware(plan, found),
    ...controllerFirmware(plan, found),
    ...otherSettings(plan, found),
  };
}

/** A motor that runs what is planned for it alone keeps that plan. */
function ownFirmware({ownFirmware: own = []}: Plan, {escs}: Found): Pick<Plan, 'ownFirmware'> {
  const kept = own.filter(({motor, firmware}) =>
    escs.some((esc) => esc.output === motor && firmwareText(esc) === firmwareName(firmware)),
  );
  return kept.length ? {ownFirmware: kept} : {};
}

/** What is planned of the other settings, as it was found; what this firmware has no place for stays planned. */
function otherSettings({settings}: Plan, {controller}: Found): Pick<Plan, 'settings'> {
  if (!settings) return {};
  const held = controller?.settings;
  if (!held) return {settings};
  const described = {version: controller.identity.version, entries: held.entries};
  const placed = Object.keys(valuesPlannedFor(settings, described));
  const now = Object.fromEntries(placed.map((key) => [key, held.values[key]]));
  return {settings: withSettings(settings, described, now)};
}

/** What the flight controller runs; what is planned where none was read. */
function controllerFirmware(
  {controllerFirmware: planned}: Plan,
  {controller}: Found,
): Pick<Plan, 'controllerFirmware'> {
  if (!controller) return planned ? {controllerFirmware: planned} : {};
  const {firmware, version} = controller.identity;
  return {controllerFirmware: {family: firmware, version}};
}

/** Firmware that most ESCs run; undefined when none of ours is there. */
function commonFirmware({escs}: Found): FirmwarePlan | undefined {
  const known = escs.filter((e) => e.identity);
  const size = (esc: FoundEsc) => known.filter((e) => firmwareText(e) === firmwareText(esc)).length;
  const [first] = [...known].sort((a, b) => size(b) - size(a));
  if (!first?.identity) return undefined;
  const {family, version, pwmKhz} = first.identity;
  return {family, version, ...(pwmKhz !== undefined && {pwmKhz}), ...(first.module && {module: first.module.version})};
}

/** The planned fields of a configuration as it was read. */
/** What is found, field by field; what its firmware does not have stays as planned. */
function controllerPlan(plan: ControllerPlan, config: ControllerConfig): ControllerPlan {
  // The rotation sense is one choice of the craft.
  const own = controllerFields.filter(({field}) => field !== 'props');
  const fields = own.flatMap(({field}) => {
    const value = config[field] ?? plan[field];
    return value === undefined ? [] : [[field, value] as const];
  });
  return Object.fromEntries(fields) as ControllerPlan;
}
