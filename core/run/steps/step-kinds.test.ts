/** Rules that every kind of step keeps to, asked of the registry and of the orders of all four demo craft. */
import {describe, expect, it} from 'vitest';
import {demoFleet} from '@demo/craft/fleet';
import {Harness, shelf} from '@simulator/testing/bench-harness';
import {makeRollBack} from '../order/make-order';
import {needsPropsOff, stepKinds} from './step-kinds';

describe.each(demoFleet.map((craft) => [craft.id, craft] as const))('the order of %s', (_id, craft) => {
  it('has steps of known kinds, in the order of the registry, each in its exact shape', async () => {
    const {steps} = await new Harness({craft}).order();
    expect(steps.length).toBeGreaterThan(0);
    const places = steps.map((step) => stepKinds.all.findIndex(({kind}) => kind === step.kind));
    expect(places).toEqual([...places].sort((a, b) => a - b));
    expect(places).not.toContain(-1);
    for (const step of steps) {
      const shape = stepKinds.of(step).shape.strict();
      expect(shape.safeParse(step)).toMatchObject({success: true});
      expect(shape.safeParse({...step, kind: 'other'}).success).toBe(false);
    }
  });

  it('touches only ESCs of the craft, and its controller', async () => {
    const {steps, found} = await new Harness({craft}).order();
    const places = new Set(
      steps.flatMap((step) =>
        stepKinds
          .of(step)
          .touches(step)
          .map(({at}) => at),
      ),
    );
    const allowed: (number | string)[] = [...found.escs.map((e) => e.output), 'controller'];
    expect([...places].filter((at) => !allowed.includes(at))).toEqual([]);
    expect(places.size).toBeGreaterThan(1);
  });
});

describe('an order and its roll-back', () => {
  it('touch the same firmware', async () => {
    const h = new Harness();
    const order = await h.order();
    const outcome = await h.carryOut(order);
    if (outcome.kind !== 'finished') throw new Error(outcome.problem.meaning);
    const back = makeRollBack({id: 'b', at: 4, craft: h.craft, order, found: outcome.found, supply: shelf.supply});
    if (!back.ok) throw new Error(back.problem.meaning);
    const firmware = ({steps}: typeof order) =>
      steps.flatMap((s) => stepKinds.of(s).touches(s)).filter(({of}) => of === 'firmware');
    expect(firmware(back.value)).toEqual(firmware(order));
    for (const step of back.value.steps)
      expect(stepKinds.of(step).shape.strict().safeParse(step)).toMatchObject({success: true});
  });
});

describe('the registry', () => {
  it('names every kind once', () => {
    const kinds = stepKinds.all.map(({kind}) => kind);
    expect(new Set(kinds).size).toBe(kinds.length);
  });

  it('propellers must be off before anything is written to an ESC, not before the flight controller alone is', async () => {
    const {steps} = await new Harness().order();
    const only = (...kinds: readonly string[]) => steps.filter((s) => kinds.includes(s.kind));
    for (const kind of ['write-firmware', 'set-parameters', 'prove-replies'])
      expect(needsPropsOff(only(kind)), kind).toBe(true);
    expect(needsPropsOff(only('snapshot', 'set-controller', 'cycle-battery'))).toBe(false);
  });
});
