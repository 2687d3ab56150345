/**
 * A page that did not run: frozen by the browser, a computer that slept, a tab that got no time. It heard nothing and asked
 * for nothing meanwhile, and says so itself, since everything it shows is as old.
 */
import {leaseMs} from './lease';
import type {Clock} from '../../link/port';

/** How often it looks whether time went by as it should, ms. */
const lookMs = 1_000;
/**
 * A look that comes later than this was not kept back by work, nor by the timers of a hidden page, which come once a second,
 * ms. One hidden for minutes may get a timer a minute: that is sleep too.
 */
const asleepMs = 3_000;

/** Calls `onWoken` with how long nothing ran, ms, until the returned function is called. */
export function watchSleep(clock: Clock, onWoken: (sleptMs: number) => void): () => void {
  let stop: () => void = () => undefined;
  const look = () => {
    const dueMs = clock.now() + lookMs;
    stop = clock.after(lookMs, () => {
      const lateMs = clock.now() - dueMs;
      if (lateMs > asleepMs) onWoken(lateMs);
      look();
    });
  };
  look();
  return () => stop();
}

/** What that means while a bench is connected. @param sleptMs how long nothing ran, ms. */
export const sleptText = (sleptMs: number): string =>
  `This page did not run for ${Math.round(sleptMs / 1000)} s: the browser or the computer had put it to sleep. ` +
  `Held motors stopped after ${leaseMs / 1000} s. An order goes on where it was.`;
