/** Whatever fails, nothing writes behind the order's back, one worn part does not hold the others, and nothing is proven by nothing. */
import {describe, expect, it} from 'vitest';
import {chips} from '../firmware/chips';
import {fillFlash} from '@simulator/hardware/esc/esc-flash';
import {meridianImage} from '@simulator/firmware/meridian';
import {moduleImage} from '@simulator/firmware/reply-module';
import type {BenchSetup} from '@simulator/hardware/bench-setup';
import {Harness, demoCraft, shelf} from '@simulator/testing/bench-harness';
import {ProblemError} from '../problem';
import {sideBySide} from '../side-by-side';
import {firmwareText} from '../bench/found';
import type {JournalEntry} from './journal';
import {makeRollBack} from './order/make-order';
import {equalSerials} from '../bench/equal-serials';
import type {Outcome} from './runner';

const schist = {board: 'Schist 40', deadTimeNs: 40};
const stopped = (o: Outcome) => {
  if (o.kind !== 'stopped') throw new Error('It finished');
  return o;
};

describe('side by side', () => {
  it('waits for all, whatever fails, then throws the first failure', async () => {
    const ended: number[] = [];
    const work = sideBySide([1, 2, 3], async (n) => {
      await new Promise((r) => setTimeout(r, n * 5));
      ended.push(n);
      if (n < 3) throw new Error(`failure of ${n}`);
      return n;
    });
    await expect(work).rejects.toThrow('failure of 1');
    expect(ended).toEqual([1, 2, 3]);
  });
});

describe('a store that fails', () => {
  const failing = (h: Harness, when: (e: JournalEntry, n: number) => boolean, error: () => Error) => {
    const host = h.host();
    const append = host.journal.append.bind(host.journal);
    let n = 0;
    host.journal.append = (entry) => (when(entry, n++) ? Promise.reject(error()) : append(entry));
    return host;
  };
  const wrapped = () => new ProblemError({code: 'store-failed', place: 'store', meaning: 'full', remedy: 'free space'});

  it.each([
    ['in its own words', () => new Error('QuotaExceededError')],
    ['wrapped', wrapped],
  ])('%s: every writer has ended before the order says that it stopped', async (_, error) => {
    const h = new Harness();
    const order = await h.order();
    // The page entry of motor 2 fails while the three others write.
    const host = failing(h, (e) => e.event === 'page' && e.output === 1, error);
    const outcome = await h.carryOutWith(order, host).catch((e: unknown) => e);
    if (outcome instanceof Error) expect(outcome.message).toBe('QuotaExceededError');
    else expect((outcome as Outcome).kind).toBe('stopped');
    const before = h.bench.escs.map((e) => Buffer.from(e.flash.read(0, e.chip.flashBytes)));
    h.time.advanceTo(h.time.now() + 30_000);
    h.bench.escs.forEach((e, i) =>
      expect(before[i]!.equals(Buffer.from(e.flash.read(0, e.chip.flashBytes)))).toBe(true),
    );
    expect(h.bench.isBusy).toBe(false);
    expect((await h.carryOut(order)).kind).toBe('finished');
  });

  it('that refuses to note that an arm was isolated is a stop too, not an exception', async () => {
    const h = new Harness({craft: demoCraft('alder')});
    h.bench.escs.forEach(({hardware: {serial}}) =>
      h.claims.set(serial, {serial, board: 'Basalt 30', chip: 'M32', deadTimeNs: 30, by: 'test', at: 0}),
    );
    const order = await h.order();
    const host = failing(h, (e) => e.event === 'isolated', wrapped);
    const first = order.steps.find((s) => s.kind === 'visit')!;
    const output = first.kind === 'visit' ? first.target.output : 0;
    h.bench.escs[output]!.flash.worn.add(chips.M32.settings.start / chips.M32.pageBytes);
    expect(stopped(await h.carryOutWith(order, host)).problem.code).toBe('store-failed');
  });

  it('a read that fails is a stop with a reason, not an exception', async () => {
    const h = new Harness();
    const order = await h.order();
    const host = h.host();
    host.journal.entries = () => Promise.reject(wrapped());
    expect(stopped(await h.carryOutWith(order, host)).problem.code).toBe('store-failed');
  });
});

