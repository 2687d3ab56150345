/**
 * Starting plans for the usual classes of craft, each value with its reason. Reasons cite common practice of the trade
 * where nothing is published; see the class's own craft in the demo for one that flies.
 */
import type {ParameterKey} from '../settings/definitions';
import {airframe, type AirframeName} from './airframes';
import type {Craft, PlannedValue} from './craft';

export interface Preset {
  readonly id: string;
  readonly name: string;
  /** What it is for, in a sentence. */
  readonly about: string;
  readonly airframe: AirframeName;
  readonly diagonalMm: number;
  /** Everything of the craft but its name, place and arms. */
  readonly craft: Omit<Craft, 'id' | 'name' | 'arms'>;
  /** Why a parameter has its value; what is not named stands at its default. */
  readonly reasons: Readonly<Partial<Record<ParameterKey, string>>>;
}

const same = (value: number): PlannedValue => ({kind: 'same', value});
const calibrated: PlannedValue = {kind: 'calibrated'};
/** Rotation alternates around the craft; Spin finds which ESCs need it reversed. */
const rotation = (motors: number): PlannedValue => ({kind: 'per motor', values: Array.from({length: motors}, () => 0)});
const outputs = (motors: number) => Array.from({length: motors}, (_, i) => i);

export const presets: readonly Preset[] = [
  {
    id: 'micro',
    name: 'Indoor micro',
    about: 'Ducted quads of 65 to 85 mm on one cell, 8-bit ESCs on the flight controller’s own board.',
    airframe: 'quad X',
    diagonalMm: 76,
    craft: {
      kind: 'indoor micro quad',
      props: 'in',
      propeller: {diameterInch: 1.6, pitchInch: 1.2, blades: 4},
      motor: {size: '1002', kv: 14000, poles: 12, resistanceOhm: 0.21, inductanceH: 7e-6},
      battery: {cells: 1, capacityMah: 450},
      weightG: 31,
      escBoard: 'Chalk 5',
      controllerBoard: 'Chalk 5',
      plan: {
        firmware: {family: 'Cadence', version: '2.1', pwmKhz: 48},
        parameters: {
          rotation: rotation(4),
          timing: same(15),
          activeBraking: same(1),
          demag: same(1),
          startLow: same(1075),
          startHigh: same(1150),
          lowSpeedLimit: same(5),
          throttleMin: calibrated,
          throttleMax: calibrated,
          toneLoudness: same(140),
          temperatureLimit: same(100),
        },
        controller: {
          protocol: 'dshot300',
          replies: true,
          poles: 12,
          loopHz: 2000,
          arms: outputs(4),
          notchHarmonics: [1, 2],
          notchQ: 4,
          notchMinHz: 150,
          movingNotches: 0,
          gyroLowPassHz: 300,
          idlePercent: 6,
        },
      },
    },
    reasons: {
      startLow: 'Light rotors and stiff ducts: 25 to 50 µs over the default keeps them from stuttering.',
      startHigh: 'Raised together with the lowest power, so that the span between them stays.',
      lowSpeedLimit: '5 protects windings of a few turns when a leaf stops the propeller.',
      toneLoudness: 'Under a third of the range is hard to hear on motors this small.',
    },
  },
  {
    id: 'five-inch',
    name: '5-inch quad',
    about: 'Quads of 200 to 240 mm on six cells, 32-bit four-in-one ESCs, motor-speed notches.',
    airframe: 'quad X',
    diagonalMm: 226,
    craft: {
      kind: '5-inch quad',
      props: 'out',
      propeller: {diameterInch: 5.1, pitchInch: 3.6, blades: 3},
      motor: {size: '2207', kv: 1750, poles: 14, resistanceOhm: 0.062, inductanceH: 16e-6},
      battery: {cells: 6, capacityMah: 1300},
      weightG: 640,
      escBoard: 'Gneiss 45',
      controllerBoard: 'Slate F',
      plan: {
        firmware: {family: 'Meridian', version: '4.2'},
        parameters: {
          rotation: rotation(4),
          timing: same(22.5),
          pwm: same(48),
          activeBraking: same(1),
          brakeStrength: same(60),
          demag: same(1),
          startLow: same(1060),
          startHigh: same(1140),
          lowSpeedLimit: same(9),
          throttleMin: calibrated,
          throttleMax: calibrated,
          toneLoudness: same(110),
          temperatureLimit: same(105),
          melody: same(0),
        },
        controller: {
          protocol: 'dshot300',
          replies: true,
          poles: 14,
          loopHz: 4000,
          arms: outputs(4),
          notchHarmonics: [1, 2, 3],
          notchQ: 5,
          notchMinHz: 100,
          movingNotches: 1,
          gyroLowPassHz: 500,
          idlePercent: 4,
        },
      },
    },
    reasons: {
      timing: 'Hard throttle steps: 22.5° keeps commutation ahead of the rotor.',
      pwm: '48 kHz runs smoother than 24 and still has torque at low throttle.',
      activeBraking: 'On for all: an arm without it dips at every throttle cut.',
    },
  },
  {
    id: 'seven-inch',
    name: '7-inch long range',
    about: 'Quads of about 320 mm that carry a camera far: efficiency before punch.',
    airframe: 'quad H',
    diagonalMm: 320,
    craft: {
      kind: '7-inch quad',
      props: 'out',
      propeller: {diameterInch: 7, pitchInch: 4, blades: 2},
      motor: {size: '2808', kv: 1300, poles: 14, resistanceOhm: 0.058, inductanceH: 21e-6},
      battery: {cells: 6, capacityMah: 3000},
      weightG: 980,
      escBoard: 'Gneiss 45',
      controllerBoard: 'Slate F',
      plan: {
        firmware: {family: 'Meridian', version: '4.2'},
        parameters: {
          rotation: rotation(4),
          timing: same(15),
          pwm: same(24),
          activeBraking: same(1),
          brakeStrength: same(50),
          demag: same(2),
          startLow: same(1070),
          startHigh: same(1160),
          lowSpeedLimit: same(9),
          throttleMin: calibrated,
          throttleMax: calibrated,
          toneLoudness: same(120),
          temperatureLimit: same(100),
          melody: same(0),
        },
        controller: {
          protocol: 'dshot300',
          replies: true,
          poles: 14,
          loopHz: 4000,
          arms: outputs(4),
          notchHarmonics: [1, 2, 3],
          notchQ: 4,
          notchMinHz: 80,
          movingNotches: 1,
          gyroLowPassHz: 400,
          idlePercent: 4.5,
        },
      },
    },
    reasons: {
      pwm: '24 kHz has the most torque at low throttle, which large propellers need to follow.',
      demag: 'Heavy propellers on hard steps: high demag compensation costs punch and saves from desync.',
      startHigh: 'A 7-inch propeller needs more current to get going.',
    },
  },
  {
    id: 'heavy-hex',
    name: 'Heavy hexacopter',
    about: 'Six arms with single ESCs, reached one at a time over their signal wires.',
    airframe: 'hex X',
    diagonalMm: 320,
    craft: {
      kind: '7-inch hexacopter',
      props: 'out',
      propeller: {diameterInch: 7, pitchInch: 4, blades: 2},
      motor: {size: '2808', kv: 1300, poles: 14, resistanceOhm: 0.058, inductanceH: 21e-6},
      battery: {cells: 6, capacityMah: 3000},
      weightG: 1680,
      escBoard: 'Basalt 30',
      controllerBoard: 'Slate C',
      plan: {
        firmware: {family: 'Meridian', version: '4.2'},
        parameters: {
          rotation: rotation(6),
          timing: same(22.5),
          pwm: same(24),
          activeBraking: same(1),
          brakeStrength: same(50),
          demag: same(2),
          startLow: same(1070),
          startHigh: same(1160),
          lowSpeedLimit: same(9),
          throttleMin: calibrated,
          throttleMax: calibrated,
          toneLoudness: same(120),
          temperatureLimit: same(100),
          melody: same(0),
        },
        controller: {
          protocol: 'dshot150',
          replies: false,
          poles: 14,
          loopHz: 2000,
          arms: outputs(6),
          notchHarmonics: [],
          notchQ: 5,
          notchMinHz: 80,
          movingNotches: 3,
          gyroLowPassHz: 200,
          idlePercent: 5,
        },
      },
    },
    reasons: {
      throttleMin: 'Single ESCs come calibrated by hand: each keeps its own end points.',
      brakeStrength: 'Six large propellers push much current back into the battery: half strength is enough.',
    },
  },
];

/** A new craft from a preset. Its rotation is planned as normal on every motor; Spin finds what has to be reversed. */
export function craftFromPreset(preset: Preset, identity: {readonly id: string; readonly name: string}): Craft {
  return {...preset.craft, ...identity, arms: airframe(preset.airframe, preset.diagonalMm)};
}

/** A copy under another name; what was found and proven stays with the first. */
export const copyOf = (craft: Craft, identity: {readonly id: string; readonly name: string}): Craft => ({
  ...craft,
  ...identity,
  archived: false,
});
