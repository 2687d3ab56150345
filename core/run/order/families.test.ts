/** Sorrel's K8 with its PWM builds, and Bramble's two images on one ESC. */
import {describe, expect, it} from 'vitest';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {chips} from '../../firmware/chips';
import type {Craft} from '../../craft/craft';
import {firmwareText, hasReplies} from '../../bench/found';

const sorrel = demoCraft('sorrel');
const bramble = demoCraft('bramble');
const limitMs = (pages: number) => pages * (2 * ((chips.K8.pageBytes * 10_000) / chips.K8.wireBaud) + 28);

describe('Sorrel, 8-bit, PWM frequency chosen with the image', () => {
  it('goes from Cadence 1.6 to the planned 48 kHz build of 2.1, replies proven at DShot300', async () => {
    const h = new Harness({craft: sorrel});
    const outcome = await h.carryOut(await h.order());
    if (outcome.kind !== 'finished') throw new Error(`${outcome.step.id}: ${outcome.problem.meaning}`);
    expect(outcome.found.escs.map(firmwareText)).toEqual(Array(4).fill('Cadence 2.1, 48 kHz'));
    expect(outcome.found.controller?.config.poles).toBe(12);
    expect(outcome.proofs.every((p) => p.holds)).toBe(true);
  });

  it('another PWM build of the same version is a difference, and writes only what differs', async () => {
    const h = new Harness({craft: sorrel});
    await h.carryOut(await h.order());
    const faster: Craft = {...sorrel, plan: {...sorrel.plan, firmware: {...sorrel.plan.firmware, pwmKhz: 96}}};
    const order = await h.order({craft: faster});
    expect(order.steps.flatMap((s) => (s.kind === 'write-firmware' ? [[s.pages, s.equal]] : []))).toEqual(
      Array(4).fill([5, 8]),
    );
  });

  it('a full K8 written and read back takes 15 to 30 s (hardware.md), within 1.15 of the limit', async () => {
    const h = new Harness({craft: sorrel});
    const order = await h.order({rewrite: [0]});
    const write = order.steps.find((s) => s.id === 'write-0')!;
    await h.carryOut({...order, steps: [write]});
    expect(h.wireMs[0]! / 1000).toBeGreaterThan(14.4);
    expect(h.wireMs[0]! / 1000).toBeLessThan(30);
    expect(h.wireMs[0]! / limitMs(13)).toBeLessThan(1.15);
  });
});

describe('Bramble, two images on one ESC', () => {
  it('writes base first and module second, each in its own region', async () => {
    const h = new Harness({craft: bramble});
    const order = await h.order();
    const writes = order.steps.flatMap((s) => (s.kind === 'write-firmware' ? [`${s.target.output} ${s.part}`] : []));
    expect(writes.slice(0, 4)).toEqual(['0 base', '0 module', '1 base', '1 module']);
    const outcome = await h.carryOut(order);
    if (outcome.kind !== 'finished') throw new Error(`${outcome.step.id}: ${outcome.problem.meaning}`);
    expect(outcome.found.escs.map(firmwareText)).toEqual(Array(4).fill('Meridian 3.9 + reply module 1.1'));
    expect(outcome.found.escs.every(hasReplies)).toBe(true);
    expect(outcome.proofs.find((p) => p.kind === 'replies')?.text).toMatch(
      /^none of [\d,]+ replies lost at idle, 30 %, 60 %/,
    );
  });

  it('re-writing the base takes the module away, the order says so and puts it back', async () => {
    const h = new Harness({craft: bramble});
    await h.carryOut(await h.order());
    const order = await h.order({rewrite: [2], id: 'again'});
    const notes = order.steps.flatMap((s) => (s.kind === 'write-firmware' ? [s.note] : []));
    expect(notes[0]).toBe('motor 3: 41 pages, all written again; takes the reply module away');
    expect(notes).toHaveLength(2);
    expect((await h.carryOut(order)).kind).toBe('finished');
    expect(h.bench.escs[2]!.module?.version).toBe('1.1');
  });

  it('a plan without the module clears it by writing the identity page', async () => {
    const h = new Harness({craft: bramble});
    await h.carryOut(await h.order());
    const {controller} = bramble.plan;
    const plain: Craft = {
      ...bramble,
      plan: {
        ...bramble.plan,
        firmware: {family: 'Meridian', version: '3.9'},
        controller: {...controller, replies: false},
      },
    };
    const order = await h.order({craft: plain, id: 'plain'});
    expect(order.steps.flatMap((s) => (s.kind === 'write-firmware' ? [s.pages] : []))).toEqual([1, 1, 1, 1]);
    expect((await h.carryOut(order)).kind).toBe('finished');
    expect(h.bench.escs.map((e) => e.module)).toEqual(Array(4).fill(undefined));
  });

  it('a module without a fitting base is refused, and so is 4.2 for the old bootloader', async () => {
    const h = new Harness({craft: bramble});
    const plan = (firmware: Craft['plan']['firmware']) => ({...bramble, plan: {...bramble.plan, firmware}});
    const newer = plan({family: 'Meridian', version: '4.2', module: '1.1'});
    await expect(h.order({craft: newer})).rejects.toThrow(
      'This ESC has bootloader revision 2; 4.2 requires 3 or newer. It could not start it.',
    );
    const older = plan({family: 'Meridian', version: '3.7', module: '1.1'});
    await expect(h.order({craft: older})).rejects.toThrow(
      'The module needs Meridian 3.8 to 3.9; the base is Meridian 3.7.',
    );
  });
});
