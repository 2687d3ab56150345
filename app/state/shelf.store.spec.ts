import {TestBed} from '@angular/core/testing';
import {heldImage} from '@core/firmware/plan/planned-image';
import {juniper} from '@demo/craft/juniper';
import {writeIntelHex} from '@core/firmware/formats/intel-hex';
import type {Catalogue} from '@core/firmware/releases';
import {publishedControllerReleases} from '@simulator/firmware/plumb';
import {publishedReleases} from '@simulator/firmware/releases';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import older from '../../demo/catalogue-older.json';
import received from '../../demo/catalogue.json';
import {database, type OwnFile} from '../store/database';
import {cleanAfterEach} from '../testing/clean';
import {FleetStore} from './fleet.store';
import {ShelfStore} from './shelf.store';

cleanAfterEach();

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
    expect(store.imageFor(own)({output: 0, hardware: gneiss}, 'base')?.name).toBe('mine.hex');
    const found = await new Harness().survey();
    expect(found.escs.map((e) => heldImage(store.supply(), e.identity, 'base')?.name)).toEqual(
      ['3.9', '3.9', '3.7', '3.9'].map((v) => `Meridian ${v}`),
    );
    await store.removeFile(sha256);
    expect(store.files()).toEqual([]);
  });

  it('keeps firmware of others with the serial of each ESC that held it', async () => {
    service();
    const store = await load();
    const bytes = new Uint8Array(2048).map((_, i) => (i * 7) & 0xff);
    const settingsPage = Uint8Array.of(0xb5, 0x5e, 1);
    const kept = (serial: string, output: number) =>
      store.keepApplication(juniper.id, {output, serial, chip: 'M32', bytes, settingsPage});
    await kept('G45-1', 0);
    await kept('G45-2', 1);
    await kept('G45-2', 1);
    const [file, ...others] = store.files();
    expect(others).toEqual([]);
    expect(file).toMatchObject({origin: 'backup', base: 0x1000});
    expect(file!.readFrom?.map(({serial, page}) => [serial, page])).toEqual([
      ['G45-1', 'b55e01'],
      ['G45-2', 'b55e01'],
    ]);
    expect(store.ownPlanned(file!.sha256)?.readFrom).toHaveLength(2);
  });

  it('what is opened while the store is read stays listed', async () => {
    service();
    const store = await load();
    const before = await database.files.toArray();
    let answer: (files: OwnFile[]) => void = () => undefined;
    const late = new Promise<OwnFile[]>((resolve) => (answer = resolve));
    const spy = vi
      .spyOn(database.files, 'toArray')
      .mockReturnValueOnce(late as ReturnType<typeof database.files.toArray>);
    const loading = store.load();
    await vi.waitFor(() => expect(spy).toHaveBeenCalled());
    const {image} = published[0]!;
    await store.addFile({name: 'mine.hex', bytes: new TextEncoder().encode(writeIntelHex(image) + '\n')});
    answer(before);
    await loading;
    expect(store.files().map((f) => f.name)).toEqual(['mine.hex']);
    spy.mockRestore();
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
