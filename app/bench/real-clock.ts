import type {Clock} from '@core/link/port';

/** Time as the browser has it. */
export const realClock: Clock = {
  now: () => performance.now(),
  after: (ms, callback) => {
    const timer = setTimeout(callback, ms);
    return () => clearTimeout(timer);
  },
};
