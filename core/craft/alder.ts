/** Alder, the long-range hexacopter of the demo: its data and its plan. All invented. */
import {airframe} from './airframes';
import type {Craft} from './craft';

export const alder: Craft = {
  id: 'alder',
  name: 'Alder',
  kind: '7-inch hexacopter',
  props: 'out',
  propeller: {diameterInch: 7, pitchInch: 4, blades: 2},
  motor: {size: '2808', kv: 1300, poles: 14, resistanceOhm: 0.058, inductanceH: 21e-6},
  battery: {cells: 6, capacityMah: 3000},
  weightG: 1680,
  escBoard: 'Basalt 30',
  controllerBoard: 'Slate C',
  arms: airframe('hex X', 320),
  plan: {
    firmware: {family: 'Meridian', version: '4.2'},
    parameters: {
      rotation: {kind: 'per motor', values: [0, 1, 0, 1, 0, 1]},
      timing: {kind: 'same', value: 22.5},
      pwm: {kind: 'same', value: 24},
      activeBraking: {kind: 'same', value: 1},
      brakeStrength: {kind: 'same', value: 50},
      demag: {kind: 'same', value: 2},
      startLow: {kind: 'same', value: 1070},
      startHigh: {kind: 'same', value: 1160},
      lowSpeedLimit: {kind: 'same', value: 9},
      throttleMin: {kind: 'calibrated'},
      throttleMax: {kind: 'calibrated'},
      toneLoudness: {kind: 'same', value: 120},
      temperatureLimit: {kind: 'same', value: 100},
      melody: {kind: 'same', value: 0},
    },
    controller: {
      protocol: 'dshot150',
      replies: false,
      poles: 14,
      loopHz: 2000,
      arms: [0, 1, 2, 3, 4, 5],
      notchHarmonics: [],
      notchQ: 5,
      notchMinHz: 80,
      movingNotches: 3,
      gyroLowPassHz: 200,
      idlePercent: 5,
    },
  },
};
