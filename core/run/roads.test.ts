/** The roads to an ESC and what can be wrong on each: told apart, each with its remedy. */
import {describe, expect, it} from 'vitest';
import {demoCraft, Harness, shelf} from '@simulator/testing/bench-harness';
import {foreignArm} from '@simulator/benches/alder';
import {ProblemError} from '../problem';
import {firmwareText, foundEsc} from '../bench/found';
import {makeWorkOrder} from './order/make-order';

const alder = demoCraft('alder');
const round = () => new Harness({craft: alder});
const claim = {board: 'Basalt 30', chip: 'M32', deadTimeNs: 30, serial: 'B30-6441', by: 'the bench hand', at: 1};

describe('a single-wire adapter', () => {
  it('reads six ESCs one at a time, in both dialects, and finds the foreign one', async () => {
    const found = await round().surveyRound();
    expect(found.road).toBe('single-wire');
    expect(found.controller).toBeUndefined();
    expect(found.escs.map((e) => e.boot.dialect).join('')).toBe('AABBAB');
    expect(found.escs.map(firmwareText)).toEqual([
      ...Array<string>(3).fill('Meridian 3.9'),
      'foreign firmware',
      ...Array<string>(2).fill('Meridian 3.9'),
    ]);
    expect(found.silent).toEqual([]);
  });

  it('knows which arms are still to come', async () => {
    const h = round();
    h.bench.clippedTo = 0;
    const found = await h.surveyArm(0);
    expect(found.silent.map((s) => [s.output, s.problem.code])).toEqual(
      [1, 2, 3, 4, 5].map((output) => [output, 'not-visited']),
    );
  });

  it('notices an arm that was read before', async () => {
    const h = round();
    h.bench.clippedTo = 0;
    const first = await h.surveyArm(0);
    const again = await h.surveyArm(1, first).catch((e: unknown) => e);
    expect((again as ProblemError).problem).toMatchObject({
      code: 'same-esc',
      place: 'arm 2',
      meaning: 'This is the ESC of arm 1, serial B30-6141, which was read before.',
    });
  });

  it('tells apart: not clipped or unpowered, no bootloader, and goes on with the rest', async () => {
    const h = new Harness({
      craft: alder,
      setup: (first) => ({
        ...first,
        escs: first.escs.map((e, i) =>
          i === 1 ? {...e, hardware: {...e.hardware, hasBootloader: false as const}} : e,
        ),
      }),
    });
    let found = await h.surveyArm(0);
    expect(foundEsc(found, 0)).toBeUndefined();
    expect(found.silent[0]!.problem).toMatchObject({
      code: 'no-power',
      meaning: 'The wire is silent: the adapter is not clipped to an ESC, or that ESC has no power.',
    });
    h.bench.clippedTo = 1;
    found = await h.surveyArm(1, found);
    expect(found.silent[1]!.problem).toMatchObject({
      code: 'no-bootloader',
      place: 'arm 2',
      meaning: 'It has power, but no bootloader answers, neither in dialect A nor in B.',
    });
    h.bench.clippedTo = 2;
    found = await h.surveyArm(2, found);
    expect(found.escs.map((e) => e.output)).toEqual([2]);
  });

  it('has no flight controller behind it, and says so', async () => {
    const h = round();
    const error = await h.run(h.client.request('controller.read', null)).catch((e: unknown) => e);
    expect((error as ProblemError).problem).toMatchObject({code: 'no-controller'});
  });

  it('an ESC nobody knows is left out until a person claims its board; then its image fits with care', async () => {
    const h = round();
    const before = await h.order();
    expect(before.leftOut.map((l) => [l.output, l.problem.code])).toEqual([[foreignArm, 'unknown-board']]);
    expect(before.steps.map((s) => s.id)).toEqual(['visit-0', 'visit-1', 'visit-2', 'visit-4', 'visit-5', 'cycle']);
    h.claims.set(claim.serial, claim);
    const order = await h.order();
    expect(order.leftOut).toEqual([]);
    expect(foundEsc(order.found, foreignArm)?.claim?.by).toBe('the bench hand');
    expect(order.steps.filter((s) => s.kind === 'visit')).toHaveLength(6);
  });

  it('a claim of another board gets no image of this one', async () => {
    const h = round();
    h.claims.set(claim.serial, {...claim, board: 'Basalt 30 L', deadTimeNs: 60});
    const found = await h.surveyRound();
    const image = shelf.find((r) => r.board === 'Basalt 30' && r.version === '4.2');
    const order = makeWorkOrder({id: 'x', at: 1, craft: alder, found, imageFor: () => image});
    expect(!order.ok && order.problem).toMatchObject({code: 'no-fit', place: 'motor 4'});
  });

  it('brings all six arms to the plan in one round, calibration kept', async () => {
    const h = round();
    h.claims.set(claim.serial, claim);
    const outcome = await h.carryOut(await h.order());
    if (outcome.kind !== 'finished') throw new Error(`${outcome.step.id}: ${outcome.problem.meaning}`);
    expect(outcome.found.escs.map(firmwareText)).toEqual(Array(6).fill('Meridian 4.2'));
    expect(outcome.found.escs.map((e) => e.settings?.values.throttleMin)).toEqual([1040, 1043, 1038, 1020, 1045, 1042]);
    expect((await h.order()).steps).toEqual([]);
  });

  it('waits for the right arm, and resumes the round where it stood', async () => {
    const h = round();
    const order = await h.order();
    h.time.after(60_000, () => h.bench.setBattery(false));
    expect((await h.carryOut(order)).kind).toBe('stopped');
    h.bench.setBattery(true);
    h.time.advanceTo(h.time.now() + 1000);
    const done = (await h.journal.entries(order.id)).filter((e) => e.event === 'done').map((e) => e.stepId);
    expect(done.length).toBeGreaterThan(0);
    expect((await h.carryOut(order)).kind).toBe('finished');
    const all = (await h.journal.entries(order.id)).filter((e) => e.event === 'done').map((e) => e.stepId);
    expect(all).toEqual(order.steps.map((s) => s.id));
  });
});

describe('a flight controller', () => {
  it('that is too old to pass through says so, with both ways on', async () => {
    const h = new Harness({craft: alder, setup: (first) => ({...first, road: 'controller'})});
    const found = await h.survey();
    expect(found.controller?.identity.version).toBe('2.0');
    expect(found.silent.map((s) => s.problem.code)).toEqual(Array(6).fill('no-pass-through'));
    expect(found.silent[0]!.problem).toMatchObject({
      meaning: 'The flight controller runs Plumb 2.0, which cannot pass through to ESCs; Plumb 2.2 can.',
      remedy: 'Update the flight controller, or reach the ESCs one at a time with a single-wire adapter.',
    });
  });

  it('one ESC that does not answer does not hide the other three', async () => {
    const h = new Harness();
    h.bench.escs[1]!.silent = true;
    const found = await h.survey();
    expect(found.escs.map((e) => e.output)).toEqual([0, 2, 3]);
    expect(found.silent).toMatchObject([
      {
        output: 1,
        problem: {code: 'no-answer', meaning: 'Motor 2 has power, but no bootloader answers in dialect A or B.'},
      },
    ]);
  });

  it('all ESCs are read side by side', async () => {
    const four = new Harness({craft: demoCraft('sorrel')});
    await four.survey();
    // 13 pages and the settings page of 512 B at 9600 baud: 7.5 s for one, and no more for four.
    expect(four.time.now()).toBeLessThan(9_500);
    expect(four.time.now()).toBeGreaterThan((14 * 512 * 10_000) / 9_600);
  });
});
