/** A resumed order looks at everything it will overwrite: it stops, shows, asks. Done steps are looked at again when a proof says so. */
import {describe, expect, it} from 'vitest';
import {decodeSettings, encodeSettings, settingsBytes} from '../../settings/page';
import {chips} from '../../firmware/chips';
import {meddleWithSettings} from '@simulator/hardware/hands/meddle';
import {meridianImage} from '@simulator/firmware/meridian';
import {Random} from '@simulator/random';
import {Harness, demoCraft, shelf} from '@simulator/testing/bench-harness';
import {stepState} from '../journal';
import {makeRollBack} from '../order/make-order';
import type {Outcome} from '../runner';
import type {WorkOrder} from '../../order/work-order';

const settingsAt = chips.M32.settings.start;
const page = (h: Harness, output: number) => h.bench.escs[output]!.flash.read(settingsAt, 1024);
/** Carries an order out until `ms`, then cuts the battery; the person connects it again. */
async function interrupted(h: Harness, order: WorkOrder, ms: number): Promise<Outcome> {
  h.time.after(ms, () => h.bench.setBattery(false));
  const outcome = await h.carryOut(order);
  h.time.advanceTo(h.time.now() + 2_000);
  if (!h.bench.isBatteryOn) h.bench.setBattery(true);
  h.time.advanceTo(h.time.now() + 1_000);
  return outcome;
}
const stopped = (o: Outcome) => {
  if (o.kind !== 'stopped') throw new Error('It finished');
  return o;
};
const allow = (h: Harness, o: Outcome) => stopped(o).changes!.forEach((c) => h.overwrite.add(c.key));

describe('resume', () => {
  it('stops for settings that were changed meanwhile, names them, and overwrites only what a person has seen', async () => {
    const h = new Harness();
    const order = await h.order();
    await interrupted(h, order, 8_000);
    meddleWithSettings(h.bench.escs[1]!);
    const meddled = page(h, 1);
    const asked = stopped(await h.carryOut(order));
    expect(asked.problem).toMatchObject({code: 'changed-meanwhile', place: 'motor 2'});
    expect(asked.problem.meaning).toContain('motor 2 holds tone loudness');
    expect(asked.found).toBeDefined();
    expect([...page(h, 1)]).toEqual([...meddled]);
    // Another change than the one that was shown is asked for again.
    allow(h, asked);
    meddleWithSettings(h.bench.escs[2]!);
    expect(stopped(await h.carryOut(order)).changes!.map((c) => c.place)).toEqual(['motor 2', 'motor 3']);
    allow(h, await h.carryOut(order));
    expect((await h.carryOut(order)).kind).toBe('finished');
    // What was overwritten is kept.
    const kept = h.kept.flatMap((f) => f.escs.map((e) => Buffer.from(e.settingsPage)));
    expect(kept.some((k) => k.equals(Buffer.from(meddled)))).toBe(true);
  });

  it('stops for other firmware and for another configuration', async () => {
    const h = new Harness();
    const order = await h.order();
    await interrupted(h, order, 4_000);
    const esc = h.bench.escs[0]!;
    esc.flash.bytes.set(
      meridianImage('4.1', {board: 'Gneiss 45', deadTimeNs: 45}).segments[0]!.bytes,
      chips.M32.application.start,
    );
    esc.start();
    h.bench.controller.set({poles: 22});
    const {problem, changes} = stopped(await h.carryOut(order));
    expect(problem.code).toBe('changed-meanwhile');
    expect(changes!.map((c) => `${c.place} ${c.what}`)).toEqual([
      'motor 1 runs Meridian 4.1',
      expect.stringContaining('the flight controller holds Motor poles 14 → 22'),
    ]);
  });

  it('what an interrupted write of its own left is no news', async () => {
    for (const ms of [6_000, 12_000, 22_000]) {
      const h = new Harness();
      const order = await h.order();
      await interrupted(h, order, ms);
      const outcome = await h.carryOut(order);
      expect(outcome.kind === 'stopped' ? outcome.problem : 'finished', `${ms} ms`).toBe('finished');
    }
  });

  it('settings written in part: the page does not read, and is written again without a question', async () => {
    const h = new Harness();
    const order = await h.order();
    let cut = false;
    const host = h.host();
    const append = host.journal.append.bind(host.journal);
    host.journal.append = (entry) => {
      if (entry.stepId === 'parameters' && entry.event === 'begin' && !cut) {
        cut = true;
        // Erasing takes 20 ms; the cut comes in the middle of it.
        h.time.after(700, () => h.bench.setBattery(false));
      }
      return append(entry);
    };
    const first = await h.carryOutWith(order, host);
    expect(stopped(first).problem.code).toBe('no-power');
    expect(h.bench.escs.some((_, o) => !decodeSettings(page(h, o).subarray(0, settingsBytes)).ok)).toBe(true);
    h.bench.setBattery(true);
    h.time.advanceTo(h.time.now() + 1_000);
    expect((await h.carryOut(order)).kind).toBe('finished');
  });

  it('a page that does not read on an ESC whose settings this order never reached is asked about', async () => {
    const h = new Harness();
    const order = await h.order();
    const {flash, chip} = h.bench.escs[0]!;
    flash.worn.add(chip.application.start / chip.pageBytes + 1);
    expect(stopped(await h.carryOut(order)).problem.code).toBe('page-check');
    flash.worn.clear();
    // The settings step has begun, for the others.
    flash.erase(settingsAt);
    flash.write(settingsAt, new Uint8Array(chip.pageBytes).fill(0x5a));
    const asked = stopped(await h.carryOut(order));
    expect(asked.changes).toMatchObject([{place: 'motor 1', what: 'holds settings that do not read'}]);
    allow(h, asked);
    expect((await h.carryOut(order)).kind).toBe('finished');
  });

  it('another ESC on an output stops it before anything is written', async () => {
    const h = new Harness();
    const order = await h.order();
    await interrupted(h, order, 8_000);
    h.bench.swapEscs(0, 1);
    expect(stopped(await h.carryOut(order)).problem.code).toBe('other-esc');
    h.bench.swapEscs(0, 1);
    expect((await h.carryOut(order)).kind).toBe('finished');
  });

  it('an arm of an adapter round is looked at as well', async () => {
    const h = new Harness({craft: demoCraft('alder')});
    const claim = (output: number) => ({
      serial: h.bench.escs[output]!.hardware.serial,
      board: 'Basalt 30',
      chip: 'M32' as const,
      deadTimeNs: 30,
      by: 'test',
      at: 0,
    });
    h.bench.escs.forEach((_, o) => h.claims.set(claim(o).serial, claim(o)));
    const order = await h.order();
    h.time.after(9_000, () => h.bench.detach());
    await h.carryOut(order);
    const open = order.steps.find(
      (s) => s.kind === 'visit' && h.journal.all.some((e) => e.stepId === s.id && e.snapshot),
    )!;
    const output = open.kind === 'visit' ? open.target.output : 0;
    h.time.advanceTo(h.time.now() + 2_000);
    h.connect();
    meddleWithSettings(h.bench.escs[output]!);
    expect(stopped(await h.carryOut(order)).problem).toMatchObject({
      code: 'changed-meanwhile',
      place: `arm ${output + 1}`,
    });
  });
});

