/**
 * The store's lock, over all tabs: a work order holds it shared from its first write to its last; whatever replaces what
 * is kept takes it alone, and the bench's wires with it, or is refused.
 */
import {holdBench} from '../bench/bench-lock';

const lockName = 'bidex-store';
/** Tells other tabs that what they show is not what is kept any more. */
const channelName = 'bidex-store-replaced';

/** Runs `work` while nobody may replace the store. */
export function duringOrder<T>(work: () => Promise<T>): Promise<T> {
  return new Promise<T>((resolve, reject) => {
    navigator.locks.request(lockName, {mode: 'shared'}, () => work().then(resolve, reject)).catch(reject);
  });
}

type Replaced<T> =
  | {readonly kind: 'done'; readonly value: T}
  | {readonly kind: 'busy'; readonly why: 'order' | 'bench'};

/**
 * Runs `work`, which replaces what is kept, alone. `ownsBench` says that this tab holds the wires itself. Other tabs load
 * anew afterwards.
 */
export async function replacing<T>(ownsBench: boolean, work: () => Promise<T>): Promise<Replaced<T>> {
  const release = ownsBench ? () => undefined : await holdBench();
  if (!release) return {kind: 'busy', why: 'bench'};
  try {
    return await navigator.locks.request(lockName, {ifAvailable: true}, async (lock): Promise<Replaced<T>> => {
      if (!lock) return {kind: 'busy', why: 'order'};
      const value = await work();
      const channel = new BroadcastChannel(channelName);
      channel.postMessage('replaced');
      channel.close();
      return {kind: 'done', value};
    });
  } finally {
    release();
  }
}

/** Calls back when another tab has replaced what is kept. */
export function onReplaced(reload: () => void): void {
  new BroadcastChannel(channelName).onmessage = () => reload();
}
