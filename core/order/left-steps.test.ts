/** Steps that a person leaves out of an order: the rest is carried out and proven, and the left ones stay open. */
import {describe, expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import {findDifferences} from '../compare/difference';
import type {StepKind} from './steps';

async function carryOutWithout(leaveSteps: readonly StepKind[]) {
  const h = new Harness();
  const before = await h.survey();
  const order = await h.order({found: before, leaveSteps});
  const outcome = await h.carryOut(order);
  if (outcome.kind !== 'finished') throw new Error(outcome.problem.meaning);
  return {h, order, before, now: await h.survey(), kinds: [...new Set(order.steps.map((s) => s.kind))]};
}

describe('an order without', () => {
  it('writing firmware sets parameters in the layout that is there, and proves no pages nor replies', async () => {
    const {order, now, kinds, h} = await carryOutWithout(['write-firmware']);
    expect(order.leftSteps).toEqual(['write-firmware']);
    expect(kinds).toEqual(['snapshot', 'set-parameters', 'set-controller', 'prove-settings']);
    expect(now.escs.map((e) => [e.settings?.layout, e.settings?.values.timing])).toEqual([
      [6, 22.5],
      [6, 22.5],
      [5, 22.5],
      [6, 22.5],
    ]);
    expect(findDifferences(h.craft.plan, now).firmware).toHaveLength(4);
  });

  it('setting parameters still carries every value over to the new layout', async () => {
    const {before, now, order} = await carryOutWithout(['set-parameters', 'prove-replies']);
    expect(order.leftSteps).toEqual(['set-parameters', 'prove-replies']);
    for (const {output, settings} of now.escs) {
      const old = before.escs[output]!.settings!.values;
      expect(settings?.layout).toBe(8);
      expect(settings?.values).toMatchObject(old);
    }
  });

  it('the flight controller leaves it as it was, and proves no replies it does not ask for', async () => {
    const {before, now, kinds} = await carryOutWithout(['set-controller']);
    expect(now.controller?.config).toEqual(before.controller?.config);
    expect(kinds).not.toContain('prove-replies');
    expect(kinds).toContain('prove-pages');
  });

  it('writing firmware needs no image: parameters can be set while the shelf is empty', async () => {
    const h = new Harness();
    const found = await h.survey();
    const order = await h.order({found, imageFor: () => undefined, leaveSteps: ['write-firmware']});
    expect(order.steps.map((s) => s.kind)).toContain('set-parameters');
    await expect(h.order({found, imageFor: () => undefined})).rejects.toThrow('is not at hand');
  });

  it('everything has no steps, and lists what was left', async () => {
    const h = new Harness();
    const all: StepKind[] = ['write-firmware', 'set-parameters', 'set-controller', 'prove-replies'];
    const order = await h.order({leaveSteps: all});
    expect(order.steps).toEqual([]);
    expect(order.leftSteps).toEqual(all);
  });

  it('a kind it would not have had does not list it', async () => {
    const h = new Harness();
    const craft = {...h.craft, plan: {...h.craft.plan, controller: {...h.craft.plan.controller, replies: false}}};
    expect((await h.order({craft, leaveSteps: ['prove-replies']})).leftSteps).toEqual([]);
  });
});
