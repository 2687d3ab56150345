import Dexie, {type Table} from 'dexie';
import {afterEach, beforeEach, describe, expect, it, vi} from 'vitest';
import {watchTable, type TableWatch} from './watch-table';

class Small extends Dexie {
  readonly rows!: Table<{id: number; text: string}, number>;
  constructor() {
    super('bidex-follow-test');
    this.version(1).stores({rows: 'id'});
  }
}
/** For what must not come: what should come is waited for. */
const settle = () => new Promise((r) => setTimeout(r, 60));

describe('following the store', () => {
  let database: Small;
  let heard: string[];
  let watch: TableWatch;
  /** Follows, and has heard what is there. */
  const followed = async () => {
    watch = watchTable(
      () => database.rows.toArray(),
      (rows) => heard.push(rows.map((r) => r.text).join(' ')),
    );
    await vi.waitFor(() => expect(heard).toEqual(['']), {timeout: 20_000});
  };
  const hears = (text: string) => vi.waitFor(() => expect(heard.at(-1)).toBe(text), {timeout: 20_000});
  beforeEach(() => {
    database = new Small();
    heard = [];
  });
  afterEach(() => {
    watch.stop();
    return database.delete();
  });

  it('tells what is there and what another connection writes', async () => {
    await followed();
    const other = new Small();
    await other.rows.put({id: 1, text: 'theirs'});
    await hears('theirs');
    other.close();
  });

  it('keeps quiet while this tab writes, and tells afterwards what is there then', async () => {
    await followed();
    heard.length = 0;
    let arrive = () => undefined as void;
    const slow = new Promise<void>((resolve) => (arrive = resolve));
    const writing = watch.during(slow);
    await database.rows.put({id: 1, text: 'half'});
    await settle();
    expect(heard).toEqual([]);
    await database.rows.put({id: 1, text: 'whole'});
    await settle();
    arrive();
    await writing;
    await hears('whole');
    expect(heard).not.toContain('half');
  });

  it('hands on what the write says, good or bad', async () => {
    await followed();
    await expect(watch.during(Promise.resolve(7))).resolves.toBe(7);
    await expect(watch.during(Promise.reject(new Error('full')))).rejects.toThrow('full');
  });

  it('is silent once stopped', async () => {
    await followed();
    watch.stop();
    heard.length = 0;
    await database.rows.put({id: 1, text: 'late'});
    await settle();
    expect(heard).toEqual([]);
  });
});
