/** What older versions of the store kept is brought to today's shapes. */
import Dexie from 'dexie';
import {juniper} from '@demo/craft/juniper';
import {firmwareText, type Found} from '@core/bench/found';
import {snapshotOfFound} from '@core/snapshot/snapshot';
import {Harness} from '@simulator/testing/bench-harness';
import {Database} from './database';

const name = 'bidex-migration-test';
const stores = {
  craft: 'id',
  records: 'craftId',
  orders: 'id, craftId',
  journal: '++id, orderId',
  images: 'sha256',
  values: 'key',
};

/** A survey as version 1 kept it. */
async function oldFound(): Promise<unknown> {
  const found = await new Harness().survey();
  const without = (thing: object, keys: readonly string[]) =>
    Object.fromEntries(Object.entries(thing).filter(([key]) => !keys.includes(key)));
  const escs = found.escs.map((esc) => without(esc, ['at', 'module', 'claim', 'application']));
  return {...without(found, ['road']), escs};
}

async function writeVersion1(): Promise<void> {
  const old = new Dexie(name);
  old.version(1).stores(stores);
  const found = await oldFound();
  await old.table('craft').put({...juniper, name: 'Juniper of old'});
  await old.table('records').put({craftId: 'juniper', found, proofs: [], sightings: [], noise: undefined});
  await old.table('orders').put({
    id: 'o1',
    craftId: 'juniper',
    state: 'stopped',
    order: {
      id: 'o1',
      craftId: 'juniper',
      createdAt: 1,
      plan: juniper.plan,
      found,
      imageSha256: 'abc',
      steps: [
        {id: 'snapshot', kind: 'snapshot', title: '', note: '', estimateMs: 1},
        {
          id: 'write-0',
          kind: 'write-firmware',
          title: '',
          note: '',
          estimateMs: 1,
          target: {output: 0, serial: 's'},
          pages: 17,
          equal: 24,
        },
        {
          id: 'parameters',
          kind: 'set-parameters',
          title: '',
          note: '',
          estimateMs: 1,
          layout: 8,
          targets: [{output: 0, serial: 's', values: {pwm: 48}}],
          changes: [],
        },
        {
          id: 'prove-pages',
          kind: 'prove-pages',
          title: '',
          note: '',
          estimateMs: 1,
          targets: [{output: 0, serial: 's'}],
        },
        {id: 'prove-settings', kind: 'prove-settings', title: '', note: '', estimateMs: 1},
      ],
    },
  });
  old.close();
}

describe('the store of version 4', () => {
  afterEach(() => Dexie.delete(name));

  it('had no name for some parameters: they are read from the pages it kept', async () => {
    const old = new Dexie(name);
    old.version(4).stores({...stores, snapshots: 'id, craftId'});
    const found = await new Harness().survey();
    const without = (values: object) =>
      Object.fromEntries(Object.entries(values).filter(([key]) => key !== 'lostToneWait'));
    const escs = found.escs.map((e) => ({...e, settings: {...e.settings!, values: without(e.settings!.values)}}));
    await old.table('records').put({craftId: 'juniper', found: {...found, escs}, proofs: [], sightings: []});
    const snapshot = snapshotOfFound(found, {id: 's', craft: 'Juniper', name: 'old', at: '2026-01-01T00:00:00Z'});
    const bare = snapshot.escs.map((e) => ({...e, values: without(e.values)}));
    await old.table('snapshots').put({...snapshot, craftId: 'juniper', escs: bare});
    old.close();
    const database = new Database(name);
    const record = (await database.records.get('juniper'))!;
    expect(record.found!.escs.map((e) => e.settings!.values.lostToneWait)).toEqual([2, 2, 2, 2]);
    const kept = (await database.snapshots.get('s'))!;
    expect(kept).toEqual({...snapshot, craftId: 'juniper'});
    database.close();
  });
});

describe('the store of version 1', () => {
  beforeEach(writeVersion1);
  afterEach(() => Dexie.delete(name));

  it('keeps its craft and gains those of the demo', async () => {
    const database = new Database(name);
    const craft = await database.craft.toArray();
    expect(craft.map((c) => c.name).sort()).toEqual(['Alder', 'Bramble', 'Juniper of old', 'Sorrel']);
    database.close();
  });

  it('has a found state that today reads', async () => {
    const database = new Database(name);
    const found: Found = (await database.records.get('juniper'))!.found!;
    expect(found.road).toBe('controller');
    expect(found.escs.map(firmwareText)).toEqual(['Meridian 3.9', 'Meridian 3.9', 'Meridian 3.7', 'Meridian 3.9']);
    expect(found.escs.map((e) => [e.at, e.claim, e.module])).toEqual(Array(4).fill([found.at, undefined, undefined]));
    database.close();
  });

  it('has a stopped order that today can resume', async () => {
    const database = new Database(name);
    const {order, state} = (await database.orders.get('o1'))!;
    expect(state).toBe('stopped');
    expect(order.leftOut).toEqual([]);
    expect(order.steps.map((s) => ('targets' in s ? s.targets : 'outputs' in s ? s.outputs : s))).toMatchObject([
      [0, 1, 2, 3],
      {part: 'base', image: {name: 'Meridian 4.2', sha256: 'abc'}, rewrite: false},
      [{layout: 8, values: {pwm: 48}}],
      [{images: [{part: 'base', sha256: 'abc'}]}],
      [0, 1, 2, 3],
    ]);
    database.close();
  });
});
