/**
 * Alder on the bench as the demo finds it: six single ESCs reached over their signal wires, boot dialects A and B among
 * them, foreign firmware on arm 4, and a flight controller too old to pass through.
 */
import {crc32} from '@core/checksums';
import {chips} from '@core/firmware/chips';
import type {Image} from '@core/firmware/image';
import type {WireConfig} from '@core/link/operations';
import type {MotorConstants} from '@core/motor/motor';
import type {Settings} from '@core/settings/page';
import type {BenchSetup} from '../hardware/bench-setup';
import {withPlumb} from '../firmware/plumb';
import {usualCockpit} from '../hardware/hands/cockpit';
import {fillFlash} from '../hardware/esc/esc-flash';
import {meridianImage} from '../firmware/meridian';
import {coggingFor} from './cogging-for';
import {Random} from '../random';

const board = {board: 'Basalt 30', deadTimeNs: 30};
const volts = 24.4;
const chip = chips.M32;

/** 2808, 1300 KV, 14 poles, without propeller. */
const motor: Omit<MotorConstants, 'cogging'> = {
  kv: 1300,
  poles: 14,
  resistanceOhm: 0.058,
  inductanceH: 21e-6,
  inertia: 5.7e-6,
  drag: 2e-10,
  friction: 1.1e-3,
};

const common: Settings = {
  rotation: 0,
  timing: 22.5,
  pwm: 24,
  activeBraking: 1,
  brakeStrength: 50,
  demag: 1,
  startLow: 1050,
  startHigh: 1125,
  lowSpeedLimit: 9,
  throttleMin: 1040,
  throttleMax: 1862,
  toneLoudness: 90,
  temperatureLimit: 105,
};

const controller: WireConfig = {
  protocol: 'analog',
  replies: false,
  poles: 14,
  gyroHz: 4000,
  loopHz: 2000,
  arms: [0, 1, 2, 3, 4, 5],
  notchHarmonics: [],
  notchQ: 5,
  notchMinHz: 80,
  movingNotches: 3,
  gyroLowPassHz: 150,
  idlePercent: 5,
  props: 'out',
  mounting: {roll: 0, pitch: 0, yaw: 0},
  accelerometer: true,
  receiver: {kind: 'pulse train', port: 0, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 0},
  switches: [{use: 'arm', channel: 5, fromUs: 1700, toUs: 2100}],
  failSafe: {action: 'drop', afterMs: 900},
};

/** Arm that each output's wire leads to: two plugs of the flight controller are swapped. */
const wiredArms = [0, 5, 2, 3, 4, 1];

/** Arm whose ESC came with somebody else's firmware. */
export const foreignArm = 3;
/** Calibrated analog end points, µs: why each ESC has its own. */
const minimums = [1040, 1043, 1038, 1041, 1045, 1042];
/** How fast the clock of each ESC runs, as a share: what it takes a pulse for. */
const clockShares = [1.0008, 0.9985, 1.0021, 0.9992, 1.0012, 0.9978];
const dialects = ['A', 'A', 'B', 'B', 'A', 'B'] as const;

/** Somebody else's firmware: noise without an identity block. */
const foreignImage = (): Image => ({
  segments: [{start: chip.application.start, bytes: new Random(0xf0e1).bytes(30 * chip.pageBytes)}],
});

export function alderBench(seed = 1): BenchSetup {
  return {
    seed,
    escs: dialects.map((dialect, output) => {
      const foreign = output === foreignArm;
      const flash = fillFlash(chip, {
        images: [foreign ? foreignImage() : meridianImage('3.9', board)],
        layout: 6,
        settings: {...common, rotation: output % 2, throttleMin: minimums[output]!, throttleMax: 1862 - output},
        seed: 3000 + output,
      });
      const {start, end} = chip.application;
      if (foreign) flash.fill(0xff, chip.settings.start, chip.settings.end);
      return {
        hardware: {
          ...board,
          chip: 'M32' as const,
          serial: `B30-6${output + 1}41`,
          bootRevision: 3,
          dialect,
          clockShare: clockShares[output]!,
          ...(foreign && {foreignCrc32: crc32(flash.subarray(start, end))}),
        },
        flash,
        motor: {...motor, kv: 1296 + 2 * output, cogging: coggingFor(0.018, volts, motor)},
        wiredClockwise: true,
      };
    }),
    controller: {
      ...withPlumb('Slate C', '2.0', {clockMhz: 168, serial: 'SLC-3305'}),
      saved: controller,
    },
    supply: {volts, resistanceOhm: 0.012, restAmps: 0.35},
    batteryOn: true,
    cycles: 1,
    // A train of pulses comes every 22 ms, and its edges are not as sharp.
    cockpit: {...usualCockpit, receiver: {rateHz: 1000 / 22, noiseUs: 1.4, loss: 0.004}},
    road: 'single-wire',
    arms: wiredArms,
  };
}
