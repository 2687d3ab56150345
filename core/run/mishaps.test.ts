/** Each mishap of hardware.md against a work order: what is told, what is kept, how it goes on. */
import {expectSameBytes} from '@simulator/testing/same-bytes';
import {describe, expect, it} from 'vitest';
import {application42, demoCraft, Harness, shelf} from '@simulator/testing/bench-harness';
import type {Outcome} from './runner';
import {firmwareText} from '../bench/found';
import {stepState} from './journal';
import {withBatteryOn} from '../bench/battery';
import {makeRollBack} from './order/make-order';
import {pageRetries} from './steps/write-with-retries';

const problemOf = (outcome: Outcome) => (outcome.kind === 'stopped' ? outcome.problem : undefined);

describe('an ESC with a failing flash page', () => {
  const worn = async () => {
    const h = new Harness();
    h.bench.escs[1]!.flash.worn.add(16);
    const order = await h.order();
    return {h, order, outcome: await h.carryOut(order)};
  };

  it('is tried twice more, then isolated; the others are finished, set and checked', async () => {
    const {h, order, outcome} = await worn();
    expect(problemOf(outcome)).toMatchObject({code: 'page-check', place: 'motor 2'});
    expect(problemOf(outcome)?.meaning).toContain('motor 2 was isolated: Page 0x4000 failed its check 3 times');
    const said = await h.journal.entries(order.id);
    expect(said.filter((e) => e.event === 'retry')).toHaveLength(pageRetries);
    expect(said.at(-1)).toMatchObject({event: 'stopped', stepId: 'write-1'});
    for (const output of [0, 2, 3]) expectSameBytes(h.application(output), application42);
    expect(h.bench.escs.map((e) => e.state)).toEqual(['running', 'bootloader', 'running', 'running']);
    expect(said.some((e) => e.proof?.kind === 'pages')).toBe(false);
  });

  it('never claims a proof for a craft that is not whole, and finishes when the page works again', async () => {
    const {h, order} = await worn();
    expect(stepState(await h.journal.entries(order.id), 'prove-settings')).toBe('begun');
    h.bench.escs[1]!.flash.worn.clear();
    const outcome = await h.carryOut(order);
    expect(problemOf(outcome)).toBeUndefined();
    expect(outcome.kind === 'finished' && outcome.found.escs.map(firmwareText)).toEqual(Array(4).fill('Meridian 4.2'));
    expect(outcome.kind === 'finished' && outcome.proofs.map((p) => p.kind)).toEqual(['pages', 'settings', 'replies']);
  });
});

describe('an ESC that answers late, or not any more', () => {
  it('late: it takes longer, and all is well', async () => {
    const h = new Harness();
    h.bench.escs[2]!.lateMs = 300;
    const order = await h.order();
    const begun = h.time.now();
    expect((await h.carryOut(order)).kind).toBe('finished');
    const late = h.time.now() - begun;
    const sound = new Harness();
    const same = await sound.order();
    const soundFrom = sound.time.now();
    await sound.carryOut(same);
    // Four writes for each of its 33 pages, each 0.3 s later, at the least.
    expect(late - (sound.time.now() - soundFrom)).toBeGreaterThan(33 * 300);
    expect(h.client.counters.repeats).toBe(0);
  });

  it('silent from the middle on: isolated, the others are finished', async () => {
    const h = new Harness();
    const order = await h.order();
    h.time.after(10_000, () => (h.bench.escs[3]!.silent = true));
    const outcome = await h.carryOut(order);
    expect(problemOf(outcome)).toMatchObject({code: 'no-answer'});
    for (const output of [0, 1, 2]) expectSameBytes(h.application(output), application42);
    h.bench.escs[3]!.silent = false;
    expect((await h.carryOut(order)).kind).toBe('finished');
  });
});

describe('a battery', () => {
  it('too low to finish: nothing is written, and the remedy is told', async () => {
    const h = new Harness();
    const order = await h.order();
    const before = h.bench.escs.map((e) => e.flash.bytes.slice());
    h.bench.setVolts(19.2);
    const outcome = await h.carryOut(order);
    expect(problemOf(outcome)).toMatchObject({code: 'battery-low', place: 'battery'});
    expect(problemOf(outcome)?.meaning).toContain('3.20 V per cell');
    h.bench.escs.forEach((e, i) => expectSameBytes(e.flash.bytes, before[i]!));
  });

  it('that sags out and comes back by itself leaves nothing behind', async () => {
    const h = new Harness();
    const order = await h.order();
    h.time.after(12_000, () => h.bench.setBattery(false));
    h.time.after(12_050, () => h.bench.setBattery(true));
    let outcome = await h.carryOut(order);
    expect(outcome.kind).toBe('stopped');
    h.time.advanceTo(h.time.now() + 1000);
    outcome = await h.carryOut(order);
    expect(problemOf(outcome)).toBeUndefined();
  });
});