describe('a proof that contradicts a done step', () => {
  it('opens it again: what was written over seconds later is written anew on resume', async () => {
    const h = new Harness();
    const order = await h.order();
    const host = h.host();
    const append = host.journal.append.bind(host.journal);
    host.journal.append = (entry) => {
      // A doubled erase of page 0x3000 arrives when its step is long done.
      if (entry.stepId === 'parameters' && entry.event === 'done') h.bench.escs[1]!.flash.erase(0x3000);
      return append(entry);
    };
    const {problem} = stopped(await h.carryOutWith(order, host));
    expect(problem).toMatchObject({
      code: 'proof-failed',
      place: 'motor 2',
      meaning: 'Page 0x3000 is not the page of the image.',
    });
    const entries = await h.journal.entries(order.id);
    expect(stepState(entries, 'write-1')).toBe('begun');
    expect(stepState(entries, 'write-0')).toBe('done');
    expect((await h.carryOut(order)).kind).toBe('finished');
  });

  it('a setting that someone changed before the read-back is asked for, then written', async () => {
    const h = new Harness();
    const order = await h.order();
    const host = h.host();
    const append = host.journal.append.bind(host.journal);
    host.journal.append = (entry) => {
      if (entry.stepId === 'prove-pages' && entry.event === 'done') {
        const read = decodeSettings(page(h, 0));
        if (!read.ok) throw new Error('no settings');
        const other = page(h, 0);
        other.set(
          encodeSettings(read.value.layout, {...read.value.values, timing: 7.5}, other.subarray(0, settingsBytes)),
        );
        h.bench.escs[0]!.flash.erase(settingsAt);
        h.bench.escs[0]!.flash.write(settingsAt, other);
      }
      return append(entry);
    };
    expect(stopped(await h.carryOutWith(order, host)).problem.code).toBe('proof-failed');
    const asked = await h.carryOut(order);
    expect(stopped(asked).problem.code).toBe('changed-meanwhile');
    allow(h, asked);
    expect((await h.carryOut(order)).kind).toBe('finished');
  });
});

