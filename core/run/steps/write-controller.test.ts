/** The flight controller's own firmware, written in virtual time: whatever interrupts it, the loader stays and it goes on. */
import {converted} from '@simulator/hardware/controller/plumb-settings/converted';
import {drawnSettings} from '@simulator/hardware/controller/plumb-settings/drawn';
import {Random} from '@simulator/random';
import {surveyFindings} from '../../compare/survey-findings';
import {readSettings} from '../../controller/settings/board-settings';
import {describe, expect, it} from 'vitest';
import {demoCraft, Harness, shelf} from '@simulator/testing/bench-harness';
import {juniperController} from '@simulator/benches/juniper';
import type {Craft} from '../../craft/craft';
import {controllerBoardOf} from '../../order/controller-work';
import {makeWorkOrder} from '../order/make-order';
import type {Outcome} from '../runner';

const bramble = demoCraft('bramble');
const harness = (seed = 1) => new Harness({craft: bramble, seed, oldController: true});
const versionOf = (h: Harness) => h.bench.loader.firmware?.version;
const problemOf = (outcome: Outcome) => (outcome.kind === 'stopped' ? outcome.problem : undefined);
const withFirmware = (version: string, file?: string): Craft => ({
  ...bramble,
  plan: {...bramble.plan, controllerFirmware: {family: 'Plumb', version, ...(file && {file})}},
});

describe('a flight controller that cannot pass through', () => {
  it('is updated first and alone; its configuration is carried over, and then the ESCs answer', async () => {
    const h = harness();
    const found = await h.survey();
    expect(found.escs).toEqual([]);
    expect(found.silent.map((s) => s.problem.code)).toEqual(Array(4).fill('no-pass-through'));
    const order = await h.order({found});
    expect(order.steps.map((s) => s.kind)).toEqual([
      'snapshot',
      'write-controller',
      'set-controller',
      'carry-settings',
      'prove-settings',
    ]);
    const outcome = await h.carryOut(order);
    expect(problemOf(outcome)).toBeUndefined();
    expect(versionOf(h)).toBe('2.2');
    const {kept} = h.bench.controller;
    // What 2.0 had is there again, under its new names; what the plan says goes over it.
    expect(kept).toMatchObject({
      receiver: juniperController.receiver,
      failSafe: juniperController.failSafe,
      switches: [],
      movingNotches: bramble.plan.controller.movingNotches,
      notchHarmonics: [1, 2],
      replies: true,
    });
    if (outcome.kind === 'finished') expect(outcome.found.escs).toHaveLength(4);
    const next = await h.order();
    expect(next.steps.some((s) => s.kind === 'write-controller')).toBe(false);
    expect(next.steps.filter((s) => s.kind === 'write-firmware')).toHaveLength(8);
  });

  it('left out of its configuration, that stays as the firmware came', async () => {
    const h = harness();
    const order = await h.order({leaveSteps: ['set-controller']});
    expect((await h.carryOut(order)).kind).toBe('finished');
    expect(h.bench.controller.kept).toMatchObject({replies: false, receiver: {port: 1}});
  });
});

describe('everything else that a flight controller holds', () => {
  const set = drawnSettings('2.0', new Random(11), 0.7);
  const held = (h: Harness) => h.run(readSettings(h.client, 'now'));
  const expectConverted = async (h: Harness) => {
    const {values} = await held(h);
    for (const [key, value] of Object.entries(converted(set))) expect([key, values[key]]).toEqual([key, value]);
  };
  const withSettings = (seed = 1) =>
    new Harness({
      ...{craft: bramble, seed, oldController: true},
      setup: (first) => ({...first, controller: {...first.controller, settings: set}}),
    });

  it('is on the newer firmware as well, in its places, units and words, with an account of each', async () => {
    const h = withSettings();
    const order = await h.order();
    expect(order.found.controller!.settings!.entries.length).toBeGreaterThanOrEqual(148);
    expect(problemOf(await h.carryOut(order))).toBeUndefined();
    await expectConverted(h);
    const said = (await h.journal.entries(order.id)).find((e) => e.stepId === 'carry-settings' && e.event === 'done');
    expect(said?.text).toMatch(/^150 settings accounted for: \d+ kept, \d+ moved or renamed, 2 split, /);
    expect(said?.text).toContain('3 gone (gains.loop_kind, battery.sag_filter_hz, telemetry.inverted)');
    // Nothing is left to do, and another survey finds it so.
    expect((await h.order({id: 'next'})).steps.some((s) => s.kind === 'carry-settings')).toBe(false);
  });

  it.each([2_000, 9_000, 30_000, 60_000, 75_000, 90_000])(
    'survives a cable that is out after %d bytes',
    async (bytes) => {
      const h = withSettings();
      const order = await h.order();
      h.bench.mishaps.afterBytes(bytes, () => h.bench.detach());
      await h.carryOut(order);
      h.connect();
      expect(problemOf(await h.carryOut(order))).toBeUndefined();
      await expectConverted(h);
    },
  );

  it('that was not read keeps new firmware off the board', async () => {
    const h = withSettings();
    h.bench.mishaps.longest = 400;
    const found = await h.survey();
    expect(found.controller).toMatchObject({unread: 'settings'});
    expect(surveyFindings(bramble, found).map((f) => f.word)).toContain('not read');
    await expect(h.order({found})).rejects.toThrow('Not everything that it holds was read');
  });

  it('in a memory that is worn, the order stops and says which', async () => {
    const h = withSettings();
    const order = await h.order();
    const host = h.host();
    const outcome = await h.carryOutWith(order, {
      ...host,
      onProgress: (p) => {
        if (p.stepId === 'carry-settings') h.bench.controller.worn = true;
        host.onProgress(p);
      },
    });
    expect(problemOf(outcome)).toMatchObject({code: 'controller-check', place: 'flight controller'});
    expect(problemOf(outcome)?.meaning).toContain('rates.roll_centre');
  });
});

