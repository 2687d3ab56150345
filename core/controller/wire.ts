/** A configuration from the wire and to it. A field that only one side knows stays on its side. */
import type {WireConfig} from '../link/operations';
import type {ControllerConfig, ControllerFields} from './plan';

export const configFromWire = (wire: WireConfig): ControllerConfig =>
  ({...given(wire), gyroHz: wire.gyroHz}) as ControllerConfig;

/** Only the fields that are given, those of the plan. */
export const configToWire = (config: Partial<ControllerConfig>): Partial<WireConfig> => given(config);

/** One list of the fields for both ways; what is absent stays absent. */
function given(config: Partial<ControllerFields>): Partial<ControllerFields> {
  const {protocol, replies, poles, loopHz, arms, idlePercent, gyroLowPassHz} = config;
  const {notchHarmonics, notchQ, notchMinHz, movingNotches, props} = config;
  const all = {
    ...{protocol, replies, poles, loopHz, arms, idlePercent, gyroLowPassHz},
    ...{notchHarmonics, notchQ, notchMinHz, movingNotches, props},
  };
  return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined));
}
