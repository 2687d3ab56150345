import {TestBed} from '@angular/core/testing';
import {juniper} from '@demo/craft/juniper';
import {proofOf} from '@core/testing/proof-of';
import type {Found} from '@core/bench/found';
import type {Sighting} from '@core/spin/sighting/sighting';
import {Harness} from '@simulator/testing/bench-harness';
import {PORT_SOURCE} from '../bench/port-source';
import {database} from '../store/database';
import {cleanAfterEach} from '../testing/clean';
import {settle} from '../testing/settle';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';
import {CraftQuestionStore} from './craft-question.store';

cleanAfterEach();

describe('record', () => {
  const sighting = (output: number, at: number): Sighting => ({
    output,
    arm: output,
    sense: 'clockwise',
    rotationSetting: 0,
    startsAtUs: 1020,
    coastDownS: 0.2,
    ...{grounds: [], place: 0, session: '', cycles: 0},
    at,
  });

  it('keeps what was found and proven, and finds it again', async () => {
    const found: Found = await new Harness().survey();
    const store = TestBed.inject(RecordStore);
    await store.open('juniper');
    store.setFound(found);
    store.addProofs([proofOf('pages', juniper)]);
    await settle();
    TestBed.resetTestingModule();
    const again = TestBed.inject(RecordStore);
    await again.open('juniper');
    expect(again.found()!.escs.map((e) => e.identity!.version)).toEqual(['3.9', '3.9', '3.7', '3.9']);
    expect(again.proofs()).toHaveLength(1);
    expect([...again.knownEscs().hardware.keys()]).toEqual(['G45-2017', 'G45-2027', 'G45-2037', 'G45-2047']);
  });

  it('holds the newest sighting of each output, in order', async () => {
    const store = TestBed.inject(RecordStore);
    await store.open('juniper');
    for (const s of [sighting(2, 1), sighting(0, 2), sighting(2, 3)]) store.addSighting(s);
    expect(store.sightings().map((s) => [s.output, s.at])).toEqual([
      [0, 2],
      [2, 3],
    ]);
  });

  it('that could not be read is not written over, and says so', async () => {
    const first = TestBed.inject(RecordStore);
    await first.open('juniper');
    first.addNote('years of work');
    await settle();
    TestBed.resetTestingModule();
    const read = vi.spyOn(database.records, 'get').mockRejectedValue(new Error('UnknownError'));
    const store = TestBed.inject(RecordStore);
    await store.open('juniper');
    expect(store.storeFault()).toContain('What was found and proven of this craft could not be read');
    store.addNote('meanwhile');
    await settle();
    read.mockRestore();
    expect((await database.records.get('juniper'))!.notes).toHaveLength(1);
    await vi.waitFor(() => expect(store.storeFault()).toBeUndefined(), {timeout: 10_000});
    await vi.waitFor(async () =>
      expect((await database.records.get('juniper'))!.notes!.map((n) => n.text)).toEqual([
        'years of work',
        'meanwhile',
      ]),
    );
  });

  it('another craft has its own record', async () => {
    const store = TestBed.inject(RecordStore);
    await store.open('juniper');
    store.addSighting(sighting(0, 1));
    await settle();
    await store.open('alder');
    expect(store.sightings()).toEqual([]);
    await store.open('juniper');
    expect(store.sightings()).toHaveLength(1);
  });

  it('feeds the route', async () => {
    TestBed.configureTestingModule({providers: [{provide: PORT_SOURCE, useValue: {}}]});
    const fleet = TestBed.inject(FleetStore);
    await fleet.load();
    fleet.open('juniper');
    const store = TestBed.inject(RecordStore);
    await store.open('juniper');
    expect(TestBed.inject(CraftQuestionStore).states()!.survey.state).toBe('open');
    store.setFound(await new Harness().survey());
    expect(TestBed.inject(CraftQuestionStore).states()!.firmware).toEqual({state: 'part', note: '4 behind'});
  });
});
