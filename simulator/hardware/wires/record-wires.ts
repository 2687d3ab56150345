/** A recording of the motor wires, with what the flight controller counted meanwhile. */
import type {CountedReplies, WireRecording} from '@core/capture/read/recording';
import type {SimulatedBench} from '../bench';

/** @param ms of the bench's own time. */
export function recordWires(bench: SimulatedBench, ms: number, done: (recording: WireRecording) => void): void {
  let before: readonly CountedReplies[] = [];
  bench.record(ms, (recorder) => {
    const counted = countedBy(bench).map((now, i) => since(now, before[i]!));
    // Written out elsewhere: that takes a while, and this clock must go on.
    done({...recorder.finish(bench.time.now()), counted});
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
