/** What jsdom lacks and the application needs: a store, and sizes. */
import 'fake-indexeddb/auto';
import '../zod-without-eval';

/** jsdom has no Web Locks: one tab alone gets every lock it asks for, one after the other. */
const locks = {
  request: (_name: string, ...rest: readonly unknown[]): Promise<unknown> =>
    Promise.resolve((rest.at(-1) as (lock: object) => unknown)({})),
};
Object.defineProperty(navigator, 'locks', {value: locks, configurable: true});
