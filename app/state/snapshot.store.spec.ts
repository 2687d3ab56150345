/** Snapshots are of the craft in hand, whatever of the browser's store has been read so far. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {snapshotOfFound} from '@core/snapshot/snapshot';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {database} from '../store/database';
import {settle} from '../testing/settle';
import {CraftChange} from './craft-change';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';
import {SnapshotStore} from './snapshot.store';

const found = await new Harness().survey();
const juniper = demoCraft('juniper');
const before = snapshotOfFound(found, {id: 'b', craft: 'Juniper', name: 'before', at: '2026-11-01T10:00:00Z'});

function opened() {
  const craftId = signal('juniper');
  TestBed.configureTestingModule({
    providers: [
      {provide: RecordStore, useValue: {craftId, found: signal(found)}},
      {provide: FleetStore, useValue: {current: signal(juniper)}},
    ],
  });
  const snapshots = TestBed.inject(SnapshotStore);
  return {craftId, snapshots, names: () => snapshots.listed().map((s) => s.name)};
}
const keptNames = async () => (await database.snapshots.toArray()).map((s) => [s.craftId, s.name]);

afterEach(() => database.snapshots.clear());

describe('snapshots of the craft in hand', () => {
  it('keeps one that is taken before the kept ones were read, and lists both', async () => {
    await database.snapshots.put({...before, craftId: 'juniper'});
    const {snapshots, names} = opened();
    await Promise.all([snapshots.load('juniper'), snapshots.take('as found')]);
    await settle();
    expect(await keptNames()).toEqual(
      expect.arrayContaining([
        ['juniper', 'before'],
        ['juniper', 'as found'],
      ]),
    );
    expect(names().sort()).toEqual(['as found', 'before']);
  });

  it('takes one where nothing asked for the list yet', async () => {
    const {snapshots, names} = opened();
    await snapshots.take('as found');
    expect(await keptNames()).toEqual([['juniper', 'as found']]);
    expect(names()).toEqual(['as found']);
    await snapshots.load('juniper');
    expect(names()).toEqual(['as found']);
  });

  it('still lists one that the store refused, and says so', async () => {
    const {snapshots, names} = opened();
    await snapshots.load('juniper');
    vi.spyOn(database.snapshots, 'put').mockRejectedValueOnce(new Error('no room'));
    await snapshots.take('as found');
    await snapshots.load('juniper');
    expect([names(), snapshots.problem()?.code]).toEqual([['as found'], 'store-failed']);
    await snapshots.remove(snapshots.listed()[0]!.id);
    expect(names()).toEqual([]);
  });

  it('shows nothing of one craft on the next, and hears what another tab keeps', async () => {
    const {craftId, snapshots, names} = opened();
    await snapshots.load('juniper');
    await snapshots.take('as found');
    TestBed.inject(CraftChange).tell();
    craftId.set('alder');
    expect(names()).toEqual([]);
    await snapshots.load('alder');
    await database.snapshots.put({...before, id: 'c', name: 'of another tab', craftId: 'alder'});
    await vi.waitFor(() => expect(names()).toEqual(['of another tab']));
  });
});
