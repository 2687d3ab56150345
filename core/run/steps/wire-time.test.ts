/** How long writing takes on the simulated wire against the limit that hardware.md sets, in virtual time. */
import {describe, expect, it} from 'vitest';
import {Harness, image42} from '@simulator/testing/bench-harness';
import {chips, eraseMs, writeMsPer128Bytes} from '../../firmware/chips';
import {planPages} from '../../firmware/plan/page-plan';
import {writePage} from '../../bench/esc-access';
import type {Step} from '../../order/steps';

const chip = chips.M32;
/** Bytes of the pages at ten bits each, plus the flash times: nothing can be faster. */
const limitMs = (pages: number) =>
  pages * ((chip.pageBytes * 10_000) / chip.wireBaud + eraseMs + (chip.pageBytes / 128) * writeMsPer128Bytes);

describe('time on the wire', () => {
  it('a full write of 41 pages stays within 1.10 of the limit', async () => {
    const h = new Harness();
    const wire = {client: h.client, wire: 0, name: 'motor 1'};
    await h.run(h.client.request('esc.enter', {output: 0}));
    const start = h.time.now();
    for (const page of planPages(chip, image42, []).toWrite) await h.run(writePage(wire, chip, page));
    expect((h.time.now() - start) / limitMs(41)).toBeLessThan(1.1);
  });

  it('an update with 17 of 41 pages different stays within 1.15, comparing included', async () => {
    const h = new Harness();
    const order = await h.order();
    const step: Step = order.steps.find((s) => s.id === 'write-0')!;
    const outcome = await h.carryOut({...order, steps: [step]});
    const [begin, done] = ['begin', 'done'].map((event) => h.journal.all.find((e) => e.event === event));
    expect([outcome.kind, begin?.stepId, done?.stepId]).toEqual(['finished', 'write-0', 'write-0']);
    const pages = h.wireMs.at(-1)!;
    expect(pages / limitMs(17)).toBeLessThan(1.15);
  });

  it('the estimate in the docket is honest: within 10 % of what it takes', async () => {
    const h = new Harness();
    const order = await h.order();
    const step = order.steps.find((s) => s.id === 'write-2')!;
    await h.carryOut({...order, steps: [step]});
    expect(h.wireMs.at(-1)! / step.estimateMs).toBeGreaterThan(0.9);
    expect(h.wireMs.at(-1)! / step.estimateMs).toBeLessThan(1.1);
  });
});