describe('a worn settings page', () => {
  it('is tried three times, then isolated; the others are finished with their settings and proven', async () => {
    const h = new Harness();
    const order = await h.order();
    h.bench.escs[1]!.flash.worn.add(chips.M32.settings.start / chips.M32.pageBytes);
    const {problem} = stopped(await h.carryOut(order));
    expect(problem.code).toBe('page-check');
    expect(problem.meaning).toContain('motor 2 was isolated: Page 0xF800 failed its check 3 times: the flash is worn.');
    const entries = await h.journal.entries(order.id);
    expect(entries.filter((e) => e.event === 'retry')).toHaveLength(2);
    expect(entries.some((e) => e.stepId === 'prove-settings' && e.event === 'part')).toBe(true);
    expect(entries.some((e) => e.proof)).toBe(false);
    const found = await h.survey();
    for (const output of [0, 2, 3])
      expect(found.escs[output]!.settings?.values.throttleMax).toBe([1983, 1990, 1987, 1985][output]);
  });
});

describe('a worn flight controller', () => {
  it('is told, and the ESCs are finished without it', async () => {
    const h = new Harness();
    const order = await h.order();
    h.bench.controller.worn = true;
    const {problem} = stopped(await h.carryOut(order));
    expect(problem).toMatchObject({code: 'controller-check', place: 'flight controller'});
    expect((await h.journal.entries(order.id)).some((e) => e.stepId === 'prove-pages' && e.event === 'part')).toBe(
      true,
    );
    h.bench.controller.worn = false;
    expect((await h.carryOut(order)).kind).toBe('finished');
  });
});

describe('a reply module that is not planned any more', () => {
  const bramble = demoCraft('bramble');
  const craft = {...bramble, plan: {...bramble.plan, firmware: {family: 'Meridian', version: '3.9'}}};
  /** Bramble with base 3.9 and its module, or the rest of one, on every ESC. */
  const setup =
    (rest: boolean) =>
    (first: BenchSetup): BenchSetup => ({
      ...first,
      escs: first.escs.map((esc, output) => {
        const module = moduleImage('1.1', schist);
        const tail = {
          segments: module.segments.map(({start, bytes}) => ({start: start + 1024, bytes: bytes.slice(1024)})),
        };
        const images = [meridianImage('3.9', schist), rest ? tail : module];
        return {...esc, flash: fillFlash(chips.M32, {images, layout: 6, settings: {}, seed: output})};
      }),
    });
  const isClear = (h: Harness) => h.bench.escs.every((e) => e.flash.view(0xe000, 0xf800).every((b) => b === 0xff));

  it.each([false, true])(
    'is cleared, and proven to be, also when interrupted after its step began; rest of one: %s',
    async (rest) => {
      const h = new Harness({craft, setup: setup(rest)});
      // Without module there are no replies to prove.
      const order = await h.order({leaveSteps: ['prove-replies']});
      expect(order.steps.filter((s) => s.kind === 'write-firmware')).toHaveLength(4);
      const host = h.host();
      const append = host.journal.append.bind(host.journal);
      host.journal.append = (entry) => {
        if (entry.stepId === 'write-0' && entry.event === 'begin') h.time.after(30, () => h.bench.setBattery(false));
        return append(entry);
      };
      await h.carryOutWith(order, host);
      h.time.advanceTo(h.time.now() + 1_000);
      h.bench.setBattery(true);
      h.time.advanceTo(h.time.now() + 1_000);
      expect(isClear(h)).toBe(false);
      const outcome = await h.carryOut(order);
      expect(outcome.kind === 'stopped' ? outcome.problem : 'finished').toBe('finished');
      expect(isClear(h)).toBe(true);
      const pages = outcome.kind === 'finished' && outcome.proofs.find((p) => p.kind === 'pages');
      expect(pages && pages.text).toBe(
        '164 of 164 page checksums equal the image, 4 ESCs; 24 pages behind it are empty, as they must be',
      );
    },
  );

  it('the page proof does not hold while one is there', async () => {
    const h = new Harness({craft, setup: setup(false)});
    const order = await h.order();
    const onlyProof = {...order, steps: order.steps.filter((s) => s.kind === 'prove-pages')};
    const {problem} = stopped(await h.carryOut(onlyProof));
    expect(problem.meaning).toContain('Page 0xE000 must be empty and is not');
  });

  it('a survey tells the rest of one', async () => {
    const h = new Harness({craft, setup: setup(true)});
    expect(new Set((await h.survey()).escs.map(firmwareText))).toEqual(
      new Set(['Meridian 3.9, with the rest of a module']),
    );
  });
});

