/** A configuration from the wire and to it. A field that only one side knows stays on its side. */
import type {WireConfig} from '../link/operations';
import type {ControllerConfig} from './plan';

export const configFromWire = (wire: WireConfig): ControllerConfig => ({
  protocol: wire.protocol,
  replies: wire.replies,
  poles: wire.poles,
  gyroHz: wire.gyroHz,
  loopHz: wire.loopHz,
  arms: wire.arms,
  notchHarmonics: wire.notchHarmonics,
  notchQ: wire.notchQ,
  notchMinHz: wire.notchMinHz,
  movingNotches: wire.movingNotches,
  gyroLowPassHz: wire.gyroLowPassHz,
  idlePercent: wire.idlePercent,
});

/** Only the fields that are given. */
export function configToWire(config: Partial<ControllerConfig>): Partial<WireConfig> {
  const {protocol, replies, poles, loopHz, arms, idlePercent} = config;
  const {notchHarmonics, notchQ, notchMinHz, movingNotches, gyroLowPassHz} = config;
  const all = {
    ...{protocol, replies, poles, loopHz, arms, idlePercent},
    ...{notchHarmonics, notchQ, notchMinHz, movingNotches, gyroLowPassHz},
  };
  return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined));
}