describe('interrupted', () => {
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('at a random byte (%d): the loader stays, and the order goes on', async (seed) => {
    const h = harness(seed);
    const order = await h.order();
    h.bench.mishaps.afterBytes(1_000 + ((seed * 7919) % 42_000), () => h.bench.detach());
    const outcome = await h.carryOut(order);
    expect(problemOf(outcome)?.code).toBe('cable-out');
    // Nothing half-written is ever started.
    expect(h.bench.loader.isActive || versionOf(h) !== undefined).toBe(true);
    h.connect();
    const after = await h.carryOut(order);
    expect(problemOf(after)).toBeUndefined();
    expect(versionOf(h)).toBe('2.2');
    expect(h.bench.controller.kept).toMatchObject({receiver: juniperController.receiver, replies: true});
  });

  it('a survey meanwhile says that it is in its loader, and a new order writes it', async () => {
    const h = harness();
    const order = await h.order();
    h.bench.mishaps.afterBytes(30_000, () => h.bench.detach());
    await h.carryOut(order);
    h.connect();
    const found = await h.survey();
    expect(found).toMatchObject({escs: [], controller: undefined, loader: {board: 'Slate F', applicationValid: false}});
    expect(found.silent[0]!.problem.code).toBe('in-loader');
    const fresh = await h.order({found, id: 'order-2'});
    expect(fresh.steps.map((s) => s.kind)).toContain('write-controller');
    expect(problemOf(await h.carryOut(fresh))).toBeUndefined();
    expect(versionOf(h)).toBe('2.2');
  });

  it('a hub that drops long transfers is named, and without it the order goes on', async () => {
    const h = harness();
    const order = await h.order();
    h.bench.mishaps.longest = 400;
    const outcome = await h.carryOut(order);
    expect(problemOf(outcome)).toMatchObject({code: 'long-transfers', place: 'USB hub'});
    expect(h.bench.loader.isActive).toBe(true);
    h.bench.mishaps.longest = Infinity;
    expect(problemOf(await h.carryOut(order))).toBeUndefined();
  });

  it('stopped by a person between two blocks it says so, and resumes', async () => {
    const h = harness();
    const order = await h.order();
    const host = h.host();
    const stops = {
      ...host,
      onProgress: (p: Parameters<typeof host.onProgress>[0]) => {
        host.onProgress(p);
        if (p.text.includes('block 20 of')) h.cancel.aborted = true;
      },
    };
    expect(problemOf(await h.carryOutWith(order, stops))?.code).toBe('stopped-by-person');
    h.cancel.aborted = false;
    expect(problemOf(await h.carryOut(order))).toBeUndefined();
  });
});

