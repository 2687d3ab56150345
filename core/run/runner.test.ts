import {expectSameBytes} from '@simulator/testing/same-bytes';
import {meddleWithSettings} from '@simulator/hardware/hands/meddle';
import {describe, expect, it} from 'vitest';
import {application42, Harness} from '@simulator/testing/bench-harness';
import {findDifferences, hasDifferences} from '../compare/difference';
import type {LayoutRevision} from '../settings/definitions';
import {decodeSettings, defaultSettings, encodeSettings} from '../settings/page';
import {stepState} from './journal';
import {Random} from '@simulator/random';
import {juniper} from '@demo/craft/juniper';
import {ProblemError} from '../problem';

/** Offsets of a settings page that no definition of the layout names: those that encoding leaves as they were. */
function unnamedOffsets(layout: LayoutRevision): number[] {
  const values = defaultSettings(layout);
  const [low, high] = [0x00, 0xff].map((fill) => encodeSettings(layout, values, new Uint8Array(64).fill(fill)));
  const own = Array.from({length: 62}, (_, i) => i).filter((i) => low![i] !== high![i]);
  return [...own, ...Array.from({length: 40}, (_, i) => 64 + i)];
}

describe('a work order on the simulated bench', () => {
  it('finds 17 pages to write on motors 1, 2, 4 and 33 on motor 3', async () => {
    const {steps} = await new Harness().order();
    expect(steps.flatMap((s) => (s.kind === 'write-firmware' ? [s.pages] : []))).toEqual([17, 17, 33, 17]);
    expect(steps.map((s) => s.kind)).toEqual([
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
      'prove-replies',
    ]);
  });

  it('brings Juniper to its plan, byte for byte, with no reply lost', async () => {
    const h = new Harness();
    const outcome = await h.carryOut(await h.order());
    if (outcome.kind !== 'finished') throw new Error(`${outcome.step.id}: ${outcome.problem.meaning}`);
    for (let output = 0; output < 4; output++) expectSameBytes(h.application(output), application42);
    expect(hasDifferences(findDifferences(juniper.plan, outcome.found))).toBe(false);
    expect(outcome.proofs.map((p) => [p.kind, p.holds])).toEqual([
      ['pages', true],
      ['settings', true],
      ['replies', true],
    ]);
    const replies = outcome.proofs.at(-1)!.replies!;
    expect(replies.map((m) => m.throttle)).toEqual([0.04, 0.3, 0.6]);
    for (const motor of replies.slice(1).flatMap((m) => m.motors))
      // 2.4 s of a 4 kHz loop, give or take a report of 20 ms.
      expect(motor).toMatchObject({asked: expect.closeTo(9650, -2.5), lost: 0});
    for (const motor of replies[0]!.motors) {
      // The same, and 0.3 s at least for each motor alone before.
      expect(motor.asked).toBeGreaterThan(9_600 + 4 * 0.3 * 4_000 - 100);
      expect(motor.lost).toBe(0);
    }
    expect(replies[0]!.alone).toEqual([0, 1, 2, 3].map(() => ({turned: true, others: []})));
    // 60 % of 24.1 V at 1750 rpm/V is 25,300 rpm without losses, and 22.5° of advance make it 1/cos 22.5° = 1.08 of that;
    // friction and copper take a few per cent at most.
    expect(replies[2]!.motors[0]!.rpm).toBeGreaterThan(25_000);
    expect(replies[2]!.motors[0]!.rpm).toBeLessThan(27_500);
  });

  it('leaves a motor alone that was left out, byte for byte', async () => {
    const h = new Harness();
    const before = h.bench.escs[2]!.flash.bytes.slice();
    const outcome = await h.carryOut(await h.order({leave: [2]}));
    expect(outcome.kind).toBe('finished');
    expectSameBytes(h.bench.escs[2]!.flash.bytes, before);
    for (const output of [0, 1, 3]) expectSameBytes(h.application(output), application42);
  });

  it('keeps calibrated end points and bytes that no definition names', async () => {
    const h = new Harness();
    const before = (await h.survey()).escs.map((e) => e.settings!.values);
    const outcome = await h.carryOut(await h.order());
    if (outcome.kind !== 'finished') throw new Error(outcome.problem.meaning);
    outcome.found.escs.forEach((esc, i) => {
      expect(esc.settings!.values.throttleMin).toBe(before[i]!.throttleMin);
      expect(esc.settings!.values.throttleMax).toBe(before[i]!.throttleMax);
    });
  });

  it('keeps every byte of the settings page that no definition names, where the layout stays', async () => {
    const h = new Harness();
    await h.carryOut(await h.order());
    const {start} = h.bench.escs[0]!.chip.settings;
    const unnamed = unnamedOffsets(8);
    expect(unnamed.length).toBeGreaterThan(10);
    const marked = h.bench.escs.map(({flash, chip}, output) => {
      const page = flash.read(start, chip.pageBytes);
      for (const offset of unnamed) page[offset] = (offset * 7 + output) & 0xff;
      page.set(encodeSettings(8, {}, page));
      flash.bytes.set(page, start);
      return page;
    });
    const craft = {
      ...h.craft,
      plan: {...h.craft.plan, parameters: {...h.craft.plan.parameters, timing: {kind: 'same', value: 15} as const}},
    };
    const order = await h.order({craft, id: 'again'});
    expect(order.steps.some((s) => s.kind === 'set-parameters')).toBe(true);
    expect((await h.carryOut(order)).kind).toBe('finished');
    h.bench.escs.forEach(({flash, chip}, output) => {
      const page = flash.read(start, chip.pageBytes);
      expect(decodeSettings(page)).toMatchObject({ok: true, value: {values: {timing: 15}}});
      for (const offset of unnamed)
        expect(page[offset], `motor ${output + 1}, byte ${offset}`).toBe(marked[output]![offset]);
    });
  });

  it('has nothing to do on a craft that is as planned', async () => {
    const h = new Harness();
    await h.carryOut(await h.order());
    expect((await h.order()).steps).toEqual([]);
  });

  it('refuses to start when the bench changed since the order was made', async () => {
    const h = new Harness();
    const order = await h.order();
    await h.run(h.client.request('controller.set', {poles: 12}));
    const outcome = await h.carryOut(order);
    expect(outcome).toMatchObject({
      kind: 'stopped',
      problem: {
        code: 'found-changed',
        place: 'the flight controller',
        meaning:
          'Someone changed the bench since this order was made: the flight controller holds Motor poles 14 → 12.',
      },
    });
  });

  it('stops, shows and writes nothing when an ESC was changed meanwhile, and the next order knows', async () => {
    const h = new Harness();
    const order = await h.order();
    meddleWithSettings(h.bench.escs[1]!);
    const flash = h.bench.escs.map((e) => e.flash.bytes.slice());
    const outcome = await h.carryOut(order);
    if (outcome.kind !== 'stopped') throw new Error('It did not stop.');
    expect(outcome.problem).toMatchObject({code: 'found-changed', place: 'motor 2'});
    expect(outcome.problem.meaning).toContain('motor 2 holds tone loudness 110 of 255 → 30 of 255.');
    h.bench.escs.forEach((e, i) => expectSameBytes(e.flash.bytes, flash[i]!));
    const next = await h.order({found: outcome.found!, id: 'next'});
    const set = next.steps.find((s) => s.kind === 'set-parameters');
    expect(set?.kind === 'set-parameters' && set.changes.map((c) => c.title)).toContain(
      'Tone loudness 30 of 255 → 110 of 255',
    );
    expect((await h.carryOut(next)).kind).toBe('finished');
  });

  it('stops for a person after the page under way, and resumes', async () => {
    const h = new Harness();
    const order = await h.order();
    h.time.after(20_000, () => (h.cancel.aborted = true));
    expect(await h.carryOut(order)).toMatchObject({kind: 'stopped', problem: {code: 'stopped-by-person'}});
    h.cancel.aborted = false;
    expect((await h.carryOut(order)).kind).toBe('finished');
  });
});

