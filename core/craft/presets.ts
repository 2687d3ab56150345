/**
 * Starting plans for the usual classes of craft, each value with its reason. Reasons cite common practice of the trade
 * where nothing is published. Three classes start from their craft in the demo, which flies.
 */
import type {ParameterKey} from '../settings/definitions';
import {airframe, type AirframeName} from './airframes';
import {alder} from './alder';
import type {Craft, PlannedValue} from './craft';
import {juniper} from './juniper';
import {sorrel} from './sorrel';

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
/** Everything of a demo craft that a new one of its class starts from. */
function startFrom({id: _id, name: _name, arms, ...craft}: Craft, kind: string): Preset['craft'] {
  const {plan} = craft;
  return {...craft, kind, plan: {...plan, parameters: {...plan.parameters, rotation: rotation(arms.length)}}};
}
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
    craft: startFrom(sorrel, 'indoor micro quad'),
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
    craft: startFrom(juniper, '5-inch quad'),
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
    craft: startFrom(alder, '7-inch hexacopter'),
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

/** A craft of which nothing is planned but its firmware: the survey tells the rest, and it is taken over from there. */
export function craftWithoutPlan(identity: {readonly id: string; readonly name: string}): Craft {
  const craft = craftFromPreset(
    presets.find((p) => p.id === 'five-inch')!,
    identity,
  );
  return {...craft, kind: 'quad', plan: {...craft.plan, parameters: {}}};
}

/** A copy under another name; what was found and proven stays with the first. */
export const copyOf = (craft: Craft, identity: {readonly id: string; readonly name: string}): Craft => ({
  ...craft,
  ...identity,
  archived: false,
});
