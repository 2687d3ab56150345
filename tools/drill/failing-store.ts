/** A journal whose store fails now and then, as a browser's does: with its own errors, or with ours around them. */
import {ProblemError} from '@core/problem';
import {MemoryJournal, type Journal, type JournalEntry} from '@core/run/journal';
import type {Random} from '@simulator/random';

/** A fault of the store that nobody wrapped. */
export class StoreFault extends Error {}

export class FailingStore implements Journal {
  /** Chance that a read or an append fails, 0…1. */
  chance = 0;
  faults = 0;
  /** Its database was deleted while the page had it open: it refuses from then on, until the page is loaded again. */
  isGone = false;
  /** The page was told so. */
  toldGone = false;
  private inner = new MemoryJournal();

  constructor(private readonly random: Random) {}

  /** The page is loaded again, and finds a new store without anything in it. */
  begin(): void {
    this.inner = new MemoryJournal();
    this.isGone = this.toldGone = false;
  }

  /** Everything that was kept; nothing fails in looking at it from outside. */
  kept(orderId: string): Promise<readonly JournalEntry[]> {
    return this.inner.entries(orderId);
  }

  /** Anything else that is kept beside it, and fails as it does. */
  keep(): Promise<void> {
    return Promise.resolve().then(() => this.mayFail('written'));
  }

  async append(entry: JournalEntry): Promise<void> {
    this.mayFail('written');
    await this.inner.append(entry);
  }

  async entries(orderId: string): Promise<readonly JournalEntry[]> {
    this.mayFail('read');
    return this.inner.entries(orderId);
  }

  private mayFail(how: string): void {
    if (this.isGone) {
      // The page has been told once its own code has seen the refusal.
      setImmediate(() => (this.toldGone = this.isGone));
      throw new ProblemError({...refusal, meaning: 'It was deleted.'});
    }
    if (this.chance === 0 || this.random.next() >= this.chance) return;
    this.faults++;
    if (this.random.next() < 0.5) throw new StoreFault(`could not be ${how}`);
    throw new ProblemError({...refusal, meaning: `It could not be ${how}.`});
  }
}

const refusal = {code: 'store-failed', place: 'store', remedy: 'Resume.'};