describe('a mishap at any moment', () => {
  const random = new Random(20261123);
  // The drill tries thousands of moments; here are one of each kind, looked at more closely.
  const moments = [false, true].map((cable) => ({at: 5_000 + random.next() * 20_000, cable}));

  it.each(moments)('$cable / $at ms: bootloader lives, settings come back, the run resumes', async ({at, cable}) => {
    const h = new Harness();
    const order = await h.order();
    h.time.after(at, () => (cable ? h.bench.detach() : h.bench.setBattery(false)));
    let outcome = await h.carryOut(order);
    for (let tries = 0; outcome.kind === 'stopped' && tries < 4; tries++) {
      const said = await h.journal.entries(order.id);
      expect(said.at(-1)!.event).toBe('stopped');
      // The account is true: every page the journal calls written is in flash, unless its page was erased after.
      for (const entry of said)
        if (entry.event === 'done' && entry.stepId.startsWith('write-')) {
          const output = Number(entry.stepId.slice(6));
          expectSameBytes(h.application(output), application42, `motor ${output + 1} said done`);
        }
      // The person in the harness may be cycling the battery right now.
      h.time.advanceTo(h.time.now() + 2000);
      if (!h.bench.isBatteryOn) h.bench.setBattery(true);
      h.time.advanceTo(h.time.now() + 1000);
      for (const esc of h.bench.escs) expect(['running', 'bootloader']).toContain(esc.state);
      h.connect();
      outcome = await h.carryOut(order);
    }
    expect(outcome.kind === 'stopped' ? outcome.problem : outcome.kind).toBe('finished');
    for (let output = 0; output < 4; output++) expectSameBytes(h.application(output), application42);
    h.connect();
    const end = await h.survey();
    expect(hasDifferences(findDifferences(juniper.plan, end))).toBe(false);
    expect(end.escs.map((e) => e.settings!.values.throttleMax)).toEqual([1983, 1990, 1987, 1985]);
    for (const step of order.steps) expect(stepState(await h.journal.entries(order.id), step.id)).toBe('done');
  });

  it('a half-written image never looks valid', async () => {
    const h = new Harness();
    const order = await h.order();
    h.time.after(15_000, () => h.bench.setBattery(false));
    await h.carryOut(order);
    h.bench.setBattery(true);
    h.time.advanceTo(h.time.now() + 1000);
    expect(h.bench.escs.map((e) => e.state)).toContain('bootloader');
    expect(h.bench.escs.filter((e) => e.state === 'bootloader').every((e) => !e.applicationValid)).toBe(true);
  });
});

