/** Juniper, the quad of the demo: its class, its arms, and how its motors turn. All invented. */
import type {Craft} from '@core/craft/craft';
import {fiveInch} from '@core/craft/presets/five-inch';

const {plan, ...data} = fiveInch.craft;

export const juniper: Craft = {
  ...data,
  id: 'juniper',
  name: 'Juniper',
  kind: '5-inch quad',
  arms: [
    {name: 'front right', xMm: 80, yMm: 80},
    {name: 'rear right', xMm: 80, yMm: -80},
    {name: 'rear left', xMm: -80, yMm: -80},
    {name: 'front left', xMm: -80, yMm: 80},
  ],
  plan: {...plan, controllerFirmware: {family: 'Plumb', version: '2.2'}, parameters: {...plan.parameters, rotation: {kind: 'per motor', values: [0, 1, 1, 0]}}},
};
