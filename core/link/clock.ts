/** A clock from the timers of the platform: browsers and Node have the same ones under the same names. */
import type {Clock} from './port';

interface Timers {
  readonly performance: {now(): number};
  setTimeout(callback: () => void, ms: number): unknown;
  clearTimeout(timer: never): void;
}

export const clockOf = (timers: Timers): Clock => ({
  now: () => timers.performance.now(),
  after: (ms, callback) => {
    const timer = timers.setTimeout(callback, ms);
    return () => timers.clearTimeout(timer as never);
  },
});
