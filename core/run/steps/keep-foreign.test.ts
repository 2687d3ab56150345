/** Firmware of others: read out before it goes, put back by a roll-back or by plan, to the ESC it came from alone. */
import {describe, expect, it} from 'vitest';
import {Harness, demoCraft} from '@simulator/testing/bench-harness';
import {foreignArm} from '@simulator/benches/alder';
import {Random} from '@simulator/random';
import {chips} from '../../firmware/chips';
import {crc32} from '../../checksums';
import {foundEsc, isForeign} from '../../bench/found';
import type {Craft} from '../../craft/craft';
import {withOwnFirmware, wantedFirmware} from '../../craft/motor-firmware';
import {isPlannedBack, planBack} from '../../firmware/plan/kept-application';
import {plannedImage} from '../../firmware/plan/planned-image';
import {fitOf} from '../../compare/esc-firmware';
import {makeRollBack, makeWorkOrder} from '../order/make-order';

const {application, settings} = chips.M32;
const serial = 'G45-2017';

/** Juniper, whose first ESC came with somebody else's firmware and settings of its own kind. */
function withForeign() {
  const foreign = new Random(77).bytes(application.end - application.start);
  const h = new Harness({
    setup: (first) => ({
      ...first,
      escs: first.escs.map((esc, output) => {
        if (output > 0) return esc;
        const flash = esc.flash.slice();
        flash.set(foreign, application.start);
        flash.set(new Random(5).bytes(48), settings.start);
        return {...esc, flash, hardware: {...esc.hardware, foreignCrc32: crc32(foreign)}};
      }),
    }),
  });
  h.claims.set(serial, {serial, board: 'Gneiss 45', chip: 'M32', deadTimeNs: 45, by: 'the bench hand', at: 1});
  const page = h.bench.escs[0]!.flash.read(settings.start, 1024);
  const now = () => h.bench.escs[0]!.flash.read(application.start, foreign.length);
  return {h, foreign, page, now};
}

