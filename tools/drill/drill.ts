/** Random work orders against random mishaps, carried to their end; every account is held against the simulator's flash. */
import {counterNames, sumOf, zeroCounters, zeroNotes, type Counters, type DrillNotes} from './counters';
import {DrillRun} from './drill-run';
import {makeScenario} from './scenario';

interface DrillReport extends Counters {
  readonly runs: number;
}

interface DrillOptions {
  readonly craft: string;
  readonly runs: number;
  readonly seed: number;
  readonly onRun?: (done: number) => void;
}

/** `seeds` are those of runs with anything that should be zero. */
export async function drill({
  craft,
  runs,
  seed,
  onRun,
}: DrillOptions): Promise<{report: DrillReport; notes: DrillNotes & {readonly seeds: readonly number[]}}> {
  const counters = zeroCounters();
  const notes = zeroNotes();
  const seeds: number[] = [];
  for (let i = 0; i < runs; i++) {
    const own = seed * 1_000_003 + i;
    const verdict = await new DrillRun(makeScenario(craft, own), own).go();
    for (const name of counterNames) counters[name] += verdict.counters[name];
    for (const name of Object.keys(notes) as (keyof DrillNotes)[]) notes[name] += verdict.notes[name];
    if (sumOf(verdict.counters)) seeds.push(own);
    onRun?.(i + 1);
  }
  return {report: {runs, ...counters}, notes: {...notes, seeds}};
}