describe('a noisy cable', () => {
  it('costs repeats, not truth', async () => {
    const h = new Harness();
    h.bench.mishaps.loss = 0.0001;
    h.bench.mishaps.flips = 0.0001;
    const outcome = await h.carryOut(await h.order());
    expect(outcome).toMatchObject({kind: 'finished'});
    expect(h.client.counters.repeats).toBeGreaterThan(5);
    for (let output = 0; output < 4; output++) expectSameBytes(h.application(output), application42);
  });

  it('that is dead gives a problem with a remedy, after the repeats', async () => {
    const h = new Harness();
    h.bench.mishaps.loss = 1;
    const error: unknown = await h.run(h.client.request('hello', null)).catch((e: unknown) => e);
    expect((error as ProblemError).problem).toEqual({
      code: 'unanswered',
      place: 'bench link',
      meaning: 'No answer in 4 attempts of 800 ms.',
      remedy: 'Check the cable, then connect again.',
    });
  });

  it('an order that has nothing to do and meets trouble rejects with it: there is no step to stop at', async () => {
    const h = new Harness();
    const order = {...(await h.order()), steps: []};
    expect((await h.carryOut(order)).kind).toBe('finished');
    h.bench.detach();
    await expect(h.carryOut(order)).rejects.toThrow(ProblemError);
  });
});
