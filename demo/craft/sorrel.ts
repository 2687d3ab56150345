/** Sorrel, the ducted indoor quad of the demo: its class, its arms, and how its motors turn. All invented. */
import type {Craft} from '@core/craft/craft';
import {micro} from '@core/craft/presets/micro';

const {plan, ...data} = micro.craft;

export const sorrel: Craft = {
  ...data,
  id: 'sorrel',
  name: 'Sorrel',
  kind: '75 mm ducted quad',
  arms: [
    {name: 'front right', xMm: 27, yMm: 27},
    {name: 'rear right', xMm: 27, yMm: -27},
    {name: 'rear left', xMm: -27, yMm: -27},
    {name: 'front left', xMm: -27, yMm: 27},
  ],
  plan: {...plan, controllerFirmware: {family: 'Plumb', version: '2.2'}, parameters: {...plan.parameters, rotation: {kind: 'per motor', values: [1, 0, 1, 0]}}},
};
