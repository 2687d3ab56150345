import {afterEach, vi} from 'vitest';
import {database} from '../store/database';
import {settle} from './settle';

/** Leaves nothing of a test to the next: no stub, no row of any table, no noted edit of this tab. */
export function cleanAfterEach(): void {
  afterEach(async () => {
    vi.unstubAllGlobals();
    vi.restoreAllMocks();
    await settle();
    await Promise.all(database.tables.map((t) => t.clear()));
    // An edit that was refused stays noted: it is the next test's no more than the store is.
    localStorage.clear();
  });
}