describe('the last look', () => {
  /** Everything up to a step is done; then the cable goes, before the order could look at the end. */
  async function allButTheLook(h: Harness, order: WorkOrder, last = order.steps.at(-1)!.id): Promise<void> {
    const host = h.host();
    const append = host.journal.append.bind(host.journal);
    host.journal.append = async (entry) => {
      await append(entry);
      if (entry.stepId === last && entry.event === 'done') h.bench.detach();
    };
    expect(stopped(await h.carryOutWith(order, host)).problem.code).toBe('cable-out');
    h.time.advanceTo(h.time.now() + 2_000);
    h.connect();
  }

  /** Juniper updated and rolled back, but for the last look; the order that was undone and the one that undid it. */
  async function rolledBack(h: Harness): Promise<{readonly order: WorkOrder; readonly back: WorkOrder}> {
    const order = await h.order({leaveSteps: ['prove-replies']});
    expect((await h.carryOut(order)).kind).toBe('finished');
    const question = {id: 'back', at: 9, craft: h.craft, order, found: await h.survey(), supply: shelf.supply};
    const back = makeRollBack(question);
    if (!back.ok) throw new Error(back.problem.meaning);
    await allButTheLook(h, back.value);
    return {order, back: back.value};
  }

  it('a roll-back is not finished while settings that it put back were changed again', async () => {
    const h = new Harness();
    const {order, back} = await rolledBack(h);
    meddleWithSettings(h.bench.escs[1]!);
    const meddled = page(h, 1);
    expect(stopped(await h.carryOut(back)).problem).toMatchObject({
      ...{code: 'proof-failed', place: 'motor 2'},
      meaning: 'Read at the end, it does not hold the settings that this order wrote.',
    });
    expect([...page(h, 1)]).toEqual([...meddled]);
    allow(h, await h.carryOut(back));
    expect((await h.carryOut(back)).kind).toBe('finished');
    expect([...page(h, 1).subarray(0, settingsBytes)]).toEqual([
      ...order.found.escs[1]!.settingsPage.subarray(0, settingsBytes),
    ]);
  });

  it('nor while the battery is off and nothing of what it wrote can be read', async () => {
    const h = new Harness();
    const {back} = await rolledBack(h);
    h.bench.setBattery(false);
    const outcome = stopped(await h.carryOut(back));
    expect(outcome.problem).toMatchObject({code: 'no-power', place: 'battery'});
    expect(outcome.found?.escs.length).not.toBe(0);
    h.bench.setBattery(true);
    h.time.advanceTo(h.time.now() + 2_000);
    expect((await h.carryOut(back)).kind).toBe('finished');
  });

  it('nor while its flight controller is in its loader, nor with another ESC on an output that it wrote', async () => {
    const h = new Harness();
    const {back} = await rolledBack(h);
    h.bench.swapEscs(0, 1);
    expect(stopped(await h.carryOut(back)).problem).toMatchObject({code: 'other-esc', place: 'motor 1'});
    h.bench.swapEscs(0, 1);
    h.bench.board.loader.holdStranger(new Random(5));
    expect(stopped(await h.carryOut(back)).problem.meaning).toBe(
      'At the end it is in its loader: nothing of it could be read.',
    );
  });

  it('nor while the flight controller is set otherwise', async () => {
    const h = new Harness();
    const {back} = await rolledBack(h);
    h.bench.controller.set({poles: 22});
    const {problem} = stopped(await h.carryOut(back));
    expect(problem.meaning).toBe('Read at the end, it does not hold what this order set: Motor poles.');
  });

  it('an image that is another one is written again, with the battery cycle and the proofs behind it', async () => {
    const h = new Harness();
    const order = await h.order();
    await allButTheLook(h, order, 'prove-settings');
    const esc = h.bench.escs[0]!;
    esc.flash.bytes.set(
      meridianImage('4.1', {board: 'Gneiss 45', deadTimeNs: 45}).segments[0]!.bytes,
      chips.M32.application.start,
    );
    esc.start();
    expect(stopped(await h.carryOut(order)).problem.meaning).toBe(
      'Read at the end, it does not hold the image that this order wrote.',
    );
    const entries = await h.journal.entries(order.id);
    const again = order.steps.filter((s) => stepState(entries, s.id) !== 'done').map((s) => s.id);
    expect(again).toEqual(['write-0', 'cycle', 'prove-pages', 'prove-settings', 'prove-replies']);
    const cycles = () => h.run(h.client.request('power', null)).then((power) => power.cycles);
    const before = await cycles();
    allow(h, await h.carryOut(order));
    expect((await h.carryOut(order)).kind).toBe('finished');
    expect(await cycles()).toBe(before + 1);
  });
});
