/** What jsdom lacks and the application needs: a store, and sizes. */
import 'fake-indexeddb/auto';
import {vi} from 'vitest';
import '../zod-without-eval';

/** jsdom has no Web Locks: one tab alone gets every lock it asks for, one after the other. */
const locks = {
  request: (_name: string, ...rest: readonly unknown[]): Promise<unknown> =>
    Promise.resolve((rest.at(-1) as (lock: object) => unknown)({})),
};
Object.defineProperty(navigator, 'locks', {value: locks, configurable: true});

/** As long as the other unit tests have: runs of the stand-in take seconds of a slow machine. */
vi.setConfig({testTimeout: 600_000, hookTimeout: 600_000});
