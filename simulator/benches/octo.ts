/** Eight ESCs behind one flight controller: two of Juniper's boards side by side, for craft that someone makes with eight arms. */
import type {BenchSetup} from '../hardware/bench-setup';
import {juniperBench} from './juniper';

export function octoBench(seed = 1): BenchSetup {
  const [front, rear] = [juniperBench(seed), juniperBench(seed + 1)];
  const second = rear.escs.map((esc) => ({
    ...esc,
    hardware: {...esc.hardware, serial: esc.hardware.serial.replace('-20', '-30')},
  }));
  const {saved, ...board} = front.controller;
  return {
    ...front,
    escs: [...front.escs, ...second],
    controller: {...board, saved: {...saved, arms: [0, 1, 2, 3, 4, 5, 6, 7]}},
  };
}
