import Dexie, {type Table} from 'dexie';
import {follow} from './follow';

class Small extends Dexie {
  readonly rows!: Table<{id: number; text: string}, number>;
  constructor() {
    super('bidex-follow-test');
    this.version(1).stores({rows: 'id'});
  }
}
const settle = () => new Promise((r) => setTimeout(r, 60));

describe('following the store', () => {
  let database: Small;
  let heard: string[];
  const followed = () =>
    follow(
      () => database.rows.toArray(),
      (rows) => heard.push(rows.map((r) => r.text).join(' ')),
    );
  beforeEach(() => {
    database = new Small();
    heard = [];
  });
  afterEach(() => database.delete());

  it('tells what is there and what another connection writes', async () => {
    const follower = followed();
    await settle();
    const other = new Small();
    await other.rows.put({id: 1, text: 'theirs'});
    await settle();
    expect([heard[0], heard.at(-1)]).toEqual(['', 'theirs']);
    follower.stop();
    other.close();
  });

  it('keeps quiet while this tab writes, and tells afterwards what is there then', async () => {
    const follower = followed();
    await settle();
    heard.length = 0;
    let arrive = () => undefined as void;
    const slow = new Promise<void>((resolve) => (arrive = resolve));
    const writing = follower.during(slow);
    await database.rows.put({id: 1, text: 'half'});
    await settle();
    expect(heard).toEqual([]);
    await database.rows.put({id: 1, text: 'whole'});
    await settle();
    arrive();
    await writing;
    await settle();
    expect(heard.at(-1)).toBe('whole');
    expect(heard).not.toContain('half');
    follower.stop();
  });

  it('hands on what the write says, good or bad', async () => {
    const follower = followed();
    await expect(follower.during(Promise.resolve(7))).resolves.toBe(7);
    await expect(follower.during(Promise.reject(new Error('full')))).rejects.toThrow('full');
    follower.stop();
  });

  it('is silent once stopped', async () => {
    const follower = followed();
    await settle();
    follower.stop();
    heard.length = 0;
    await database.rows.put({id: 1, text: 'late'});
    await settle();
    expect(heard).toEqual([]);
  });
});
