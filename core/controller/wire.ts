/** A configuration from the wire and to it. A field that only one side knows stays on its side. */
import type {WireConfig} from '../link/operations';
import {controllerPlanSchema, type ControllerConfig, type ControllerFields} from './plan';

export const configFromWire = (wire: WireConfig): ControllerConfig =>
  ({...given(wire), gyroHz: wire.gyroHz}) as ControllerConfig;

/** Only the fields that are given, those of the plan. */
export const configToWire = (config: Partial<ControllerConfig>): Partial<WireConfig> => given(config);

const fields = Object.keys(controllerPlanSchema.shape) as readonly (keyof ControllerFields)[];
/** One list of the fields for both ways; what is absent stays absent. */
const given = (config: Partial<ControllerFields>): Partial<ControllerFields> =>
  Object.fromEntries(fields.flatMap((field) => (config[field] === undefined ? [] : [[field, config[field]]])));
