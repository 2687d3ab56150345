/** A store that cannot be read is not written; what happened meanwhile is laid over what was read, and nothing is lost. */
import {describe, expect, it} from 'vitest';
import {VirtualTime} from '../link/virtual-time';
import {blankRecord, type CraftRecord} from './craft-record';
import {RecordKeeper, type RecordTable} from './record-keeper';

class Table implements RecordTable {
  kept: CraftRecord | undefined = {...blankRecord('c'), notes: [{at: 1, text: 'years of work'}], count: 7};
  fails: {read?: boolean; write?: boolean} = {};
  writes = 0;

  read(): Promise<CraftRecord | undefined> {
    return this.fails.read ? Promise.reject(new Error('UnknownError')) : Promise.resolve(this.kept);
  }
  update(_: string, how: (kept: CraftRecord | undefined) => CraftRecord): Promise<CraftRecord> {
    this.writes++;
    if (this.fails.write) return Promise.reject(new Error('QuotaExceededError'));
    return Promise.resolve((this.kept = how(this.kept)));
  }
}
const settle = () => new Promise<void>((resolve) => setImmediate(resolve));
const noted = (text: string) => (r: CraftRecord) => ({notes: [...(r.notes ?? []), {at: 2, text}], count: r.count + 1});
const texts = (r: CraftRecord | undefined) => r?.notes?.map((n) => n.text);

function keeper(table: Table) {
  const time = new VirtualTime();
  const seen: {record?: CraftRecord; fault?: string | undefined} = {};
  const own = new RecordKeeper(table, 'c', 'tab', {
    clock: time,
    onRecord: (record) => (seen.record = record),
    onFault: (fault) => (seen.fault = fault?.at),
  });
  return {own, time, seen};
}

describe('the record of a craft', () => {
  it('that could not be read is not written over: what is done meanwhile waits, and comes on top of it', async () => {
    const table = new Table();
    table.fails.read = true;
    const {own, time, seen} = keeper(table);
    await own.open();
    expect(seen.fault).toBe('read');
    await own.change(noted('done meanwhile'));
    expect([table.writes, texts(table.kept), texts(seen.record)]).toEqual([0, ['years of work'], ['done meanwhile']]);
    time.advanceTo(1_999);
    table.fails.read = false;
    time.advanceTo(2_000);
    await settle();
    expect(seen.fault).toBeUndefined();
    expect(texts(table.kept)).toEqual(['years of work', 'done meanwhile']);
    expect(texts(seen.record)).toEqual(['years of work', 'done meanwhile']);
    expect(table.kept!.count).toBe(8);
  });

  it('that could not be written is tried again, in order and once each', async () => {
    const table = new Table();
    const {own, time, seen} = keeper(table);
    await own.open();
    table.fails.write = true;
    await own.change(noted('a'));
    await own.change(noted('b'));
    expect([seen.fault, texts(seen.record)]).toEqual(['write', ['years of work', 'a', 'b']]);
    table.fails.write = false;
    time.advanceTo(2_000);
    await settle();
    expect([seen.fault, texts(table.kept)]).toEqual([undefined, ['years of work', 'a', 'b']]);
  });

  it('takes what another tab put there meanwhile, and loses neither', async () => {
    const table = new Table();
    const {own, seen} = keeper(table);
    await own.open();
    const theirs = {...table.kept!, ...noted('theirs')(table.kept!), writer: 'another'};
    table.kept = theirs;
    await own.change(noted('mine'));
    expect(texts(table.kept)).toEqual(['years of work', 'theirs', 'mine']);
    own.hear({...table.kept, ...noted('later')(table.kept), writer: 'another'});
    expect(texts(seen.record)).toEqual(['years of work', 'theirs', 'mine', 'later']);
  });

  it('that was closed tells nothing any more, and what waited is still kept', async () => {
    const table = new Table();
    const {own, seen} = keeper(table);
    await own.open();
    void own.change(noted('last'));
    own.close();
    const before = seen.record;
    await settle();
    expect(texts(table.kept)).toEqual(['years of work', 'last']);
    expect(seen.record).toBe(before);
  });
});
