import {TestBed} from '@angular/core/testing';
import {juniper} from '@demo/craft/juniper';
import {database} from '../store/database';
import {cleanAfterEach} from '../testing/clean';
import {settle} from '../testing/settle';
import {FleetStore} from './fleet.store';

cleanAfterEach();

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
