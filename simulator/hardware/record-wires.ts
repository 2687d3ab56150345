/** A recording of the motor wires, with what the flight controller counted meanwhile. */
import type {Wire} from '@core/capture/capture';
import type {SimulatedBench} from './bench';

/** Replies of one output: asked for, lost, and what became of the lost ones. */
export interface Counted {
  readonly asked: number;
  readonly lost: number;
  readonly missing: number;
  readonly code: number;
  readonly checksum: number;
}

export interface Recording {
  readonly wires: readonly Wire[];
  /** Last moment, s. */
  readonly to: number;
  readonly counted: readonly Counted[];
}

/** @param ms of the bench's own time. */
export function recordWires(bench: SimulatedBench, ms: number, done: (recording: Recording) => void): void {
  let before: readonly Counted[] = [];
  bench.record(ms, (recorder) => {
    const counted = countedBy(bench).map((now, i) => since(now, before[i]!));
    // Written out elsewhere: that takes a while, and this clock must go on.
    done({...recorder.finish(bench.time.now()), counted});
  });
  before = countedBy(bench);
}

const countedBy = (bench: SimulatedBench): Counted[] =>
  bench.train.outputs.map(({line: {asked, lost, lostAs}}) => ({asked, lost, ...lostAs}));

const since = (now: Counted, before: Counted): Counted => ({
  asked: now.asked - before.asked,
  lost: now.lost - before.lost,
  missing: now.missing - before.missing,
  code: now.code - before.code,
  checksum: now.checksum - before.checksum,
});
