/** The work store carries real orders out against the simulated bench in this thread. */
import {expectSameBytes} from '@simulator/testing/same-bytes';
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {juniper} from '@demo/craft/juniper';
import type {Craft} from '@core/craft/craft';
import {ProblemError} from '@core/problem';
import {findDifferences, hasDifferences} from '@core/compare/difference';
import {firmwareText} from '@core/bench/found';
import {Harness, shelf as memoryShelf} from '@simulator/testing/bench-harness';
import {browserJournal, database} from '../store/database';
import {settle} from '../testing/settle';
import {BenchStore} from './bench.store';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';
import {ShelfStore} from './shelf.store';
import {WorkStore} from './work.store';

/** Replies need a held button; these orders end before. */
const plan = {...juniper.plan, controller: {...juniper.plan.controller, replies: false}};
let harness: Harness;
let occupied: boolean;
let ticking: boolean;

/** Lets virtual time run, one event between two turns of the event loop. */
function keepTicking(): void {
  if (!ticking) return;
  const next = harness.time.next();
  if (next !== undefined) harness.time.advanceTo(next);
  setImmediate(keepTicking);
}
const until = async (condition: () => boolean, what: string) => {
  for (let i = 0; i < 2000; i++) {
    if (condition()) return;
    await new Promise((r) => setTimeout(r, 5));
  }
  throw new Error(`Never came true: ${what}`);
};

async function workshop() {
  const bench = {
    requireClient: () => {
      if (harness.client.isClosed)
        throw new ProblemError({code: 'unplugged', place: 'bench', meaning: 'Not connected.', remedy: 'Connect it.'});
      return harness.client;
    },
    takeWires: () => {
      if (occupied) return undefined;
      occupied = true;
      return () => (occupied = false);
    },
    beginHold: () => () => undefined,
    session: signal('this page'),
    moment: signal({session: 'this page', cycles: 1}),
  };
  const shelf = {
    images: signal({}),
    loading: signal(false),
    boardOf: () => undefined,
    catalogue: signal(undefined),
    imageFor: memoryShelf.imageFor.bind(memoryShelf),
    controllerImage: (craft: Pick<Craft, 'plan'>, board = '') => memoryShelf.controllerImage(craft, board),
    keepWhatWasRead: () => Promise.resolve(),
    supply: () => memoryShelf.supply,
    image: (sha256: string) => Promise.resolve(memoryShelf.image(sha256)),
  };
  TestBed.configureTestingModule({
    providers: [
      {provide: BenchStore, useValue: bench},
      {provide: ShelfStore, useValue: shelf},
    ],
  });
  const fleet = TestBed.inject(FleetStore);
  await fleet.load();
  fleet.open('juniper');
  fleet.edit((c) => ({...c, plan}));
  const record = TestBed.inject(RecordStore);
  await record.open('juniper');
  const work = TestBed.inject(WorkStore);
  return {fleet, record, work};
}
/** Does as the docket asks: battery off, then on. */
function cycleBatteryWhenAsked(work: InstanceType<typeof WorkStore>): () => void {
  let toggles = 0;
  const timer = setInterval(() => {
    const wanted = work.progress()?.text.startsWith('Take') ? 0 : 1;
    if (work.progress()?.waitsFor !== 'battery' || toggles > wanted) return;
    toggles++;
    harness.bench.setBattery(!harness.bench.isBatteryOn);
  }, 20);
  return () => clearInterval(timer);
}

beforeEach(() => {
  harness = new Harness();
  occupied = false;
  ticking = true;
});
afterEach(async () => {
  ticking = false;
  await settle();
  await Promise.all(database.tables.map((t) => t.clear()));
});

