/** Fields that the flight controller locks: the order waits until a person unlocks them, and sets nothing before. */
import type {SettingValues} from '../../link/setting-shapes';
import {describe, expect, it} from 'vitest';
import {Harness, demoCraft} from '@simulator/testing/bench-harness';
import type {Craft} from '../../craft/craft';
import type {ControllerPlan} from '../../controller/plan';
import {lockNote} from '../../controller/locks';
import type {Progress} from '../run-context';
import type {Outcome} from '../runner';

const craftWith = (controller: Partial<ControllerPlan>): Craft => {
  const craft = demoCraft('juniper');
  return {...craft, plan: {...craft.plan, controller: {...craft.plan.controller, ...controller}}};
};
const problemOf = (outcome: Outcome) => (outcome.kind === 'stopped' ? outcome.problem : undefined);
const arms = [1, 0, 2, 3];
const failSafe = {action: 'drop', afterMs: 600} as const;

/** Carries an order out with a person who obeys so late, ms, and undoes it again. */
async function carried(h: Harness, obeysAfterMs = 700) {
  const asked: Progress[] = [];
  let busy = false;
  const host = h.host();
  const outcome = await h.carryOutWith(await h.order({leaveSteps: ['prove-replies']}), {
    ...host,
    onProgress(p) {
      if (p.stepId !== 'controller' || !p.waitsFor) return host.onProgress(p);
      if (p.text !== asked.at(-1)?.text) asked.push(p);
      if (busy) return;
      busy = true;
      h.time.after(obeysAfterMs, () => {
        if (p.waitsFor === 'battery-off') h.bench.setBattery(false);
        if (p.waitsFor === 'battery') h.bench.setBattery(true);
        if (p.waitsFor === 'transmitter') h.bench.cockpit.transmitter.on = false;
        busy = false;
      });
    },
  });
  return {asked, outcome};
}

describe('a locked field', () => {
  it('is told before: why, and what unlocks it', async () => {
    const h = new Harness({craft: craftWith({arms, failSafe})});
    const found = await h.survey();
    expect(lockNote('arms', found.controller?.locks)).toBe(
      'locked while the battery is in; the work order waits until it is off',
    );
    expect(lockNote('failSafe', found.controller?.locks)).toMatch(/^locked while a transmitter is connected;/);
    expect(lockNote('poles', found.controller?.locks)).toBe('');
    const step = (await h.order()).steps.find((s) => s.kind === 'set-controller');
    expect(step).toMatchObject({
      changes: expect.arrayContaining([
        expect.objectContaining({note: lockNote('arms', found.controller?.locks)}),
      ]) as unknown,
    });
  });

  it('is refused by the flight controller itself, and nothing of that request is set', async () => {
    const h = new Harness();
    await h.run(h.client.hello());
    const before = h.bench.controller.pending;
    const refused = await h.run(h.client.request('controller.set', {poles: 10, arms}).catch((e: unknown) => e));
    expect(refused).toMatchObject({problem: {code: 'locked'}});
    expect(h.bench.controller.pending).toEqual(before);
    // The value that it has is no change.
    await h.run(h.client.request('controller.set', {poles: 10, arms: [...before.arms]}));
    expect(h.bench.controller.pending.poles).toBe(10);
  });

  it.each([
    ['with the battery in', {arms}, [/^Take the battery off: Arm of each output is locked/, /^Set\. Now connect/]],
    ['with a transmitter on', {failSafe}, [/^Switch the transmitter off: Fail-safe is locked/]],
    [
      'with both',
      {arms, failSafe},
      [/^Take the battery off/, /^Switch the transmitter off/, /^Set\. Now connect the battery again/],
    ],
  ])('%s is waited for, set, and everything after it goes on', async (_, controller, texts) => {
    const h = new Harness({craft: craftWith(controller)});
    const {asked, outcome} = await carried(h);
    expect(outcome.kind).toBe('finished');
    expect(asked.map((p) => p.text)).toEqual(texts.map((t) => expect.stringMatching(t) as unknown));
    expect(h.bench.controller.kept).toMatchObject(controller);
    expect(h.bench.isBatteryOn).toBe(true);
  });

  it('while motors turn, nothing at all can be set', async () => {
    const h = new Harness();
    await h.run(h.client.hello());
    const spin = {hold: 1, sentMs: h.time.now(), leaseMs: 200, commands: []};
    await h.run(h.client.request('spin', spin));
    const refused = await h.run(h.client.request('controller.set', {poles: 10}).catch((e: unknown) => e));
    expect(refused).toMatchObject({problem: {code: 'locked', meaning: expect.stringContaining('armed') as string}});
  });

  it('that nobody unlocks can be left: stopped, nothing set', async () => {
    const h = new Harness({craft: craftWith({arms})});
    const order = await h.order({leaveSteps: ['prove-replies', 'write-firmware']});
    const before = h.bench.controller.kept;
    const outcome = await h.carryOutWith(order, {
      ...h.host(),
      onProgress: (p) => {
        if (p.stepId === 'controller' && p.waitsFor) h.cancel.aborted = true;
      },
    });
    expect(problemOf(outcome)).toMatchObject({code: 'stopped-by-person'});
    expect(h.bench.controller.kept).toEqual(before);
  });
});

describe('a raised clock', () => {
  const raised = (clockMhz: number, highestMhz?: number, settings?: SettingValues) =>
    new Harness({
      craft: craftWith({clockMhz}),
      setup: (first) => ({...first, controller: {...first.controller, settings, ...(highestMhz && {highestMhz})}}),
    });

  it('that holds is set, and the account says that the board speaks over USB', async () => {
    const h = raised(240);
    const {outcome} = await carried(h);
    expect(outcome.kind).toBe('finished');
    expect(h.bench.controller.clockMhz).toBe(240);
    expect(h.journal.all.some((e) => /Set to 240 MHz, it came back and speaks over USB/.test(e.text))).toBe(true);
    const tasks = await h.run(h.client.request('tasks.read', null));
    // Cycles of the model over MHz.
    expect(tasks.find((t) => t.name === 'loop')!.us / (3000 / 240)).toBeCloseTo(1, 1);
  });

  it('for the time without USB alone is refused before the board is set to that, and leaves it within reach after', async () => {
    await expect(raised(228).order()).rejects.toThrow('has no 48 MHz for USB');
    const h = raised(228, 220, {'loop.raised_clock': 'only without USB'});
    const order = await h.order();
    expect((await h.carryOut(order)).kind).toBe('finished');
    expect([h.bench.controller.kept.clockMhz, h.bench.controller.clockMhz, h.bench.board.isSilent]).toEqual([
      228,
      216,
      false,
    ]);
  });

  it('at which nothing runs: the board is gone, the way back is told and works', async () => {
    const h = raised(264, 250);
    const {outcome} = await carried(h);
    expect(problemOf(outcome)).toMatchObject({
      code: 'clock-too-high',
      remedy: expect.stringMatching(/button held or its pads bridged/) as string,
    });
    expect(h.bench.board.isSilent).toBe(true);
    h.bench.detach();
    h.bench.board.powerUp(true);
    expect(h.bench.controller.kept.clockMhz).toBe(0);
    h.bench.board.powerUp();
    expect(h.bench.board.isSilent).toBe(false);
  });
});
