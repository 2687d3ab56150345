/** The docket’s words: the last order is history, what the plan asks now stands apart from it. */
import {describe, expect, it} from 'vitest';
import type {WorkOrder} from '../order/work-order';
import {failure, success} from '../problem';
import {docketSheet, type DocketQuestion} from './docket';

const order = (more: Partial<WorkOrder> = {}) => ({id: 'a', leftOut: [], steps: [], ...more}) as unknown as WorkOrder;
const steps = (n: number) => Array.from({length: n}, (_, i) => ({id: `${i}`})) as unknown as WorkOrder['steps'];
const impossible = failure({
  code: 'signal',
  place: 'plan',
  meaning: 'DShot600 with replies.',
  remedy: 'Plan DShot300.',
});
const ask = (q: Partial<DocketQuestion>) =>
  docketSheet({
    ...{last: undefined, isOpen: false, draft: success(order()), isRead: true, onAdapter: false, keepsPlan: false},
    ...q,
  });

describe('the docket', () => {
  it('of a craft that was never read asks for a survey', () =>
    expect(ask({draft: undefined, isRead: false})).toMatchObject({last: undefined, now: {kind: 'not read'}}));

  it('never says that the craft matches beside a plan that is impossible', () => {
    const {last, now} = ask({last: order(), draft: impossible});
    expect(now).toEqual({kind: 'refused', problem: impossible.ok ? undefined : impossible.problem});
    expect(last).toEqual({sign: 'carried out', text: 'Every step was done and proven.'});
  });

  it('says so where nothing is left, and of ESCs alone on an adapter', () => {
    expect(ask({last: order()}).now).toEqual({
      kind: 'as planned',
      text: 'Nothing to write: the craft matches the plan.',
    });
    expect(ask({onAdapter: true}).now).toMatchObject({text: expect.stringContaining('not on this connection')});
  });

  it('tells new steps from those of the last order', () => {
    const {last, now} = ask({last: order(), draft: success(order({steps: steps(2)}))});
    expect(now).toEqual({kind: 'steps'});
    expect(last?.text).toBe('Every step was done and proven. The plan has changed since; these steps are new:');
  });

  it('after a roll-back asks which of plan and craft is wanted, until a person says', () => {
    const q = {last: order({rollsBack: 'first'}), draft: success(order({steps: steps(9)}))};
    expect(ask(q)).toMatchObject({
      last: {sign: 'rolled back', text: 'The craft holds what it held before that order.'},
      now: {kind: 'plan or craft', text: expect.stringContaining('9 steps')},
    });
    expect(ask({...q, keepsPlan: true}).now).toEqual({kind: 'steps'});
    expect(ask({...q, draft: success(order())}).now.kind).toBe('as planned');
  });

  it('says what was skipped, of the last order and of this one', () => {
    const skipped = {leftSteps: ['write-firmware'] as const};
    expect(ask({last: order(skipped), draft: success(order(skipped))})).toMatchObject({
      last: {text: 'Every step was done and proven. What was skipped stays open.'},
      now: {kind: 'skipped', text: 'Nothing is left to do but what you skipped.'},
    });
    const leftOut = [{output: 2, problem: {code: 'silent', place: 'motor 3', meaning: 'Silent.', remedy: 'Look.'}}];
    expect(ask({draft: success(order({leftOut}))}).now).toMatchObject({text: 'Nothing to do on the other motors.'});
  });

  it('while an order is open shows its steps and nothing of the one before', () =>
    expect(ask({isOpen: true, last: order(), draft: impossible})).toEqual({last: undefined, now: {kind: 'steps'}}));
});
