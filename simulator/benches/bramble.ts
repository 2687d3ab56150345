/** Bramble on the bench as the demo finds it: Meridian 3.7 on all four, bootloaders too old for 4.x, no reply module. */
import {chips} from '@core/firmware/chips';
import type {BenchSetup} from '../hardware/bench-setup';
import {usualCockpit} from '../hardware/hands/cockpit';
import {fillFlash} from '../hardware/esc/esc-flash';
import {juniperBench, juniperController, juniperMotor} from './juniper';
import {meridianImage} from '../firmware/meridian';
import {withPlumb} from '../firmware/plumb';
import {coggingFor} from './cogging-for';

const board = {board: 'Schist 40', deadTimeNs: 40};
const volts = 24.6;
const motor = {...juniperMotor, kv: 1900, resistanceOhm: 0.055, inductanceH: 14e-6};

/** Its board lies turned, its transmitter sends throttle first, and nobody gave it a switch to arm with. */
const cockpit = {
  ...usualCockpit,
  mounted: {roll: 0, pitch: 0, yaw: -90},
  transmitter: {...usualCockpit.transmitter, channel: {throttle: 1, roll: 2, pitch: 3, yaw: 4}},
};

/** As 2.0 keeps them: tens of degrees per second, tenths of a volt. */
const settings = {
  ...{'craft.name': 'Bramble', 'rates.roll_centre': 24, 'rates.pitch_centre': 24, 'rates.yaw_max': 420},
  ...{'battery.min_v': 34, 'sticks.smoothing_hz': 45, 'gains.loop_kind': 'old', 'lab.quirk_7': 7},
};

export function brambleBench(seed = 1): BenchSetup {
  const first = juniperBench(seed);
  return {
    ...first,
    escs: [0, 1, 2, 3].map((output) => ({
      hardware: {...board, chip: 'M32', serial: `S40-77${output}3`, bootRevision: 2, dialect: 'B'},
      flash: fillFlash(chips.M32, {
        images: [meridianImage('3.7', board)],
        layout: 5,
        settings: {
          rotation: output % 3 === 0 ? 1 : 0,
          timing: 22.5,
          pwm: 24,
          activeBraking: 1,
          brakeStrength: 60,
          demag: 1,
          startLow: 1050,
          startHigh: 1125,
          lowSpeedLimit: 9,
          throttleMin: 1018 + output,
          throttleMax: 1988 - output,
          toneLoudness: 90,
          temperatureLimit: 105,
        },
        seed: 7700 + output,
      }),
      motor: {...motor, kv: 1895 + 4 * output, cogging: coggingFor(0.016, volts, motor)},
      wiredClockwise: output < 2,
    })),
    controller: {
      ...withPlumb('Slate F', '2.0', {clockMhz: 216, serial: 'SLF-5523', logBytes: 2 ** 24}),
      saved: {...juniperController, protocol: 'dshot300', switches: []},
      settings,
    },
    supply: {...first.supply, volts},
    cockpit,
  };
}
