import {database} from '../store/database';

const pauseMs = 10;
/** An answer of the store may ask for the next: a view that reads, then writes, then reads what it wrote. */
const rounds = 4;

/** Waits until the store has worked off what was asked of it, however slow the machine: a turn on every table comes last. */
export async function settle(): Promise<void> {
  for (let i = 0; i < rounds; i++) {
    await new Promise((r) => setTimeout(r, pauseMs));
    await database.transaction('rw', database.tables, () => database.values.count());
  }
}
