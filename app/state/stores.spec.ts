import {TestBed} from '@angular/core/testing';
import {heldImage} from '@core/firmware/plan/planned-image';
import {juniper} from '@demo/craft/juniper';
import {proofOf} from '@core/testing/proof-of';
import {writeIntelHex} from '@core/firmware/formats/intel-hex';
import type {Catalogue} from '@core/firmware/releases';
import type {Found} from '@core/bench/found';
import type {Sighting} from '@core/spin/sighting/sighting';
import {publishedControllerReleases} from '@simulator/firmware/plumb';
import {publishedReleases} from '@simulator/firmware/releases';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import older from '../../demo/catalogue-older.json';
import received from '../../demo/catalogue.json';
import {PORT_SOURCE} from '../bench/port-source';
import {database} from '../store/database';
import {settle} from '../testing/settle';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';
import {CraftQuestionStore} from './craft-question.store';
import {ShelfStore} from './shelf.store';

const clear = () => Promise.all(database.tables.map((t) => t.clear()));
afterEach(async () => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
  await settle();
  await clear();
  // An edit that was refused stays noted: it is the next test's no more than the store is.
  localStorage.clear();
});

describe('fleet', () => {
  async function fleet() {
    const store = TestBed.inject(FleetStore);
    await store.load();
    store.open('juniper');
    return store;
  }
  const timing = (store: InstanceType<typeof FleetStore>) => store.current()!.plan.parameters['timing'];
  const same = (value: number) => ({kind: 'same' as const, value});

  it('begins with the craft of the demo at a first visit, and keeps it', async () => {
    const store = await fleet();
    expect(store.crafts().map((c) => c.name)).toEqual(['Juniper', 'Sorrel', 'Alder', 'Bramble']);
    expect(await database.craft.count()).toBe(4);
  });

  it('keeps every edit of the plan', async () => {
    const store = await fleet();
    store.setParameter('timing', same(30));
    store.setController({poles: 12});
    store.setFirmware({family: 'Meridian', version: '4.1'});
    await settle();
    const kept = (await database.craft.get('juniper'))!;
    expect([kept.plan.parameters['timing'], kept.plan.controller.poles, kept.plan.firmware.version]).toEqual([
      same(30),
      12,
      '4.1',
    ]);
  });

  it('undo and redo walk through edits; a new edit ends the way forward', async () => {
    const store = await fleet();
    for (const value of [0, 7.5, 30]) store.setParameter('timing', same(value));
    store.undo();
    store.undo();
    expect(timing(store)).toEqual(same(0));
    store.redo();
    expect(timing(store)).toEqual(same(7.5));
    store.setParameter('timing', same(15));
    expect(store.canRedo()).toBe(false);
    store.undo();
    store.undo();
    store.undo();
    expect(timing(store)).toEqual(juniper.plan.parameters['timing']);
    expect(store.canUndo()).toBe(false);
    store.undo();
    expect(timing(store)).toEqual(juniper.plan.parameters['timing']);
  });

  it('an edit that changes nothing is none', async () => {
    const store = await fleet();
    store.setParameter('timing', same(22.5));
    expect(store.canUndo()).toBe(false);
  });

  it('a part that any edit changes, a measurement too, is no guess any more, and undo takes that back', async () => {
    const store = await fleet();
    store.add({...store.current()!, id: 'sedge', name: 'Sedge', guessed: ['motors', 'battery']});
    store.open('sedge');
    store.edit((craft) => ({...craft, motor: {...craft.motor, kv: 1723}}));
    expect(store.current()!.guessed).toEqual(['battery']);
    store.undo();
    expect(store.current()!.guessed).toEqual(['motors', 'battery']);
  });

  it('holds 200 steps and no more', async () => {
    const store = await fleet();
    for (let i = 0; i < 250; i++) store.setController({notchMinHz: 50 + i});
    let steps = 0;
    for (; store.canUndo(); steps++) store.undo();
    expect(steps).toBe(200);
  });

  it('takes steps back after a reload too, and forward again', async () => {
    const before = await fleet();
    for (const value of [0, 7.5, 30]) before.setParameter('timing', same(value));
    before.undo();
    await settle();
    // Quick edits of one tab are no other tab's.
    expect(before.notice()).toBeUndefined();
    TestBed.resetTestingModule();
    const store = await fleet();
    await settle();
    expect(timing(store)).toEqual(same(7.5));
    store.redo();
    expect(timing(store)).toEqual(same(30));
    for (let i = 0; i < 3; i++) store.undo();
    expect(timing(store)).toEqual(juniper.plan.parameters['timing']);
    expect(store.canUndo()).toBe(false);
  });

  it('an edit that a reload overtook on its way to the store is not lost', async () => {
    const before = await fleet();
    vi.spyOn(database.craft, 'put').mockReturnValue(new Promise(() => undefined) as never);
    before.setParameter('timing', same(30));
    vi.restoreAllMocks();
    TestBed.resetTestingModule();
    const store = await fleet();
    expect(timing(store)).toEqual(same(30));
    await settle();
    expect(localStorage.getItem('bidex-late-edit')).toBeNull();
    store.undo();
    expect(timing(store)).toEqual(juniper.plan.parameters['timing']);
    store.redo();
    expect(timing(store)).toEqual(same(30));
  });

  it('a step back that a reload overtook is one, and can be gone forward again', async () => {
    const before = await fleet();
    before.setParameter('timing', same(30));
    await settle();
    vi.spyOn(database.craft, 'put').mockReturnValue(new Promise(() => undefined) as never);
    before.undo();
    vi.restoreAllMocks();
    TestBed.resetTestingModule();
    const store = await fleet();
    expect(timing(store)).toEqual(juniper.plan.parameters['timing']);
    await settle();
    expect(store.canUndo()).toBe(false);
    store.redo();
    expect(timing(store)).toEqual(same(30));
  });

  it('an edit of another tab at the same moment is one undo away, after a reload too, and a sentence says so', async () => {
    const store = await fleet();
    // Another tab put its value there, and this one has not heard of it yet.
    const theirs = {...store.current()!, kind: 'kind of the other tab'};
    const other = database.craft.put(theirs);
    store.edit((c) => ({...c, kind: 'kind of this tab'}));
    await other;
    await settle();
    expect(store.current()!.kind).toBe('kind of this tab');
    expect(store.notice()).toContain('Another tab changed kind of Juniper at the same moment. Yours is kept');
    const history = await database.histories.get('juniper');
    expect(history!.past.at(-1)!.kind).toBe('kind of the other tab');
    store.undo();
    expect(store.current()!.kind).toBe('kind of the other tab');
  });

  it('says so when the store refuses, and the work goes on', async () => {
    const store = await fleet();
    vi.spyOn(database.craft, 'put').mockRejectedValue(new Error('QuotaExceededError'));
    store.setParameter('timing', same(30));
    await vi.waitFor(() => expect(store.storeFault()).toContain('so the plan lasts until this tab closes'));
    expect(timing(store)).toEqual(same(30));
  });

  it('that cannot be read shows no craft, no demo in its place, writes nothing, and is read again', async () => {
    const own = {...juniper, name: 'Mine', weightG: 321};
    await database.craft.put(own);
    const read = vi.spyOn(database.craft, 'toArray').mockRejectedValue(new Error('UnknownError'));
    const store = await fleet();
    expect([store.crafts(), store.loaded(), store.unread()]).toEqual([[], false, true]);
    expect(store.storeFault()).toContain('Your craft could not be read (Error). Nothing is written over it.');
    store.setController({poles: 8});
    read.mockRestore();
    await vi.waitFor(() => expect(store.loaded()).toBe(true), {timeout: 10_000});
    expect([store.crafts().map((c) => c.name), store.unread(), store.storeFault()]).toEqual([
      ['Mine'],
      false,
      undefined,
    ]);
    expect(await database.craft.toArray()).toEqual([own]);
  });

  it('a way back that was not read is not lost: steps made meanwhile come onto it in the store', async () => {
    const before = await fleet();
    for (const value of [0, 7.5]) before.setParameter('timing', same(value));
    await settle();
    TestBed.resetTestingModule();
    const get = vi.spyOn(database.histories, 'get').mockRejectedValueOnce(new Error('UnknownError'));
    const store = await fleet();
    await vi.waitFor(() => expect(get).toHaveBeenCalled());
    store.setParameter('timing', same(30));
    await settle();
    const kept = (await database.histories.get('juniper'))!;
    expect(kept.past.map((c) => c.plan.parameters['timing'])).toEqual([
      juniper.plan.parameters['timing'],
      same(0),
      same(7.5),
    ]);
  });

  it('an edit that a reload overtook stays noted until the store has it', async () => {
    const before = await fleet();
    vi.spyOn(database.craft, 'put').mockReturnValue(new Promise(() => undefined) as never);
    before.setParameter('timing', same(30));
    vi.restoreAllMocks();
    TestBed.resetTestingModule();
    const refused = vi.spyOn(database, 'transaction').mockRejectedValue(new Error('UnknownError'));
    const store = await fleet();
    expect(store.loaded()).toBe(false);
    refused.mockRestore();
    await vi.waitFor(() => expect(store.loaded()).toBe(true), {timeout: 10_000});
    store.open('juniper');
    expect(timing(store)).toEqual(same(30));
  });
});

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

