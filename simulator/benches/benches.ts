/** The benches that ship: one for each craft of the demo, by the craft's id, one with eight ESCs, and one with a single ESC. */
import {alderBench} from './alder';
import type {BenchSetup} from '../hardware/bench-setup';
import {brambleBench} from './bramble';
import {looseBench} from './loose';
import {juniperBench} from './juniper';
import {octoBench} from './octo';
import {sorrelBench} from './sorrel';

export const benches: Readonly<Record<string, (seed?: number) => BenchSetup>> = {
  juniper: juniperBench,
  sorrel: sorrelBench,
  alder: alderBench,
  bramble: brambleBench,
  octo: octoBench,
  loose: looseBench,
};
