/** Mutated inputs of one kind through everything that reads them: none may throw, hang, or eat memory. */
import {Random} from '@simulator/random';
import {backupSubject} from './backups';
import {captureSubject} from './captures';
import {frameSubject} from './frames';
import {imageSubject} from './images';
import {logSubject} from './logs';
import {mutate} from './mutate';
import {snapshotSubject} from './snapshots';
import type {FuzzSubject} from './subject';

interface FuzzReport {
  readonly runs: number;
  /** Readings that threw: a bug each. */
  throws: number;
  /** Readings that made more than their input may make. */
  tooLarge: number;
  /** Longest reading, ms. */
  slowestMs: number;
  /** Heap at the end over heap at the start, MiB. */
  heapGrowthMiB: number;
  /** How many inputs were refused or had faults: shows that the mutations bite. */
  withFaults: number;
}

/** Made when asked for: some need a bench. */
const subjects: Readonly<Record<string, () => FuzzSubject>> = {
  images: () => imageSubject,
  backups: backupSubject,
  snapshots: snapshotSubject,
  logs: () => logSubject,
  frames: frameSubject,
  captures: () => captureSubject,
};
export const fuzzKinds = Object.keys(subjects);

const breatheEvery = 64;

/** Throws a RangeError for a kind that is not in {@link fuzzKinds}. `onRun` is called after each input. */
export async function fuzz(
  kind: string,
  {runs, seed, onRun}: {readonly runs: number; readonly seed: number; readonly onRun?: (done: number) => void},
): Promise<FuzzReport> {
  const subject = Object.hasOwn(subjects, kind) ? subjects[kind]!() : undefined;
  if (!subject) throw new RangeError(`There is nothing called "${kind}" to fuzz`);
  const random = new Random(seed);
  const report: FuzzReport = {runs, throws: 0, tooLarge: 0, slowestMs: 0, heapGrowthMiB: 0, withFaults: 0};
  const heapBefore = process.memoryUsage().heapUsed;
  for (let i = 0; i < runs; i++) {
    const input = mutate(random, subject.seeds[random.below(subject.seeds.length)]!);
    const began = performance.now();
    try {
      const {isFaulty, tooLarge} = await subject.take(input);
      if (isFaulty) report.withFaults++;
      if (tooLarge) report.tooLarge++;
    } catch {
      // Counted: the report is the account.
      report.throws++;
    }
    report.slowestMs = Math.max(report.slowestMs, performance.now() - began);
    onRun?.(i + 1);
    // What promises left behind is done with now and then, as it is between messages of a page.
    if (i % breatheEvery === 0) await new Promise<void>((resolve) => setImmediate(resolve));
  }
  report.heapGrowthMiB = Math.round((process.memoryUsage().heapUsed - heapBefore) / 2 ** 20);
  return report;
}
