/** A recording of the stand-in's motor wires, with what its flight controller counted meanwhile. */
import {writeVcd} from '@core/capture/write-vcd';
import type {SimulatedBench} from '@simulator/hardware/bench';
import type {CountedReplies, WireRecording} from './bench-control';

/** @param ms of the bench's own time. */
export function recordWires(bench: SimulatedBench, ms: number, done: (recording: WireRecording) => void): void {
  let before: readonly CountedReplies[] = [];
  bench.record(ms, (recorder) => {
    const {wires, to} = recorder.finish(bench.time.now());
    const counted = countedBy(bench).map((now, i) => since(now, before[i]!));
    done({vcd: new TextEncoder().encode(writeVcd(wires, to)), counted});
  });
  before = countedBy(bench);
}

const countedBy = (bench: SimulatedBench): CountedReplies[] =>
  bench.train.outputs.map(({line: {asked, lost, lostAs}}) => ({asked, lost, ...lostAs}));

const since = (now: CountedReplies, before: CountedReplies): CountedReplies => ({
  asked: now.asked - before.asked,
  lost: now.lost - before.lost,
  missing: now.missing - before.missing,
  code: now.code - before.code,
  checksum: now.checksum - before.checksum,
});