describe('firmware of others', () => {
  it('is read out whole before its first page goes, and the order says so', async () => {
    const {h, foreign, page} = withForeign();
    const order = await h.order({leaveSteps: ['prove-replies']});
    expect(isForeign(order.found.escs[0]!)).toBe(true);
    expect(order.steps.find((s) => s.id === 'write-0')?.note).toContain('read and kept first');
    expect((await h.carryOut(order)).kind).toBe('finished');
    expect(h.applications.all).toHaveLength(1);
    expect(h.applications.all[0]).toMatchObject({serial, output: 0, bytes: foreign, settingsPage: page});
    const own = (await h.journal.entries(order.id)).filter((e) => e.stepId === 'write-0').map((e) => e.event);
    expect(own.slice(0, 3)).toEqual(['begin', 'kept', 'page']);
  });

  it('is not touched where it cannot be kept', async () => {
    const {h, foreign, now} = withForeign();
    const order = await h.order({leaveSteps: ['prove-replies']});
    const full = () => Promise.reject(new Error('The store is full.'));
    await expect(h.carryOutWith(order, {...h.host(), keepApplication: full})).rejects.toThrow('full');
    expect(now()).toEqual(foreign);
  });

  it('survives the battery pulled while it is read, and while it is replaced: once read, it is not read again', async () => {
    const {h, foreign, now} = withForeign();
    const order = await h.order({leaveSteps: ['prove-replies']});
    const pull = async (afterMs: number) => {
      h.time.after(afterMs, () => h.bench.setBattery(false));
      expect((await h.carryOut(order)).kind).toBe('stopped');
      h.bench.setBattery(true);
      h.time.advanceTo(h.time.now() + 1000);
    };
    await pull(12_000);
    expect(now()).toEqual(foreign);
    expect(h.applications.all).toHaveLength(0);
    await pull(45_000);
    expect((await h.carryOut(order)).kind).toBe('finished');
    expect(h.applications.all.map((kept) => kept.bytes)).toEqual([foreign]);
  });

  it('comes back with its settings by the roll-back', async () => {
    const {h, foreign, page, now} = withForeign();
    const order = await h.order({leaveSteps: ['prove-replies']});
    await h.carryOut(order);
    const found = await h.survey();
    const back = makeRollBack({...{id: 'back', at: 2, craft: h.craft, order, found}, supply: h.applications.supply});
    if (!back.ok) throw new Error(back.problem.meaning);
    expect(back.value.leftOut).toEqual([]);
    expect((await h.carryOut(back.value)).kind).toBe('finished');
    expect(now()).toEqual(foreign);
    expect(h.bench.escs[0]!.flash.read(settings.start, 1024)).toEqual(page);
    expect(isForeign((await h.survey()).escs[0]!)).toBe(true);
  });

  it('is planned back for its motor, byte for byte, and for no other', async () => {
    const {h, foreign, page, now} = withForeign();
    await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
    const found = await h.survey();
    const {supply} = h.applications;
    const imageFor = (craft: Craft) => (on: {output: number; hardware: {board: string}}, part: 'base' | 'module') =>
      plannedImage(supply, wantedFirmware(craft, on.output), {board: on.hardware.board, part});
    const plannedOn = (motor: number): Craft => ({
      ...h.craft,
      plan: withOwnFirmware(h.craft.plan, motor, planBack(`kept of ${serial}`)),
    });
    const wrong = plannedOn(1);
    const refused = makeWorkOrder({id: 'x', at: 3, craft: wrong, found, imageFor: imageFor(wrong)});
    expect(!refused.ok && refused.problem).toMatchObject({
      ...{code: 'no-fit', place: 'motor 2'},
      meaning: expect.stringContaining('may go back to the ESC it came from alone'),
    });
    const craft = plannedOn(0);
    const order = makeWorkOrder({
      id: 'y',
      at: 3,
      craft,
      found,
      imageFor: imageFor(craft),
      leaveSteps: ['prove-replies'],
    });
    if (!order.ok) throw new Error(order.problem.meaning);
    expect((await h.carryOut(order.value)).kind).toBe('finished');
    expect(now()).toEqual(foreign);
    expect(h.bench.escs[0]!.flash.read(settings.start, 1024)).toEqual(page);
    // Nothing is left to do for it.
    const again = makeWorkOrder({id: 'z', at: 4, craft, found: await h.survey(), imageFor: imageFor(craft)});
    expect(again.ok && again.value.steps).toEqual([]);
  });

  it('fits by where it came from, and is asked for nothing else', async () => {
    const {h} = withForeign();
    await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
    const found = await h.survey();
    const [file] = h.applications.supply.files;
    const planned = {...file!, image: h.applications.image(file!.sha256), standing: undefined};
    const fit = (output: number) => fitOf({craft: h.craft, found, esc: found.escs[output]!, planned, part: 'base'});
    expect(fit(0)).toMatchObject({verdict: 'fits', reasons: [{check: 'flash'}, {check: 'back', verdict: 'holds'}]});
    expect(fit(1).verdict).toBe('refused');
    expect([isPlannedBack(planBack('x')), isPlannedBack(h.craft.plan.firmware)]).toEqual([true, false]);
  });

  it('is kept on an adapter too, arm by arm', async () => {
    const alder = demoCraft('alder');
    const h = new Harness({craft: alder, setup: (first) => first});
    const of = 'B30-6441';
    h.claims.set(of, {serial: of, board: 'Basalt 30', chip: 'M32', deadTimeNs: 30, by: 'the bench hand', at: 1});
    const flash = h.bench.escs[foreignArm]!.flash;
    const before = flash.read(application.start, application.end - application.start);
    const order = await h.order();
    expect((await h.carryOut(order)).kind).toBe('finished');
    expect(h.applications.all.map(({serial: s, bytes}) => [s, bytes])).toEqual([[of, before]]);
    expect(foundEsc(await h.surveyRound(), foreignArm)?.identity?.version).toBe('4.2');
  });
});
