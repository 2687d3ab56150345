/** Sweeps of all four sticks and their rest afterwards: ends, centre, noise, and the timing of the frames meanwhile. */
import type {ReceiverFrame} from '../link/operations';
import {sticks, type Stick} from './channels';
import {adviseEnds, channelEnds, leastRestFrames, leastSweeps, type ChannelEnds, type EndAdvice} from './ends';
import {frameTiming, type FrameTiming} from './frame-rate';

export interface StickEnds extends ChannelEnds {
  readonly stick: Stick;
  readonly channel: number;
  readonly advice: EndAdvice;
}

/** At rest a channel stays within so much, µs, for so long, ms. */
const [restUs, restMs] = [40, 1200];

export class SweepWatch {
  private readonly all: ReceiverFrame[] = [];
  private restFrom = 0;

  /** @param channel of each stick, counted from 1. */
  constructor(private readonly channel: Readonly<Record<Stick, number>>) {}

  get frames(): number {
    return this.all.length;
  }

  feed(frame: ReceiverFrame): void {
    this.all.push(frame);
    const isAtRest = (from: number) =>
      sticks.every((stick) => {
        const [a, b] = [this.pulse(this.all[from]!, stick), this.pulse(frame, stick)];
        return Math.abs(a - b) <= restUs;
      });
    if (!isAtRest(this.restFrom)) this.restFrom = this.all.length - 1;
  }

  /** What was seen so far, stick by stick. */
  get ends(): readonly StickEnds[] {
    const rest = this.all.slice(this.restFrom);
    return sticks.map((stick) => {
      const pulses = (frames: readonly ReceiverFrame[]) => frames.map((f) => this.pulse(f, stick));
      const ends = channelEnds(pulses(this.all), pulses(rest));
      return {
        stick,
        channel: this.channel[stick],
        ...ends,
        advice: adviseEnds(ends, {hasCentre: stick !== 'throttle'}),
      };
    });
  }

  /** Whether every stick was swept often enough and then let go. */
  get isDone(): boolean {
    const first = this.all[this.restFrom];
    const last = this.all.at(-1);
    if (!first || !last || last.atMs - first.atMs < restMs || this.all.length - this.restFrom < leastRestFrames)
      return false;
    return this.ends.every((e) => e.sweeps >= leastSweeps);
  }

  get timing(): FrameTiming | undefined {
    return frameTiming(this.all.map((f) => f.atMs));
  }

  private pulse(frame: ReceiverFrame, stick: Stick): number {
    return frame.us[this.channel[stick] - 1] ?? NaN;
  }
}
