/** A bench with four motors drawn from one class, ESCs that reply, and everything else as Juniper's. */
import type {Settings} from '@core/settings/page';
import {juniperBench, juniperController} from '../benches/juniper';
import {drawMotor, type DrawnMotor, type MotorClass} from '../benches/draw-motor';
import {meridianImage} from '../firmware/meridian';
import type {BenchSetup} from '../hardware/bench-setup';
import {fillFlash} from '../hardware/esc/esc-flash';
import {chips} from '@core/firmware/chips';
import {Random} from '../random';

interface DrawnBench {
  readonly setup: BenchSetup;
  readonly motors: readonly DrawnMotor[];
}

const board = {board: 'Gneiss 45', deadTimeNs: 45};

/** @param settings of all four ESCs, beside the defaults. */
export function drawnBench(of: MotorClass, seed: number, settings: Settings = {}): DrawnBench {
  const random = new Random(seed);
  const motors = [0, 1, 2, 3].map(() => drawMotor(of, random));
  const first = juniperBench(seed);
  const setup: BenchSetup = {
    ...first,
    escs: first.escs.map((esc, output) => ({
      ...esc,
      flash: fillFlash(chips.M32, {
        images: [meridianImage('4.2', board)],
        layout: 8,
        settings: {pwm: 48, timing: 15, activeBraking: 1, ...settings},
        seed: seed + output,
      }),
      motor: motors[output]!,
    })),
    controller: {
      ...first.controller,
      saved: {...juniperController, protocol: 'dshot600', replies: true, loopHz: 4000, gyroHz: 4000, poles: of.poles},
    },
    supply: {volts: of.cells * 4.05, resistanceOhm: 0.004 * of.cells, restAmps: 0.2},
  };
  return {setup, motors};
}
