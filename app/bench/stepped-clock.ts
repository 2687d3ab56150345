/**
 * A clock on which page and simulated bench move together, step by step, so that neither runs ahead of the other: a page
 * that computes for a while, or a busy machine, costs no renewal of a lease. Used by tests and tools; a person's hand is
 * followed by the browser's clock.
 */
import type {Clock} from '@core/link/port';
import {VirtualTime} from '@core/link/virtual-time';

/** What moves along, and may stop short because it has something to say. */
export interface SteppedBench {
  /** Moves on by at most `ms`; resolves with what was left of it when it stopped, ms, or when it is gone. */
  step(ms: number): Promise<StepEnd>;
}

export interface StepEnd {
  /** A command is under way and the bench is to go as fast as possible. */
  readonly hurries: boolean;
  /** Nothing is held, turns or is under way: what then passes quickly costs computing for nothing. */
  readonly isIdle: boolean;
}

/** Time that a step may make good after the machine stalled, ms of real time. */
const makeGoodMs = 20;
/** Longest step while the bench hurries, ms: other tasks of the page get their turn in between. */
const hurryMs = 1000;
/** Virtual ms for each real one while the bench is idle, at most. */
const idlePace = 4;
const idlePauseMs = 20;
/**
 * What is due within so little is due now, ms. Page and bench count from moments of their own: what the one asks for can be
 * less than the other's count can tell from nothing, and both would wait for it for ever.
 */
const nowMs = 1e-6;
/** A step of less is not worth its two messages, virtual ms, unless something is due here before. */
const worthMs = 20;

export class SteppedClock implements Clock {
  private readonly time = new VirtualTime();
  private bench: SteppedBench | undefined;
  /** Virtual time that may pass, ms. */
  private budget = 0;
  private lastReal = performance.now();
  private hurries = false;
  private isIdle = false;
  private readonly turn = new MessageChannel();

  /**
   * @param pace virtual ms for each real one, at most.
   * @param ends when it stands still for good: one that nobody looks at any more takes the whole of a core.
   */
  constructor(
    readonly pace: number,
    private readonly ends?: AbortSignal,
  ) {
    void this.run();
  }

  now(): number {
    return this.time.now();
  }

  after(ms: number, callback: () => void): () => void {
    return this.time.after(ms, callback);
  }

  /** The bench that moves along from now on; the returned function lets it go. */
  join(bench: SteppedBench): () => void {
    this.bench = bench;
    return () => {
      if (this.bench !== bench) return;
      this.bench = undefined;
      this.hurries = this.isIdle = false;
    };
  }

  /** Virtual time has passed, ms: what is due by now is called back. */
  moved(ms: number): void {
    // What passed in a hurry was given: it is not to be waited for afterwards.
    this.budget = Math.max(0, this.budget - ms);
    this.time.advanceTo(this.time.now() + ms);
  }

  private async run(): Promise<void> {
    while (!this.ends?.aborted) {
      await (this.mayMove() ? this.nextTask() : pause(this.isIdle ? idlePauseMs : 1));
      await this.step();
    }
  }

  private mayMove(): boolean {
    const real = performance.now();
    const pace = this.isIdle ? Math.min(idlePace, this.pace) : this.pace;
    this.budget = Math.min(this.budget + (real - this.lastReal) * pace, makeGoodMs * pace);
    this.lastReal = real;
    return this.hurries || this.budget >= Math.min(worthMs, Math.max(1, this.dueMs()));
  }

  /** Until the next thing that is due here, ms. */
  private dueMs(): number {
    const next = this.time.next();
    return next === undefined ? Infinity : Math.max(0, next - this.time.now());
  }

  /** Everything that was settled has run, and what waits for its turn gets one. */
  private nextTask(): Promise<void> {
    return new Promise((resolve) => {
      this.turn.port1.onmessage = () => resolve();
      this.turn.port2.postMessage(null);
    });
  }

  /** Up to the next thing that is due here, or until the bench says something. */
  private async step(): Promise<void> {
    const most = this.hurries ? hurryMs : this.budget;
    const ms = Math.min(most, this.dueMs());
    if (!this.bench) return this.moved(Math.max(0, ms));
    if (ms < 0) return;
    ({hurries: this.hurries, isIdle: this.isIdle} = await this.bench.step(ms));
    const due = this.time.next();
    if (due !== undefined && due - this.time.now() < nowMs) this.time.advanceTo(due);
  }
}

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
