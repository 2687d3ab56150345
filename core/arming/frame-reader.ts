/** Reads the receiver's frames as they come, each once; one at a time where a link drops long transfers. */
import type {BenchClient} from '../link/client';
import type {ReceiverFrame} from '../link/operations';
import {ProblemError} from '../problem';

interface ReadFrames {
  readonly frames: readonly ReceiverFrame[];
  /** When they were read, ms on the clock of the frames. */
  readonly nowMs: number;
  /** Frames that fell out of the controller's memory before they were read. */
  readonly skipped: number;
}

/** Beyond every number of a frame: asks where they stand. */
const newest = 0xffffffff;
const atOnce = 8;

export class FrameReader {
  private next: number | undefined;
  private most = atOnce;

  constructor(private readonly client: BenchClient) {}

  /** What came since the last call; nothing at the first one, which only begins. */
  async read(): Promise<ReadFrames> {
    const all: ReceiverFrame[] = [];
    let skipped = 0;
    for (;;) {
      const since = this.next;
      const {from, frames, nowMs} = await this.ask(since ?? newest);
      this.next = from + frames.length;
      skipped += since === undefined ? 0 : Math.max(0, from - since);
      all.push(...frames);
      // As many as were asked for: more are waiting.
      if (frames.length < this.most) return {frames: all, nowMs, skipped};
    }
  }

  private async ask(since: number) {
    try {
      return await this.client.request('receiver.frames', {since, most: this.most});
    } catch (error) {
      const unanswered = error instanceof ProblemError && error.problem.code === 'unanswered';
      if (!unanswered || this.most === 1 || this.client.isClosed) throw error;
      this.most = 1;
      return this.client.request('receiver.frames', {since, most: 1});
    }
  }
}
