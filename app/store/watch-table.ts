/**
 * Follows what the browser's store holds, so that two tabs agree. What this tab is writing itself is not read back in the
 * middle: while a write is on its way news wait, and are read again once it has arrived.
 */
import {liveQuery} from 'dexie';

export interface TableWatch {
  /** Holds news back until `work` is done. */
  during<T>(work: PromiseLike<T>): Promise<T>;
  stop(): void;
}

export function watchTable<T>(query: () => Promise<T>, onNews: (value: T) => void): TableWatch {
  let writing = 0;
  let missed = false;
  let stopped = false;
  const hear = (value: T) => {
    if (writing) missed = true;
    else if (!stopped) onNews(value);
  };
  const subscription = liveQuery(query).subscribe({
    next: hear,
    // A store that cannot be read tells so where it is written.
    error: () => (stopped = true),
  });
  return {
    async during(work) {
      writing++;
      try {
        return await work;
      } finally {
        writing--;
        if (!writing && missed && !stopped) {
          missed = false;
          // The same silence as above: the write's own failure is what a person hears of.
          query().then(hear, () => undefined);
        }
      }
    },
    stop() {
      stopped = true;
      subscription.unsubscribe();
    },
  };
}
