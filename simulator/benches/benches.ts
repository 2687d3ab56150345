/** The benches that ship: one for each craft of the demo, by the craft's id, and one with eight ESCs. */
import {alderBench} from './alder';
import type {BenchSetup} from '../hardware/bench-setup';
import {brambleBench} from './bramble';
import {juniperBench} from './juniper';
import {octoBench} from './octo';
import {sorrelBench} from './sorrel';

export const benches: Readonly<Record<string, (seed?: number) => BenchSetup>> = {
  juniper: juniperBench,
  sorrel: sorrelBench,
  alder: alderBench,
  bramble: brambleBench,
  octo: octoBench,
};
