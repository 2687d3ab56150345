/** Juniper on the bench as the demo finds it: Meridian 3.9 on three ESCs, 3.7 on motor 3, which also coasts and lags. */
import {chips} from '@core/firmware/chips';
import type {WireConfig} from '@core/link/operations';
import type {MotorConstants} from '@core/motor/motor';
import type {Settings} from '@core/settings/page';
import type {LayoutRevision} from '@core/settings/definitions';
import type {BenchSetup} from '../hardware/bench-setup';
import {withPlumb} from '../firmware/plumb';
import {fillFlash} from '../hardware/esc/esc-flash';
import {plumb22Filters} from './plumb-filters';
import {meridianImage} from '../firmware/meridian';
import {coggingFor} from './cogging-for';

const board = {board: 'Gneiss 45', deadTimeNs: 45};
const volts = 24.1;

/** 2207, 1750 KV, 14 poles, without propeller. Drawn around what its label says. */
export const juniperMotor: Omit<MotorConstants, 'cogging'> = {
  kv: 1750,
  poles: 14,
  resistanceOhm: 0.062,
  inductanceH: 16e-6,
  inertia: 2.1e-6,
  drag: 1e-10,
  friction: 5.8e-4,
};

const common: Settings = {
  rotation: 0,
  timing: 22.5,
  pwm: 24,
  activeBraking: 1,
  brakeStrength: 60,
  demag: 1,
  startLow: 1060,
  startHigh: 1140,
  lowSpeedLimit: 9,
  throttleMin: 1016,
  throttleMax: 1983,
  toneLoudness: 110,
  temperatureLimit: 105,
};

const escs: readonly {
  version: string;
  layout: LayoutRevision;
  settings: Settings;
  startsAt: number;
  kv: number;
  wiredClockwise: boolean;
}[] = [
  {version: '3.9', layout: 6, settings: common, startsAt: 0.021, kv: 1752, wiredClockwise: true},
  {
    version: '3.9',
    layout: 6,
    settings: {...common, throttleMin: 1019, throttleMax: 1990},
    startsAt: 0.019,
    kv: 1746,
    wiredClockwise: true,
  },
  {
    version: '3.7',
    layout: 5,
    settings: {...common, throttleMin: 1023, throttleMax: 1987, timing: 15, activeBraking: 0},
    startsAt: 0.024,
    kv: 1757,
    wiredClockwise: false,
  },
  {
    version: '3.9',
    layout: 6,
    settings: {...common, throttleMin: 1017, throttleMax: 1985},
    startsAt: 0.02,
    kv: 1749,
    wiredClockwise: false,
  },
];

export const juniperController: WireConfig = {
  protocol: 'dshot600',
  replies: false,
  poles: 14,
  gyroHz: 8000,
  loopHz: 8000,
  arms: [0, 1, 2, 3],
  notchHarmonics: [],
  notchQ: 5,
  notchMinHz: 100,
  movingNotches: 3,
  gyroLowPassHz: 150,
  ...plumb22Filters,
  clockMhz: 0,
  extendedReplies: false,
  idlePercent: 4,
  props: 'in',
  mounting: {roll: 0, pitch: 0, yaw: 0},
  accelerometer: true,
  receiver: {kind: 'serial', port: 2, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 0},
  switches: [{use: 'arm', channel: 5, fromUs: 1700, toUs: 2100}],
  failSafe: {action: 'drop', afterMs: 400},
};

export function juniperBench(seed = 1): BenchSetup {
  return {
    seed,
    escs: escs.map((esc, output) => ({
      hardware: {...board, chip: 'M32', serial: `G45-20${output + 1}7`, bootRevision: 4, dialect: 'A'},
      flash: fillFlash(chips.M32, {
        images: [meridianImage(esc.version, board)],
        layout: esc.layout,
        settings: esc.settings,
        seed: 4200 + output,
      }),
      motor: {...juniperMotor, kv: esc.kv, cogging: coggingFor(esc.startsAt - 0.0043, volts, juniperMotor)},
      wiredClockwise: esc.wiredClockwise,
    })),
    controller: {
      ...withPlumb('Slate F', '2.2', {clockMhz: 216, serial: 'SLF-4107', logBytes: 2 ** 24}),
      saved: juniperController,
      settings: {
        ...{'craft.name': 'Juniper', 'rates.roll_highest': 720, 'rates.pitch_highest': 720, 'gains.roll_p': 48},
        ...{'battery.capacity_mah': 1300, 'signal.warning_percent': 30, 'video.power': 2},
      },
    },
    supply: {volts, resistanceOhm: 0.02, restAmps: 0.3},
    batteryOn: true,
    cycles: 1,
    road: 'controller',
  };
}
