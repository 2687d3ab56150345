/**
 * A single ESC on a single-wire adapter, without a craft: an M32 that came out of a drawer with old firmware, whose bootloader
 * speaks dialect B.
 */
import {chips} from '@core/firmware/chips';
import {meridianImage} from '../firmware/meridian';
import type {BenchSetup} from '../hardware/bench-setup';
import {fillFlash} from '../hardware/esc/esc-flash';
import {alderBench} from './alder';

const board = {board: 'Basalt 30', deadTimeNs: 30};

export function looseBench(seed = 1): BenchSetup {
  const alder = alderBench(seed);
  const [first] = alder.escs;
  return {
    ...alder,
    escs: [
      {
        ...first!,
        hardware: {...board, chip: 'M32', serial: 'B30-7208', bootRevision: 3, dialect: 'B'},
        flash: fillFlash(chips.M32, {
          images: [meridianImage('3.7', board)],
          layout: 6,
          settings: {rotation: 0, timing: 15, pwm: 24, activeBraking: 0, startLow: 1025, startHigh: 1100},
          seed: 7208,
        }),
      },
    ],
    controller: {...alder.controller, saved: {...alder.controller.saved, arms: [0]}},
    // A bench supply with a current limiter.
    supply: {volts: 12.4, resistanceOhm: 0.05, restAmps: 0.05},
    arms: [0],
  };
}
