/** Sweeps of all four sticks and their rest afterwards: ends, centre, noise, and the timing of the frames meanwhile. */
import type {ReceiverFrame} from '../link/operations';
import {sticks, type Stick} from './channels';
import {adviseEnds, channelEnds, minRestFrames, minSweeps, minTravelUs, type ChannelEnds, type EndAdvice} from './ends';
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
  /** Lowest and highest pulse of every channel, µs. */
  private readonly low: number[] = [];
  private readonly high: number[] = [];

  get frames(): number {
    return this.all.length;
  }

  feed(frame: ReceiverFrame): void {
    this.all.push(frame);
    frame.us.forEach((us, c) => {
      this.low[c] = Math.min(this.low[c] ?? us, us);
      this.high[c] = Math.max(this.high[c] ?? us, us);
    });
    const {us: first} = this.all[this.restFrom]!;
    const isAtRest = this.travelled.every((c) => Math.abs(first[c - 1]! - frame.us[c - 1]!) <= restUs);
    if (!isAtRest) this.restFrom = this.all.length - 1;
  }

  /** Channels that went far enough to be sticks, counted from 1. */
  get travelled(): readonly number[] {
    return this.low.flatMap((low, c) => (this.high[c]! - low >= minTravelUs ? [c + 1] : []));
  }

  /** What was seen so far, stick by stick. @param channel of each stick, counted from 1. */
  ends(channel: Readonly<Record<Stick, number>>): readonly StickEnds[] {
    return sticks.map((stick) => {
      const ends = this.endsOf(channel[stick]);
      return {stick, channel: channel[stick], ...ends, advice: adviseEnds(ends, {hasCentre: stick !== 'throttle'})};
    });
  }

  /**
   * Whether every stick was swept often enough and then let go.
   * @param channel of each stick; while the order is not known any four channels do.
   */
  isDone(channel?: Readonly<Record<Stick, number>>): boolean {
    const first = this.all[this.restFrom];
    const last = this.all.at(-1);
    if (!first || !last || last.atMs - first.atMs < restMs || this.all.length - this.restFrom < minRestFrames)
      return false;
    const wanted = channel ? sticks.map((stick) => channel[stick]) : this.travelled;
    return wanted.length >= sticks.length && wanted.every((c) => this.endsOf(c).sweeps >= minSweeps);
  }

  get timing(): FrameTiming | undefined {
    return frameTiming(this.all.map((f) => f.atMs));
  }

  private endsOf(channel: number): ChannelEnds {
    const pulses = (frames: readonly ReceiverFrame[]) => frames.map((f) => f.us[channel - 1] ?? NaN);
    return channelEnds(pulses(this.all), pulses(this.all.slice(this.restFrom)));
  }
}
