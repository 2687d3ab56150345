/** The receiver: frames that come while the transmitter is on, with the noise of the air, kept in a ring. */
import type {ReceiverFrame} from '@core/link/operations';
import type {Random} from '../../random';
import type {Transmitter} from './transmitter';

export interface ReceiverSetup {
  readonly rateHz: number;
  /** Noise of every pulse, standard deviation, µs. */
  readonly noiseUs: number;
  /** Share of frames that the air loses. */
  readonly loss: number;
}

const kept = 256;

export class Receiver {
  private readonly ring: ReceiverFrame[] = [];
  private count = 0;
  /** Until when frames were made, ms. */
  private madeTo = 0;
  private lastMs = 0;

  constructor(
    private readonly transmitter: Transmitter,
    private readonly setup: ReceiverSetup,
    private readonly random: Random,
  ) {}

  /** Makes the frames up to now: nothing happens between two looks that a frame would not tell. */
  follow(nowMs: number): void {
    const everyMs = 1000 / this.setup.rateHz;
    // Nobody reads further back than the ring goes.
    this.madeTo = Math.max(this.madeTo, Math.floor(nowMs / everyMs - kept) * everyMs);
    while (this.madeTo + everyMs <= nowMs) {
      this.madeTo += everyMs;
      if (!this.transmitter.on || this.random.next() < this.setup.loss) continue;
      const us = this.transmitter
        .pulses(this.madeTo)
        .map((p) => Math.round(p + this.random.normal() * this.setup.noiseUs));
      this.ring.push({atMs: this.madeTo, us});
      this.count++;
      this.lastMs = this.madeTo;
      if (this.ring.length > kept) this.ring.shift();
    }
  }

  /** ms since the last frame. */
  silentMs(nowMs: number): number {
    this.follow(nowMs);
    return nowMs - this.lastMs;
  }

  /** Pulses of the newest frame, µs; undefined before the first. */
  newest(nowMs: number): readonly number[] | undefined {
    this.follow(nowMs);
    return this.ring.at(-1)?.us;
  }

  frames(since: number, most: number, nowMs: number): {from: number; frames: ReceiverFrame[]; nowMs: number} {
    this.follow(nowMs);
    const first = this.count - this.ring.length;
    const from = Math.min(this.count, Math.max(first, since));
    return {from, frames: this.ring.slice(from - first, from - first + most), nowMs};
  }
}
