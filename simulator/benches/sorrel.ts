/** Sorrel on the bench as the demo finds it: Cadence 1.6 in the 24 kHz build on all four, and a pole count left at 14. */
import {plumb22Filters} from './plumb-filters';
import {chips} from '@core/firmware/chips';
import type {WireConfig} from '@core/link/operations';
import type {MotorConstants} from '@core/motor/motor';
import type {Settings} from '@core/settings/page';
import type {BenchSetup} from '../hardware/bench-setup';
import {withPlumb} from '../firmware/plumb';
import {usualCockpit} from '../hardware/hands/cockpit';
import {cadenceImage} from '../firmware/cadence';
import {fillFlash} from '../hardware/esc/esc-flash';
import {coggingFor} from './cogging-for';

const board = {board: 'Chalk 5', deadTimeNs: 300};
const volts = 4.1;

/** 1002, 14,000 KV, 12 poles, without propeller. Drawn around what its label says. */
const motor: Omit<MotorConstants, 'cogging'> = {
  kv: 14000,
  poles: 12,
  resistanceOhm: 0.21,
  inductanceH: 7e-6,
  inertia: 3.4e-8,
  drag: 1.2e-13,
  friction: 2.6e-5,
};

const common: Settings = {
  rotation: 0,
  timing: 15,
  activeBraking: 1,
  demag: 0,
  startHigh: 1125,
  lowSpeedLimit: 9,
  throttleMin: 1021,
  throttleMax: 1979,
  toneLoudness: 60,
  temperatureLimit: 100,
};

const controller: WireConfig = {
  protocol: 'dshot600',
  replies: false,
  poles: 14,
  gyroHz: 2000,
  loopHz: 2000,
  arms: [0, 1, 2, 3],
  notchHarmonics: [],
  notchQ: 5,
  notchMinHz: 100,
  movingNotches: 2,
  gyroLowPassHz: 250,
  ...plumb22Filters,
  clockMhz: 0,
  extendedReplies: false,
  idlePercent: 6,
  props: 'in',
  mounting: {roll: 0, pitch: 0, yaw: 0},
  accelerometer: true,
  receiver: {kind: 'serial', port: 1, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 0},
  switches: [{use: 'arm', channel: 5, fromUs: 1700, toUs: 2100}],
  failSafe: {action: 'drop', afterMs: 400},
};

export function sorrelBench(seed = 1): BenchSetup {
  return {
    seed,
    escs: [0, 1, 2, 3].map((output) => ({
      hardware: {...board, chip: 'K8', serial: `CHK-51${output}8`, bootRevision: 1, dialect: 'A'},
      flash: fillFlash(chips.K8, {
        images: [cadenceImage('1.6', 24)],
        layout: 2,
        settings: {...common, throttleMin: 1021 + output, throttleMax: 1979 - 2 * output},
        seed: 5100 + output,
      }),
      motor: {...motor, kv: 13_950 + 40 * output, cogging: coggingFor(0.03 + 0.001 * output, volts, motor)},
      wiredClockwise: true,
    })),
    controller: {
      ...withPlumb('Chalk 5', '2.2', {clockMhz: 72, serial: 'CH5-2219'}),
      saved: controller,
    },
    supply: {volts, resistanceOhm: 0.06, restAmps: 0.12},
    batteryOn: true,
    cycles: 1,
    cockpit: {
      ...usualCockpit,
      transmitter: {...usualCockpit.transmitter, lowUs: 1013, centreUs: 1499, highUs: 2011},
    },
    road: 'controller',
  };
}
