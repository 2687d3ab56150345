/** Rows that several tabs edit, against a store that this test holds still at will. */
import {KeptCollection, type KeptEdit} from './kept-collection';

interface Row {
  readonly id: string;
  readonly name: string;
  readonly note: string;
}
const row = (over: Partial<Row> = {}): Row => ({id: 'a', name: 'first', note: '', ...over});

/** A collection whose store answers when the test lets it. */
function held() {
  const puts: {
    edit: KeptEdit<Row, string>;
    agreed: Row | undefined;
    arrive: (value: Row, tookOver: boolean) => void;
  }[] = [];
  const kept: Row[] = [];
  const news: (readonly Row[])[] = [];
  const faults: unknown[] = [];
  let shown = row();
  const collection = new KeptCollection<Row, string>({
    put: (edit, agreed) =>
      new Promise((resolve) => puts.push({edit, agreed, arrive: (value, tookOver) => resolve({value, tookOver})})),
    read: () => Promise.resolve([row({name: 'as the store has it'})]),
    onNews: (rows) => news.push(rows),
    onKept: (_, {value, tookOver}, merge) => {
      kept.push(value);
      if (tookOver) shown = merge(shown);
    },
    onFault: (error) => faults.push(error),
  });
  const settle = () => new Promise((resolve) => setTimeout(resolve));
  const edit = (changed: Row, step?: string) => {
    shown = changed;
    collection.keep(changed, step);
  };
  return {collection, puts, kept, news, faults, settle, edit, shown: () => shown};
}

describe('rows that several tabs edit', () => {
  it('go to the store one after the other, the newest of each, with all their steps', async () => {
    const h = held();
    h.edit(row({name: 'one'}), 'step 1');
    await h.settle();
    h.edit(row({name: 'two'}), 'step 2');
    h.edit(row({name: 'three'}), 'step 3');
    await h.settle();
    expect(h.puts).toHaveLength(1);
    h.puts[0]!.arrive(row({name: 'one'}), false);
    await h.settle();
    expect(h.puts).toHaveLength(2);
    expect(h.puts[1]!.edit).toEqual({row: row({name: 'three'}), steps: ['step 2', 'step 3']});
    // What is merged is merged from where both agreed last.
    expect(h.puts[1]!.agreed).toEqual(row({name: 'one'}));
  });

  it('take in what another tab changed, under what was edited since', async () => {
    const h = held();
    h.edit(row({name: 'mine'}));
    await h.settle();
    h.edit(row({name: 'mine, later'}));
    h.puts[0]!.arrive(row({name: 'mine', note: 'theirs'}), true);
    await h.settle();
    expect(h.puts[1]!.edit.row).toEqual(row({name: 'mine, later', note: 'theirs'}));
    expect(h.shown()).toEqual(row({name: 'mine, later', note: 'theirs'}));
  });

  it('hear nothing of the store while an edit is on its way, and what it says then', async () => {
    const h = held();
    h.edit(row({name: 'mine'}));
    await h.settle();
    expect([h.collection.isSettled, h.news]).toEqual([false, []]);
    h.puts[0]!.arrive(row({name: 'mine'}), false);
    await h.settle();
    expect(h.collection.isSettled).toBe(true);
    expect(h.news).toEqual([[row({name: 'as the store has it'})]]);
  });

  it('a store that refuses is told, and the next edit is tried all the same', async () => {
    const faults: unknown[] = [];
    let full = true;
    const collection = new KeptCollection<Row>({
      put: ({row}) => (full ? Promise.reject(new Error('full')) : Promise.resolve({value: row, tookOver: false})),
      read: () => Promise.resolve([]),
      onNews: () => undefined,
      onKept: () => (full = true),
      onFault: (error) => faults.push(error),
    });
    collection.keep(row());
    await new Promise((resolve) => setTimeout(resolve));
    expect(faults).toEqual([new Error('full')]);
    full = false;
    collection.keep(row({name: 'again'}));
    await new Promise((resolve) => setTimeout(resolve));
    expect([faults.length, full]).toEqual([1, true]);
  });
});
