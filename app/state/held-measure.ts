import {Injectable, inject, signal} from '@angular/core';
import {sleep} from '@core/link/port';
import {ProblemError, type Problem} from '@core/problem';
import type {CancelSignal} from '@core/spin/hold/lease';
import {CLOCK} from '../bench/page-clock';
import {BenchStore} from './bench.store';

/** Something that is measured while a person holds. @param onShare share of it that is done. */
export type Measuring<T> = (held: CancelSignal, onShare: (share: number) => void) => Promise<T>;

/** A press of the button; `why` is what ended it. */
interface Hold {
  aborted: boolean;
  why?: Problem | undefined;
}

interface HoldRules {
  /** Ends it from outside: the order is stopped. */
  readonly stopped: CancelSignal;
  /** Within an order the wires are the order's. */
  readonly isWithinOrder: boolean;
}

/** One button that is held, and what is measured meanwhile. */
@Injectable({providedIn: 'root'})
export class HeldMeasure {
  private readonly bench = inject(BenchStore);
  private readonly clock = inject(CLOCK);
  /** Share of the measurement that is done; undefined while nothing is held. */
  readonly share = signal<number | undefined>(undefined);
  /** One object per press. */
  private held: Hold | undefined;

  press(): void {
    this.held = {aborted: false};
  }

  letGo(): void {
    if (this.held) this.held.aborted = true;
    this.held = undefined;
  }

  /** Pressed first. Rejects when it is let go, stopped or disconnected. */
  async measure<T>(measuring: Measuring<T>, {stopped, isWithinOrder}: HoldRules): Promise<T> {
    const own = this.held ?? {aborted: true};
    const signal: CancelSignal = {
      get aborted() {
        return own.aborted || stopped.aborted;
      },
      get why() {
        return own.why;
      },
    };
    const end = (why?: Problem) => Object.assign(own, {aborted: true, why});
    const release = this.bench.beginHold(end, isWithinOrder ? undefined : 'measurement');
    this.share.set(0);
    try {
      return await measuring(signal, (share) => this.share.set(share));
    } finally {
      release();
      this.share.set(undefined);
    }
  }

  /**
   * Waits for a press, measures, and waits again when it ended too early. A press that goes on counts.
   * @param onEarly told why it ended too early.
   */
  async waitAndMeasure<T>(
    measuring: Measuring<T>,
    {stopped, onEarly}: {readonly stopped: CancelSignal; readonly onEarly: (problem: Problem) => void},
  ): Promise<T> {
    for (;;) {
      while (!this.held || this.held.aborted) {
        if (stopped.aborted) throw new ProblemError(stoppedByPerson);
        this.bench.requireClient();
        await sleep(this.clock, 50);
      }
      try {
        return await this.measure(measuring, {stopped, isWithinOrder: true});
      } catch (error) {
        if (!(error instanceof ProblemError) || !holdAgain.has(error.problem.code) || stopped.aborted) throw error;
        if (this.held) this.held.aborted = true;
        onEarly(error.problem);
      }
    }
  }
}

/** Problems after which a person simply holds again. */
const holdAgain: ReadonlySet<string> = new Set([
  'let-go',
  'second-hold',
  'hold-ended',
  'power-lost',
  'props-not-confirmed',
  'reports-stale',
  'page-hidden',
]);

const stoppedByPerson: Problem = {
  code: 'stopped-by-person',
  place: 'work order',
  meaning: 'Stopped by you.',
  remedy: 'Resume when ready.',
};
