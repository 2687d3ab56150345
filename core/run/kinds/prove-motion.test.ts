/** A small change of a proven craft is proven again in its own order, under the hold that proves the replies. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import type {Craft} from '../../craft/craft';
import {same} from '../../craft/presets/preset';
import {measuredBefore} from '../../proof/standing';
import {provenRecord} from '../../testing/question-of';
import {standings} from '../../route/standings';
import type {RunnerHost} from '../runner';
import {needsPropsOff} from '../steps/step-kinds';

const kinds = (steps: readonly {readonly kind: string}[]) => steps.map(({kind}) => kind);
const withTiming = (timing: number): Craft => ({
  ...juniper,
  plan: {...juniper.plan, parameters: {...juniper.plan.parameters, timing: same(timing)}},
});
const stands = [{kind: 'motion', isLost: false}] as const;
const lost = [{kind: 'motion', isLost: true}] as const;

async function planned(): Promise<Harness> {
  const h = new Harness();
  const outcome = await h.carryOut(await h.order());
  if (outcome.kind !== 'finished') throw new Error(outcome.problem.meaning);
  return h;
}

describe('motion that was measured', () => {
  it('is measured again where an order writes what it rests on, after the replies, and holds', async () => {
    const h = await planned();
    const craft = withTiming(15);
    const order = await h.order({id: 'small', craft, measured: stands});
    expect(kinds(order.steps)).toEqual([
      'snapshot',
      'set-parameters',
      'prove-pages',
      'prove-settings',
      'prove-replies',
      'prove-motion',
    ]);
    const outcome = await h.carryOutWith(order, {...h.host(), craft});
    if (outcome.kind !== 'finished') throw new Error(`${outcome.step.id}: ${outcome.problem.meaning}`);
    expect(outcome.proofs.map(({kind, holds}) => [kind, holds])).toEqual([
      ['pages', true],
      ['settings', true],
      ['replies', true],
      ['motion', true],
    ]);
    const motion = outcome.proofs.at(-1)!;
    expect(motion.on.map(({serial}) => serial)).toEqual(h.bench.escs.map((e) => e.hardware.serial));
    // The label of the demo's motors says 1750 rpm/V.
    expect(motion.text).toMatch(/KV 1[78]\d\d to 1[78]\d\d rpm\/V beside 1750/);
  });

  it('is left alone where it was never measured, is skipped, or rests on nothing that is written', async () => {
    const h = await planned();
    const craft = withTiming(15);
    expect(kinds((await h.order({craft})).steps)).not.toContain('prove-motion');
    const skipped = await h.order({craft, measured: stands, leaveSteps: ['prove-motion']});
    expect(kinds(skipped.steps)).not.toContain('prove-motion');
    expect(skipped.leftSteps).toEqual(['prove-motion']);
    const {controller} = juniper.plan;
    const filters = {
      ...juniper,
      plan: {...juniper.plan, controller: {...controller, notchMinHz: controller.notchMinHz + 10}},
    };
    expect(kinds((await h.order({craft: filters, measured: stands})).steps)).not.toContain('prove-motion');
    // Lost already, by something that no order writes: any order brings it back.
    expect(kinds((await h.order({craft: filters, measured: lost})).steps)).toContain('prove-motion');
    expect(kinds((await h.order({measured: lost})).steps)).toEqual([]);
  });

  it('is judged by what its motors do: a reply from another motor is no proof, and the order stops there', async () => {
    const h = await planned();
    const craft = withTiming(15);
    const order = await h.order({id: 'small', craft, measured: stands});
    const real = h.host();
    const host: RunnerHost = {
      ...{...real, craft},
      // Replies of motors 2 and 3 are swapped.
      measureMotion: async (...asked) => {
        const others = [[], [2], [1], []];
        return {...(await real.measureMotion(...asked)), alone: others.map((o) => ({turned: !o.length, others: o}))};
      },
    };
    const outcome = await h.carryOutWith(order, host);
    if (outcome.kind !== 'stopped') throw new Error('It was finished.');
    expect([outcome.step.kind, outcome.problem.code]).toEqual(['prove-motion', 'proof-failed']);
    expect(outcome.problem.meaning).toContain('motor 2');
  });

  it('needs propellers off by itself', async () => {
    const {steps} = await (await planned()).order({craft: withTiming(15), measured: stands});
    expect(needsPropsOff(steps.filter(({kind}) => kind === 'prove-motion'))).toBe(true);
  });
});

describe('what was measured of a craft', () => {
  it('is every kind, held or not; lost is what rests on something else now', () => {
    const record = provenRecord(juniper);
    const of = (craft: Craft) => measuredBefore(standings({craft, record, now: undefined}));
    expect(of(juniper).map(({kind}) => kind)).toContain('motion');
    expect(of(juniper).every(({isLost}) => !isLost)).toBe(true);
    const {controller} = juniper.plan;
    const idle = {...juniper, plan: {...juniper.plan, controller: {...controller, idlePercent: 7}}};
    expect(
      of(idle)
        .filter(({isLost}) => isLost)
        .map(({kind}) => kind),
    ).toContain('motion');
    const failed = {...record, proofs: record.proofs.map((p) => ({...p, holds: p.kind !== 'motion'}))};
    expect(measuredBefore(standings({craft: juniper, record: failed, now: undefined}))).toContainEqual(stands[0]);
    expect(measuredBefore(standings({craft: juniper, record: {...record, proofs: []}, now: undefined}))).toEqual([]);
  });
});
