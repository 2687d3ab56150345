/** A journal whose store fails now and then, as a browser's does: with its own errors, or with ours around them. */
import {ProblemError} from '@core/problem';
import type {Journal, JournalEntry} from '@core/run/journal';
import type {Random} from '@simulator/random';

/** A fault of the store that nobody wrapped. */
export class StoreFault extends Error {}

export class FailingStore implements Journal {
  /** Chance that a read or an append fails, 0…1. */
  chance = 0;
  faults = 0;

  constructor(
    private readonly inner: Journal,
    private readonly random: Random,
  ) {}

  async append(entry: JournalEntry): Promise<void> {
    this.mayFail('written');
    await this.inner.append(entry);
  }

  async entries(orderId: string): Promise<readonly JournalEntry[]> {
    this.mayFail('read');
    return this.inner.entries(orderId);
  }

  private mayFail(how: string): void {
    if (this.chance === 0 || this.random.next() >= this.chance) return;
    this.faults++;
    if (this.random.next() < 0.5) throw new StoreFault(`could not be ${how}`);
    throw new ProblemError({
      code: 'store-failed',
      place: 'store',
      meaning: `It could not be ${how}.`,
      remedy: 'Resume.',
    });
  }
}
