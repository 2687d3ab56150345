/**
 * Opens the store before anything reads it. Bringing an older one to today's shape replaces what is kept: it waits for the
 * bench's wires and the store's lock, so that no other tab is in the middle of an order.
 */
import {database} from './database';
import {replacing} from './store-lock';

/** Dexie multiplies its versions by ten. */
const versionFactor = 10;
const retryMs = 500;

/** `tell` is called while another tab has to be waited for. A store that refuses is told by whatever needs it first. */
export async function openStore(tell: (text: string) => void): Promise<void> {
  try {
    const kept = (await indexedDB.databases()).find((d) => d.name === database.name);
    const isOlder = kept?.version !== undefined && kept.version < database.verno * versionFactor;
    if (!isOlder) {
      // Opened while the first view is being built; whoever reads first waits for it, and tells when it is refused.
      database.open().catch(() => undefined);
      return;
    }
    while ((await replacing(false, () => database.open())).kind === 'busy') {
      tell(
        'Another tab of Bidex is using the bench or carries out a work order. This one waits: what is kept must not change under it.',
      );
      await new Promise((resolve) => setTimeout(resolve, retryMs));
    }
  } catch {
    // The browser refuses its store: the fleet says so in words, with what can be done, and goes on in memory.
  }
}