describe('a work order in the store', () => {
  it('is drafted from plan and found, and gone when they agree', async () => {
    const {record, work} = await workshop();
    expect(work.draft()).toBeUndefined();
    record.setFound(await harness.survey());
    const draft = work.draft();
    expect(draft?.ok && draft.value.steps.map((s) => s.kind)).toEqual([
      'snapshot',
      'write-firmware',
      'write-firmware',
      'write-firmware',
      'write-firmware',
      'cycle-battery',
      'set-parameters',
      'set-controller',
      'prove-pages',
      'prove-settings',
    ]);
  });

  it('never stays running: a store that cannot be read stops it with its reason, and the wires are free', async () => {
    const {record, work} = await workshop();
    record.setFound(await harness.survey());
    keepTicking();
    const where = vi
      .spyOn(database.journal, 'where')
      .mockReturnValue({sortBy: () => Promise.reject(new Error('closed'))} as never);
    await work.start();
    where.mockRestore();
    expect([work.running(), occupied]).toEqual([false, false]);
    expect(work.problem()?.code).toBe('store-failed');
    const before = harness.bench.escs.map((e) => e.flash.read(0, e.chip.flashBytes));
    await new Promise((r) => setTimeout(r, 100));
    harness.bench.escs.forEach((e, i) => expectSameBytes(e.flash.bytes, before[i]!));
  });

  it('voids what was proven before as soon as it writes, and counts a proof as soon as it is there', async () => {
    const {record, work} = await workshop();
    record.setFound(await harness.survey());
    keepTicking();
    const stop = cycleBatteryWhenAsked(work);
    const seen: string[] = [];
    const watch = setInterval(
      () => seen.push(`${record.proofs().length} ${Object.keys(record.written()).sort().join('+')}`),
      1,
    );
    await work.start();
    clearInterval(watch);
    stop();
    expect(seen).toContain('0 firmware');
    expect(seen.some((s) => s.startsWith('1 '))).toBe(true);
    expect(record.proofs().map((p) => [p.kind, p.on.length, p.session])).toEqual([
      ['pages', 4, 'this page'],
      ['settings', 4, 'this page'],
    ]);
  });

  it('is carried out to the end: proofs kept, found renewed, journal complete', async () => {
    const {record, work} = await workshop();
    record.setFound(await harness.survey());
    keepTicking();
    const stop = cycleBatteryWhenAsked(work);
    await work.start();
    stop();
    expect(work.problem()).toBeUndefined();
    expect(work.finished()).toBeDefined();
    expect(work.open()).toBeUndefined();
    expect(occupied).toBe(false);
    expect(hasDifferences(findDifferences(plan, record.found()!))).toBe(false);
    expect(record.proofs().map((p) => p.kind)).toEqual(['pages', 'settings']);
    const [kept] = await database.orders.toArray();
    expect(kept!.state).toBe('finished');
    const entries = await browserJournal.entries(kept!.id);
    expect(entries.filter((e) => e.event === 'done')).toHaveLength(10);
    expect(entries.filter((e) => e.event === 'page')).toHaveLength(17 * 3 + 33);
    const draft = work.draft();
    expect(draft?.ok && draft.value.steps).toEqual([]);
  });

  it('the journal says what will be done before it is done', async () => {
    const {record, work} = await workshop();
    record.setFound(await harness.survey());
    const order = work.draft();
    keepTicking();
    const stop = cycleBatteryWhenAsked(work);
    await work.start();
    stop();
    const entries = await browserJournal.entries((await database.orders.toArray())[0]!.id);
    for (const step of order?.ok ? order.value.steps : []) {
      const own = entries.filter((e) => e.stepId === step.id).map((e) => e.event);
      expect([own[0], own.at(-1)], step.id).toEqual(['begin', 'done']);
    }
  });

  it('stops when the battery goes, says so, and resumes after a reload', async () => {
    const {record, work} = await workshop();
    record.setFound(await harness.survey());
    keepTicking();
    const running = work.start();
    await until(() => (work.progress()?.pagesDone ?? 0) > 4, 'pages written');
    harness.bench.setBattery(false);
    await running;
    expect(work.running()).toBe(false);
    expect(work.problem()!.code).toBe('no-power');
    expect(work.open()!.state).toBe('stopped');

    TestBed.resetTestingModule();
    const again = await workshop();
    await again.work.load('juniper');
    expect(again.work.open()!.state).toBe('stopped');
    expect(again.work.stepStates()).toMatchObject({snapshot: 'done', 'write-0': 'begun', cycle: 'open'});
    harness.bench.setBattery(true);
    await until(() => harness.bench.escs.every((e) => e.state !== 'off'), 'ESCs up');
    const stop = cycleBatteryWhenAsked(again.work);
    await again.work.resume();
    stop();
    expect(again.work.finished()).toBeDefined();
    expect(hasDifferences(findDifferences(plan, again.record.found()!))).toBe(false);
  });

  it('stops for the person, and can be put away', async () => {
    const {record, work} = await workshop();
    record.setFound(await harness.survey());
    keepTicking();
    const running = work.start();
    await until(() => (work.progress()?.pagesDone ?? 0) > 2, 'pages written');
    work.stop();
    await running;
    expect(work.problem()!.code).toBe('stopped-by-person');
    await work.giveUp();
    expect(work.open()).toBeUndefined();
    await work.load('juniper');
    expect(work.open()).toBeUndefined();
    expect((await database.journal.toArray()).length).toBeGreaterThan(3);
  });

  it('rolls back to before from the finished order, settings and controller too', async () => {
    const {record, work} = await workshop();
    const before = await harness.survey();
    record.setFound(before);
    keepTicking();
    let stop = cycleBatteryWhenAsked(work);
    await work.start();
    stop();
    const done = work.finished()!;
    await work.prepareRollBack(done);
    expect(work.rollBack()?.rollsBack).toBe(done.id);
    stop = cycleBatteryWhenAsked(work);
    await work.start();
    stop();
    expect(work.problem()).toBeUndefined();
    expect(record.found()!.escs.map(firmwareText)).toEqual(before.escs.map(firmwareText));
    expect(record.found()!.escs.map((e) => e.settingsPage)).toEqual(before.escs.map((e) => e.settingsPage));
    expect(record.found()!.controller?.config).toEqual(before.controller?.config);
    expect(work.rollBack()).toBeUndefined();
  });

  it('pauses after the page under way and goes on', async () => {
    const {record, work} = await workshop();
    record.setFound(await harness.survey());
    keepTicking();
    const running = work.start();
    await until(() => (work.progress()?.pagesDone ?? 0) > 2, 'pages written');
    work.togglePause();
    const writing = () => Object.values(work.working()).filter((p) => p.pagesTotal !== undefined && p.share < 1);
    await until(() => writing().length > 0 && writing().every((p) => p.paused), 'all paused');
    const pages = () => database.journal.filter((e) => e.event === 'page').count();
    const written = await pages();
    await new Promise((r) => setTimeout(r, 60));
    expect(await pages()).toBe(written);
    work.togglePause();
    await until(() => (work.progress()?.pagesDone ?? 0) > 6, 'more pages');
    work.stop();
    await running;
    expect(work.problem()!.code).toBe('stopped-by-person');
  });

  it('does not start while something else has the wires', async () => {
    const {record, work} = await workshop();
    record.setFound(await harness.survey());
    occupied = true;
    await work.start();
    expect(await database.orders.count()).toBe(0);
  });

  it('a store that fails stops the order before anything is touched, and says so', async () => {
    const {record, work} = await workshop();
    record.setFound(await harness.survey());
    const flash = harness.bench.escs.map((e) => e.flash.bytes.slice());
    keepTicking();
    const add = vi.spyOn(database.journal, 'add').mockRejectedValue(new DOMException('full', 'QuotaExceededError'));
    await work.start();
    add.mockRestore();
    expect(work.problem()).toMatchObject({code: 'store-failed', place: "browser's store"});
    expect(work.problem()!.meaning).toContain('nothing touches hardware without a record');
    harness.bench.escs.forEach((e, i) => expectSameBytes(e.flash.bytes, flash[i]!));
    expect(occupied).toBe(false);
    const stop = cycleBatteryWhenAsked(work);
    await work.resume();
    stop();
    expect(work.finished()).toBeDefined();
  });

  it('an unplugged bench is a problem with a remedy, and the order stays', async () => {
    const {record, work} = await workshop();
    record.setFound(await harness.survey());
    await harness.client.close();
    await work.start();
    expect(work.problem()).toMatchObject({code: 'unplugged', remedy: 'Connect it.'});
    expect(work.open()).toBeDefined();
    expect(occupied).toBe(false);
  });
});