describe('refused', () => {
  const orderFor = async (craft: Craft, image: ReturnType<typeof shelf.controllerImage>) => {
    const h = new Harness({craft, oldController: true});
    const found = await h.survey();
    return makeWorkOrder({id: 'x', at: 1, craft, found, imageFor: shelf.imageFor(craft), controllerImage: image});
  };
  it('firmware of another board, withdrawn firmware, and none at hand', async () => {
    const other = {...shelf.controllerImage(bramble, 'Slate C')!};
    expect(await orderFor(bramble, other)).toMatchObject({
      ok: false,
      problem: {code: 'no-fit', meaning: expect.stringContaining('is for Slate C')},
    });
    expect(await orderFor(withFirmware('2.1'), shelf.controllerImage(withFirmware('2.1'), 'Slate F'))).toMatchObject({
      ok: false,
      problem: {meaning: 'It was withdrawn.'},
    });
    expect(await orderFor(bramble, undefined)).toMatchObject({ok: false, problem: {code: 'no-image'}});
  });

  it('by the loader itself: an image for another board is not started, blocks out of order are an error', async () => {
    const h = harness();
    const other = shelf.controllerImage(bramble, 'Chalk 5')!.image.segments[0]!.bytes;
    const ask = (block: number, bytes: Uint8Array) => h.run(h.client.request('loader.download', {block, bytes}));
    await expect(ask(0, other.slice(0, 1024))).rejects.toMatchObject({problem: {code: 'not-in-loader'}});
    await h.run(h.client.request('loader.enter', null));
    for (let at = 0; at < other.length; at += 1024) await ask(at / 1024, other.slice(at, at + 1024));
    await expect(h.run(h.client.request('loader.leave', null))).rejects.toMatchObject({
      problem: {code: 'wrong-target'},
    });
    await h.run(h.client.request('loader.clear', null));
    await ask(0, other.slice(0, 1024));
    await expect(ask(5, other.slice(0, 1024))).rejects.toMatchObject({problem: {code: 'loader-error'}});
    expect(await h.run(h.client.request('loader.state', null))).toMatchObject({state: 'dfuERROR', fault: 'errADDRESS'});
    await expect(ask(0, other.slice(0, 1024))).rejects.toMatchObject({problem: {code: 'loader-error'}});
    await expect(h.run(h.client.request('controller.read', null))).rejects.toMatchObject({
      problem: {code: 'in-loader'},
    });
  });
});

describe('a flight controller that passes through', () => {
  it('gets other firmware after its ESCs, just before it is set', async () => {
    const juniper = demoCraft('juniper');
    const craft: Craft = {
      ...juniper,
      plan: {...juniper.plan, controllerFirmware: {family: 'Plumb', version: '2.3-b1'}},
    };
    const h = new Harness({craft});
    const kinds = (await h.order()).steps.map((s) => s.kind);
    expect(kinds.indexOf('write-controller')).toBeGreaterThan(kinds.lastIndexOf('write-firmware'));
    expect(kinds[kinds.indexOf('write-controller') + 1]).toBe('set-controller');
    const order = await h.order();
    expect(problemOf(await h.carryOut(order))).toBeUndefined();
    expect(versionOf(h)).toBe('2.3-b1');
  });
});

describe('a board that does not tell which it is', () => {
  const strange = (claimed?: string) => {
    const controllerClaim = claimed === undefined ? undefined : {board: claimed, by: 'bench hand', at: 1};
    const h = new Harness({craft: {...bramble, controllerClaim}, oldController: true});
    h.bench.board.loader.holdStranger(new Random(5));
    return h;
  };
  const orderOf = async (h: Harness) => {
    const found = await h.survey();
    const board = controllerBoardOf(found, h.craft)?.board;
    const controllerImage = board === undefined ? undefined : shelf.controllerImage(h.craft, board);
    return makeWorkOrder({
      ...{id: 'order-1', at: 2, craft: h.craft, found, imageFor: shelf.imageFor(h.craft), controllerImage},
    });
  };

  it('is refused until a person names it', async () => {
    const h = strange();
    expect((await h.survey()).loader).toMatchObject({board: '', applicationValid: false});
    expect(await orderOf(h)).toMatchObject({ok: false, problem: {code: 'unknown-board', place: 'flight controller'}});
  });

  it('named rightly it is written, and tells itself again', async () => {
    const h = strange('Slate F');
    const order = await orderOf(h);
    if (!order.ok) throw new Error(order.problem.meaning);
    expect(order.value.steps.find((s) => s.kind === 'write-controller')).toMatchObject({claimed: true});
    const outcome = await h.carryOut(order.value);
    expect(problemOf(outcome)).toBeUndefined();
    expect(versionOf(h)).toBe('2.2');
  });

  it('named wrongly, with another chip: refused before anything is written', async () => {
    const h = strange('Chalk 5');
    const before = h.bench.loader.application.slice();
    expect(await orderOf(h)).toMatchObject({ok: false, problem: {code: 'no-fit'}});
    expect(h.bench.loader.application).toEqual(before);
  });
});
