/** A clock that only moves when it is told to. */
import type {Clock} from './port';

interface Due {
  readonly at: number;
  readonly order: number;
  readonly callback: () => void;
}

export class VirtualTime implements Clock {
  private readonly queue: Due[] = [];
  private time = 0;
  private count = 0;

  now(): number {
    return this.time;
  }

  after(ms: number, callback: () => void): () => void {
    const due: Due = {at: this.time + Math.max(0, ms), order: this.count++, callback};
    let place = this.queue.length;
    while (place > 0 && this.queue[place - 1]!.at > due.at) place--;
    this.queue.splice(place, 0, due);
    return () => {
      const index = this.queue.indexOf(due);
      if (index >= 0) this.queue.splice(index, 1);
    };
  }

  /** Time of the next event; undefined when nothing is due. */
  next(): number | undefined {
    return this.queue[0]?.at;
  }

  /** Runs everything due up to `at`, in order. */
  advanceTo(at: number): void {
    for (let due = this.queue[0]; due && due.at <= at; due = this.queue[0]) {
      this.queue.shift();
      this.time = Math.max(this.time, due.at);
      due.callback();
    }
    this.time = Math.max(this.time, at);
  }
}

/**
 * Runs `work` against virtual time as fast as it goes: lets promises settle, then jumps to the next event.
 * `breathe` must resolve after all settled promises have run (setImmediate in Node). Throws when nothing is left to
 * happen and the work still waits, or after `mostEvents`.
 */
export async function runInVirtualTime<T>(
  time: VirtualTime,
  breathe: () => Promise<void>,
  work: Promise<T>,
  mostEvents = 5_000_000,
): Promise<T> {
  let settled = false;
  const watched = work.finally(() => (settled = true));
  watched.catch(() => undefined);
  for (let i = 0; i < mostEvents; i++) {
    await breathe();
    if (settled) return watched;
    const next = time.next();
    if (next === undefined) throw new Error('The work waits, but nothing is due in virtual time');
    time.advanceTo(next);
  }
  throw new Error(`Not done after ${mostEvents} events`);
}
