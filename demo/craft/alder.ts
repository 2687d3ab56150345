/** Alder, the long-range hexacopter of the demo: its class, its arms, and how its motors turn. All invented. */
import {airframe} from '@core/craft/airframes';
import type {Craft} from '@core/craft/craft';
import {heavyHex} from '@core/craft/presets/heavy-hex';

const {plan, ...data} = heavyHex.craft;
/** From analog throttle it goes to digital first, without replies: its notches do not follow the motors yet. */
const controller: Craft['plan']['controller'] = {
  ...plan.controller,
  ...{protocol: 'dshot150', replies: false, notchHarmonics: [], movingNotches: 3},
};

export const alder: Craft = {
  ...data,
  id: 'alder',
  name: 'Alder',
  kind: '7-inch hexacopter',
  arms: airframe('hex X', 320),
  plan: {...plan, controller, controllerFirmware: {family: 'Plumb', version: '2.2'}, parameters: {...plan.parameters, rotation: {kind: 'per motor', values: [0, 1, 0, 1, 0, 1]}}},
};
