/** A start-up melody is planned as text, written beside the settings, read back, proven, and goes with a roll-back. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import type {Plan} from '../../craft/craft';
import {findDifferences} from '../../compare/difference';
import {melodyIn, melodyText} from '../../sounds/melody-block';
import {makeRollBack, makeWorkOrder} from '../order/make-order';
import {shelf} from '@simulator/testing/bench-harness';

const rise = 'rise:d=8,o=5,b=180:c,e,g,4c6';
const withMelodies = (melodies: Plan['melodies']) => ({...juniper, plan: {...juniper.plan, melodies}});
const held = (h: Harness) =>
  h.bench.escs.map((e) => melodyText(melodyIn(e.flash.read(e.chip.settings.start, e.chip.pageBytes))));

describe('a start-up melody', () => {
  it('comes with the update, a voice per motor, and is proven with the settings', async () => {
    const texts = [rise, rise, 'low:d=4,o=4,b=180:c,g', rise];
    const h = new Harness({craft: withMelodies({kind: 'per motor', texts})});
    const order = await h.order();
    const outcome = await h.carryOut({...order, steps: order.steps.filter((s) => s.kind !== 'prove-replies')});
    if (outcome.kind !== 'finished') throw new Error(outcome.problem.meaning);
    expect(held(h)).toEqual([
      ':d=8,o=5,b=180:c,e,g,4c6',
      ':d=8,o=5,b=180:c,e,g,4c6',
      ':d=4,o=4,b=180:c,g',
      ':d=8,o=5,b=180:c,e,g,4c6',
    ]);
    expect(findDifferences(h.craft.plan, outcome.found).melodies).toEqual([]);
    expect(outcome.proofs.map((p) => p.kind)).toContain('settings');
    // A survey is all that is needed to see another one planned.
    const other = withMelodies({kind: 'same', text: rise});
    const next = await h.order({craft: other});
    expect(next.steps.find((s) => s.kind === 'set-parameters')).toMatchObject({
      changes: [{title: 'Start-up melody', note: 'motor 3'}],
      targets: [{output: 2, melody: rise}],
    });
    const question = {id: 'back', at: 1, craft: other, order, found: await h.survey(), supply: shelf.supply};
    const back = makeRollBack(question);
    if (!back.ok) throw new Error(back.problem.meaning);
    expect((await h.carryOut(back.value)).kind).toBe('finished');
    expect(held(h)).toEqual(['none', 'none', 'none', 'none']);
  });

  it.each([
    [
      'more notes than an ESC keeps',
      `x:d=32,b=900:${Array.from({length: 65}, () => 'c').join(',')}`,
      'melody-too-long',
    ],
    ['no melody at all', 'x:d=8:c,k', 'rtttl'],
  ])('of %s is refused before anything is written', async (_, text, code) => {
    const craft = withMelodies({kind: 'per motor', texts: [rise, rise, text, rise]});
    const h = new Harness({craft});
    const order = makeWorkOrder({id: 'x', at: 1, craft, found: await h.survey(), imageFor: shelf.imageFor(craft)});
    expect(order).toMatchObject({ok: false, problem: {code}});
  });

  it('is not planned for firmware that keeps none', async () => {
    const plan = {
      ...juniper.plan,
      firmware: {family: 'Meridian', version: '3.9'},
      melodies: {kind: 'same' as const, text: rise},
    };
    const h = new Harness({craft: {...juniper, plan}});
    expect(findDifferences(plan, await h.survey()).melodies).toEqual([]);
  });
});