describe('the cable', () => {
  it('behind a hub that drops long transfers: smaller pieces get through', async () => {
    const h = new Harness();
    h.bench.mishaps.longest = 280;
    const order = await h.order({found: await h.survey()});
    const one = {...order, steps: order.steps.filter((s) => s.id === 'write-0')};
    expect((await h.carryOut(one)).kind).toBe('finished');
    expectSameBytes(h.application(0), application42);
  });

  it('that doubles bytes costs repeats, not truth', async () => {
    // A restart is never repeated: with this seed its bytes come through. Reports of turning motors come unasked and are not
    // repeated either: without the reply proof every frame that is damaged belongs to a request.
    const h = new Harness({seed: 3});
    const order = await h.order({leaveSteps: ['prove-replies']});
    h.bench.mishaps.doubles = 0.0001;
    const before = h.client.counters;
    expect(before).toMatchObject({repeats: 0, badFrames: 0});
    const outcome = await h.carryOut(order);
    expect(outcome.kind === 'stopped' ? outcome.problem : outcome.kind).toBe('finished');
    const {repeats, badFrames} = h.client.counters;
    expect(repeats).toBeGreaterThan(5);
    expect(badFrames).toBeGreaterThan(0);
    expect(badFrames).toBeLessThanOrEqual(repeats);
    for (let output = 0; output < 4; output++) expectSameBytes(h.application(output), application42);
  });

  it('a flight controller that restarts in the middle ends the connection; the order resumes', async () => {
    const h = new Harness();
    const order = await h.order();
    h.time.after(15_000, () => h.bench.restartController());
    expect(problemOf(await h.carryOut(order))).toMatchObject({code: 'cable-out'});
    h.connect();
    expect((await h.carryOut(order)).kind).toBe('finished');
  });
});

describe('a person', () => {
  it('pauses after the page under way, and goes on', async () => {
    const h = new Harness();
    const order = await h.order();
    h.time.after(10_000, () => (h.pause.paused = true));
    const written = () => h.journal.all.filter((e) => e.event === 'page').length;
    let [atPause, later] = [0, 0];
    h.time.after(13_000, () => (atPause = written()));
    h.time.after(60_000, () => {
      later = written();
      h.pause.paused = false;
    });
    expect((await h.carryOut(order)).kind).toBe('finished');
    expect(atPause).toBeGreaterThan(0);
    expect(later).toBe(atPause);
  });
});

describe('a battery that goes off', () => {
  it('is what the account names, and no motor', async () => {
    const h = new Harness();
    const order = await h.order();
    h.bench.mishaps.afterBytes(20_000, () => h.bench.setBattery(false));
    const problem = problemOf(await h.carryOut(order));
    expect(problem).toMatchObject({code: 'no-power', place: 'battery'});
    expect(withBatteryOn(problem!, false).remedy).toContain('Connect the battery');
    expect(withBatteryOn(problem!, true).remedy).toBe('The battery is on now. Go on, or survey again.');
  });
});

describe('roll-back', () => {
  it.each(['juniper', 'sorrel'])('%s: every byte of settings and firmware is as before', async (id) => {
    const craft = demoCraft(id);
    const h = new Harness({craft});
    const before = h.bench.escs.map((e) => e.flash.bytes.slice(0, e.chip.settings.end));
    const order = await h.order();
    const first = await h.carryOut(order);
    if (first.kind !== 'finished') throw new Error(first.problem.meaning);
    const back = makeRollBack({id: 'back', at: 4, craft, order, found: first.found, supply: shelf.supply});
    if (!back.ok) throw new Error(back.problem.meaning);
    const outcome = await h.carryOut(back.value);
    expect(problemOf(outcome)).toBeUndefined();
    h.bench.escs.forEach((e, i) => {
      const {application, settings, pageBytes} = e.chip;
      // Behind the image of before lies what the longer new one left: no part of the firmware.
      const end = application.start + order.found.escs[i]!.identity!.imageLength;
      const isAsBefore = (from: number, to: number) =>
        e.flash.read(from, to - from).every((byte, at) => byte === before[i]![from + at]);
      expect(end - application.start).toBeGreaterThan(10 * pageBytes);
      expect(isAsBefore(0, application.start)).toBe(true);
      expect(isAsBefore(application.start, end)).toBe(true);
      expect(isAsBefore(settings.start, settings.end)).toBe(true);
    });
    expect(outcome.kind === 'finished' && outcome.found.controller?.config).toEqual(order.found.controller?.config);
  });

  it('says which ESC cannot be put back when its image is not at hand', async () => {
    const h = new Harness();
    const order = await h.order();
    const first = await h.carryOut(order);
    if (first.kind !== 'finished') throw new Error(first.problem.meaning);
    const without = {...shelf.supply, releases: shelf.supply.releases.filter((r) => r.version !== '3.7')};
    const {found} = first;
    const back = makeRollBack({id: 'b', at: 4, craft: demoCraft('juniper'), order, found, supply: without});
    expect(back.ok && back.value.leftOut).toMatchObject([{output: 2, problem: {code: 'no-image-before'}}]);
    const none = makeRollBack({
      id: 'b',
      at: 4,
      craft: demoCraft('juniper'),
      order,
      found,
      supply: {...shelf.supply, releases: []},
    });
    expect(none.ok).toBe(false);
  });

  it('names the rest of an interrupted module write that it erases', async () => {
    const craft = demoCraft('bramble');
    const h = new Harness({craft});
    const esc = h.bench.escs[2]!;
    const at = esc.chip.module!.start;
    esc.flash.bytes.fill(0x55, at, at + 64);
    const order = await h.order();
    const first = await h.carryOut(order);
    if (first.kind !== 'finished') throw new Error(first.problem.meaning);
    const back = makeRollBack({id: 'back', at: 4, craft, order, found: first.found, supply: shelf.supply});
    expect(back.ok && back.value.stays).toMatchObject([{code: 'module-rest', place: 'motor 3'}]);
  });
});