describe('proofs', () => {
  it('a roll-back that writes no image proves the pages it found, not none', async () => {
    const h = new Harness();
    const order = await h.order({leaveSteps: ['write-firmware']});
    expect((await h.carryOut(order)).kind).toBe('finished');
    const found = await h.survey();
    const back = makeRollBack({id: 'back', at: 9, craft: h.craft, order, found, supply: shelf.supply});
    if (!back.ok) throw new Error(back.problem.meaning);
    expect(back.value.steps.some((s) => s.kind === 'write-firmware')).toBe(false);
    const outcome = await h.carryOut(back.value);
    const proof = outcome.kind === 'finished' ? outcome.proofs.find((p) => p.kind === 'pages') : undefined;
    expect(proof).toMatchObject({
      count: 164,
      holds: true,
      grounds: expect.arrayContaining([{key: 'asked for', value: 'a roll-back'}]),
      on: [0, 1, 2, 3].map((output) => ({output, serial: `G45-20${output + 1}7`})),
    });
  });

  it('a proof step with nothing to check proves nothing', async () => {
    const h = new Harness();
    const order = await h.order();
    const empty = {
      ...order,
      steps: order.steps.flatMap((s) => (s.kind === 'prove-pages' ? [{...s, targets: []}] : [])),
    };
    const outcome = await h.carryOut(empty);
    expect(outcome.kind === 'finished' && outcome.proofs).toEqual([]);
  });

  it('the settings proof fails on a strange ESC that was put in at the right moment', async () => {
    const h = new Harness();
    const order = await h.order();
    const host = h.host();
    const append = host.journal.append.bind(host.journal);
    host.journal.append = (entry) => {
      if (entry.stepId === 'prove-settings' && entry.event === 'begin')
        Object.assign(h.bench.escs[2]!.hardware, {serial: 'STRANGE'});
      return append(entry);
    };
    expect(stopped(await h.carryOutWith(order, host)).problem).toMatchObject({code: 'other-esc', place: 'motor 3'});
  });
});

describe('equal serials', () => {
  const twins = (first: BenchSetup): BenchSetup => ({
    ...first,
    escs: first.escs.map((e, i) => (i < 2 ? {...e, hardware: {...e.hardware, serial: 'COPIED'}} : e)),
  });

  it('are told before anything is written', async () => {
    const h = new Harness({setup: twins});
    const order = await h.order();
    expect(equalSerials(order.found)).toEqual([[0, 1]]);
    expect(order.warnings?.[0]).toMatchObject({
      place: 'motors 1 and 2',
      meaning: expect.stringContaining('one and the same serial number'),
    });
    expect(equalSerials(await new Harness().survey())).toEqual([]);
  });

  it('the unnamed bytes of one never go to its twin', async () => {
    const h = new Harness({setup: twins});
    // Same layout before and after, so that unnamed bytes are kept.
    const unnamed = (output: number) => [...h.bench.escs[output]!.flash.read(chips.M32.settings.start + 96, 16)];
    const before = [0, 1].map(unnamed);
    expect(before[0]).not.toEqual(before[1]);
    const order = await h.order({leaveSteps: ['write-firmware']});
    expect((await h.carryOut(order)).kind).toBe('finished');
    expect([0, 1].map(unnamed)).toEqual(before);
  });
});
