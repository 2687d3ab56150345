/** Bramble, the quad of the demo that gets its replies from a reply module: its data and its plan. All invented. */
import type {Craft} from '@core/craft/craft';
import {juniper} from './juniper';

export const bramble: Craft = {
  ...juniper,
  id: 'bramble',
  name: 'Bramble',
  props: 'in',
  propeller: {diameterInch: 5.1, pitchInch: 4.3, blades: 3},
  motor: {size: '2306', kv: 1900, poles: 14, resistanceOhm: 0.055, inductanceH: 14e-6},
  weightG: 655,
  escBoard: 'Schist 40',
  plan: {
    firmware: {family: 'Meridian', version: '3.9', module: '1.1'},
    controllerFirmware: {family: 'Plumb', version: '2.2'},
    parameters: {
      ...juniper.plan.parameters,
      rotation: {kind: 'per motor', values: [1, 0, 0, 1]},
      pwm: {kind: 'same', value: 24},
    },
    controller: {...juniper.plan.controller, notchHarmonics: [1, 2], movingNotches: 2, notchWeights: [100, 60], gyroLowPass: 'lowpass2'},
  },
};