describe('shelf', () => {
  const catalogue = JSON.parse(received.catalogue) as Catalogue;
  const releases = [...catalogue.releases, ...catalogue.controllers!.releases];
  const published = [...publishedReleases(), ...publishedControllerReleases()];
  const fileOf = (sha256: string) => {
    const {id} = releases.find((r) => r.sha256 === sha256)!;
    return writeIntelHex(published.find((p) => p.release.id === id)!.image);
  };
  /** A release service in memory; `bend` may change what it sends. */
  function service(bend: (path: string, body: string) => string | undefined = (_, body) => body) {
    const asked: string[] = [];
    vi.stubGlobal('fetch', (path: string) => {
      asked.push(path);
      const body = bend(path, path === '/api/releases' ? JSON.stringify(received) : fileOf(path.split('/').at(-1)!));
      return body === undefined ? Promise.reject(new TypeError('network')) : Promise.resolve(new Response(body));
    });
    return asked;
  }
  async function load() {
    const fleet = TestBed.inject(FleetStore);
    await fleet.load();
    fleet.open('juniper');
    const store = TestBed.inject(ShelfStore);
    await store.load();
    return store;
  }

  it('loads, checks and keeps every release', async () => {
    service();
    const store = await load();
    expect(store.problem()).toBeUndefined();
    expect(Object.keys(store.images())).toHaveLength(releases.length);
    expect(await database.images.count()).toBe(releases.length);
  });

  it('asks for no image twice: kept ones are checked and used', async () => {
    service();
    await load();
    TestBed.resetTestingModule();
    const asked = service();
    await load();
    expect(asked).toEqual(['/api/releases']);
  });

  it('with the service down what was kept still serves', async () => {
    service();
    await load();
    TestBed.resetTestingModule();
    service(() => undefined);
    const store = await load();
    expect(store.problem()).toMatchObject({code: 'service-down', meaning: 'It cannot be reached.'});
    expect(store.catalogue()).toEqual(catalogue);
    expect(Object.keys(store.images())).toHaveLength(releases.length);
    expect(store.loading()).toBe(false);
  });

  it('refuses an altered catalogue whole', async () => {
    service((path, body) => (path === '/api/releases' ? body.replace('withdrawn', 'steady') : body));
    const store = await load();
    expect(store.problem()!.code).toBe('catalogue-signature');
    expect(store.catalogue()).toBeUndefined();
  });

  it('refuses an altered image, and does not keep it', async () => {
    service((path, body) => (path === '/api/releases' ? body : body.replace('0', '1')));
    const store = await load();
    expect(store.problem()!.code).toBe('image-digest');
    expect(store.images()).toEqual({});
    expect(await database.images.count()).toBe(0);
  });

  it('refuses a genuine catalogue that goes back in time, and keeps the newer one', async () => {
    service();
    await load();
    TestBed.resetTestingModule();
    service((path, body) => (path === '/api/releases' ? JSON.stringify(older) : body));
    const store = await load();
    expect(store.problem()).toMatchObject({code: 'catalogue-older', place: 'release service'});
    expect(store.problem()!.meaning).toContain('of 2025-06-01, older than the one kept here of 2026-11-09');
    expect(store.catalogue()).toEqual(catalogue);
  });

  it('keeps own files as unsigned images that an order can use, and finds the image of before', async () => {
    service();
    const store = await load();
    const image = published.find((p) => p.release.id === 'meridian_3.9_gneiss-45_multirotor')!.image;
    const bytes = new TextEncoder().encode(writeIntelHex(image) + '\n');
    const added = await store.addFile({name: 'mine.hex', bytes});
    expect(added.ok).toBe(true);
    const sha256 = store.files()[0]!.sha256;
    expect(store.ownPlanned(sha256)).toMatchObject({name: 'mine.hex', standing: undefined});
    const own = {...juniper, plan: {...juniper.plan, firmware: {family: 'Meridian', version: '3.9', file: sha256}}};
    const gneiss = {board: 'Gneiss 45', chip: 'M32', deadTimeNs: 45};
    expect(store.imageFor(own)(gneiss, 'base')?.name).toBe('mine.hex');
    const found = await new Harness().survey();
    expect(found.escs.map((e) => heldImage(store.supply(), e.identity, 'base')?.name)).toEqual(
      ['3.9', '3.9', '3.7', '3.9'].map((v) => `Meridian ${v}`),
    );
    await store.removeFile(sha256);
    expect(store.files()).toEqual([]);
  });

  it('keeps what a survey read whole and the shelf has no image of, so that it can be put back', async () => {
    service((path, body) => (path === '/api/releases' ? body : undefined));
    const store = await load();
    const sorrel = new Harness({craft: demoCraft('sorrel')});
    const found = await sorrel.survey();
    expect(heldImage(store.supply(), found.escs[0]!.identity, 'base')).toBeUndefined();
    await store.keepWhatWasRead('Sorrel', found);
    // Four ESCs with the same firmware are one file.
    expect(store.files().map((f) => [f.name, f.origin])).toEqual([
      ['Sorrel motor 1, Cadence 1.6, 24 kHz.bin', 'backup'],
    ]);
    expect(found.escs.map((e) => heldImage(store.supply(), e.identity, 'base')?.name)).toEqual(
      Array(4).fill('Sorrel motor 1, Cadence 1.6, 24 kHz.bin'),
    );
  });

  it('a file with faults is told and not kept', async () => {
    service();
    const store = await load();
    const read = await store.addFile({name: 'cut.hex', bytes: new TextEncoder().encode(':0400000001020304F3\n')});
    expect(read.ok && read.value.reading.faults.map((f) => f.kind)).toEqual(['bad-checksum', 'missing-end']);
    expect(await database.files.count()).toBe(0);
  });
});
