/** The docket’s words: the last order is history, what the plan asks now stands apart from it. */
import {describe, expect, it} from 'vitest';
import {Harness, shelf} from '@simulator/testing/bench-harness';
import {makeWorkOrder} from '../../run/order/make-order';
import type {WorkOrder} from '../../order/work-order';
import {failure, success} from '../../problem';
import {juniper} from '@demo/craft/juniper';
import {emptyQuestion, freeBench, questionOf} from '../../testing/question-of';
import type {BenchNow} from '../craft-question';
import {docketSheet, orderStart} from './docket';
import type {WorkNow} from './work-now';

const order = (more: Partial<WorkOrder> = {}) => ({id: 'a', leftOut: [], steps: [], ...more}) as unknown as WorkOrder;
const steps = (n: number) =>
  Array.from({length: n}, (_, i) => ({
    id: `${i}`,
    kind: 'snapshot',
    estimateMs: 1000,
  })) as unknown as WorkOrder['steps'];
const impossible = failure({
  code: 'signal',
  place: 'plan',
  meaning: 'DShot600 with replies.',
  remedy: 'Plan DShot300.',
});
const noWork: WorkNow = {
  ...{last: undefined, open: undefined, isRunning: false, draft: success(order()), keepsPlan: false, journal: []},
  ...{stepStates: {}, progress: undefined, working: {}, problem: undefined},
};
interface Asked extends Partial<WorkNow> {
  readonly isRead?: boolean;
  readonly onAdapter?: boolean;
}
const ask = ({isRead = true, onAdapter = false, ...work}: Asked) => {
  const q = isRead ? questionOf(juniper, {bench: {isOnAdapter: onAdapter}}) : emptyQuestion(juniper);
  return docketSheet(q, {...noWork, ...work});
};

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

  it('says what is held for: the replies, both in one hold, or what is left of it', () => {
    const proofs = (kinds: readonly string[]) =>
      kinds.map((kind) => ({id: kind, kind, estimateMs: 15_000})) as unknown as WorkOrder['steps'];
    const hold = (kinds: readonly string[], stepId = 'prove-replies') =>
      ask({draft: success(order({steps: proofs(kinds)})), progress: {stepId, share: 0, text: ''}}).hold;
    expect(hold(['prove-replies'])).toEqual({
      ...{title: 'Hold to prove the replies', note: 'all motors: idle, 30 %, 60 %; about 7 s'},
    });
    const both = ['prove-replies', 'prove-motion'];
    expect(hold(both).title).toBe('Hold to prove replies and motion');
    expect(hold(both).note).toMatch(/idle, 30 %, 60 %; then each motor alone, .*; about 22 s/);
    expect(hold(both, 'prove-motion').title).toBe('Hold on, to prove how the motors move');
    expect(hold(['prove-motion'], '').title).toBe('Hold to prove how the motors move');
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
    expect(ask({open: {order: order()}, last: order(), draft: impossible})).toMatchObject({
      ...{last: undefined, now: {kind: 'steps'}},
    }));
});

/** What Juniper's old bench needs, from the survey of the simulated one. */
const found = await new Harness().survey();
const built = makeWorkOrder({id: 'o', at: 1, craft: juniper, found, imageFor: shelf.imageFor(juniper)});
const whole = built.ok ? built.value : (undefined as never);

describe('the steps of an order', () => {
  it('are numbered, timed, and may be skipped at the first of each kind', () => {
    const {steps, summary, title} = ask({draft: success(whole)});
    expect([title, summary]).toEqual([
      'Work order',
      expect.stringMatching(/^11 steps, about \d+ s, nothing written yet$/),
    ]);
    expect(steps.map((s) => s.mark)).toEqual(steps.map((_, i) => `${i + 1}`));
    expect(steps.every((s) => /\d s$/.test(s.time) && !s.at && !s.isDone)).toBe(true);
    const skips = steps.flatMap((s) => (s.skip ? [s.skip.kind] : []));
    expect(skips).toContain('write-firmware');
    expect(new Set(skips).size).toBe(skips.length);
    expect(steps.find((s) => s.changes.length)!.changes[0]!.title).toContain('→');
  });

  it('at work: what is done is ticked, what writes beside it says how far it is, nothing is skipped any more', () => {
    const first = {stepId: 'write-0', share: 0.25, text: 'Motor 1: page 5 of 17'};
    const second = {stepId: 'write-1', share: 0.3, text: 'Motor 2: page 6 of 17'};
    const sheet = ask({
      ...{open: {order: whole}, isRunning: true, progress: second},
      ...{stepStates: {snapshot: 'done', 'write-0': 'begun'}, working: {'write-0': first, 'write-1': second}},
    });
    expect([sheet.summary, sheet.folded]).toEqual(['1 of 11 steps done', second.text]);
    const [snapshot] = sheet.steps;
    expect(snapshot).toMatchObject({mark: '✓', isDone: true, time: ''});
    expect(sheet.steps.flatMap((s) => (s.at ? [s.at] : []))).toEqual([
      {percent: 25, text: first.text},
      {percent: 30, text: second.text},
    ]);
    expect(sheet.steps.some((s) => s.skip)).toBe(false);
  });

  it('of a roll-back are not skipped, and its title says so', () => {
    const {title, steps} = ask({draft: success({...whole, rollsBack: 'first'}), keepsPlan: true});
    expect([title, steps.some((s) => s.skip)]).toEqual(['Work order, roll-back', false]);
  });

  it('stopped: when and why, and what was changed meanwhile stands elsewhere', () => {
    const stopped = {orderId: 'o', at: 1, stepId: 'write-1', event: 'stopped', text: 'Motor 2 fell silent.'} as const;
    const problem = {code: 'found-changed', place: 'motor 2', meaning: 'Changed.', remedy: 'Look.'};
    const open = {order: whole};
    expect(ask({open, journal: [stopped], problem})).toMatchObject({
      ...{account: 'Motor 2 fell silent.', isOvertaken: true, problem, summary: '0 of 11 steps done, stopped'},
    });
    expect(ask({open}).account).toBe('The page was closed in the middle of this order.');
    expect(ask({open, problem: {...problem, code: 'changed-meanwhile'}}).problem).toBeUndefined();
  });
});

describe('what is left open', () => {
  it('is what was skipped and left out, by name', () => {
    const problem = {code: 'silent', place: 'motor 4', meaning: 'Silent.', remedy: 'Look.'};
    const other = {...problem, meaning: 'Foreign.'};
    const leftOut = [...[0, 1, 3].map((output) => ({output, problem})), {output: 2, problem: other}];
    const {open} = ask({draft: success(order({leftOut, leftSteps: ['prove-replies']}))});
    expect(open).toEqual({
      ...{
        stays: [],
        leftOut: [
          {title: 'Motors 1, 2 and 4 stay open.', text: 'Silent. Look.'},
          {title: 'Motor 3 stays open.', text: 'Foreign. Look.'},
        ],
      },
      skipped: [{kind: 'prove-replies', name: 'Proving the replies'}],
    });
  });

  it('to prove: in the order of the route, and nothing once all is proven', () => {
    const {stillToProve, folded} = ask({isRead: false, draft: undefined});
    expect(stillToProve.map((s) => s.title)).toEqual(['Survey', 'Firmware', 'Parameters', 'Spin', 'Signal', 'Arming']);
    expect(folded).toBe('next: Survey');
    expect(ask({})).toMatchObject({stillToProve: [], folded: 'nothing open', isIdle: true});
  });
});

describe('whether an order may begin', () => {
  const full = {volts: 24, amps: 0.3, cycles: 1};
  const start = (bench: Partial<BenchNow> = {}, power = full) =>
    orderStart(ask({draft: success(whole)}), {...freeBench, ...bench}, power);

  it('on a free bench with a full pack and the propellers off', () => expect(start().canStart).toBe(true));
  it.each([
    ['without the bench', {isConnected: false}],
    ['without the battery', {isPowered: false}],
    ['while something has the wires', {isOccupied: true}],
  ])('not %s', (_, bench) => expect(start(bench).canStart).toBe(false));
  it('not with propellers on', () => expect(start({isPropsOff: false}).canStart).toBe(false));
  it('not on a pack that cannot finish it, and says so', () => {
    const {canStart, batteryLow} = start({}, {...full, volts: 19.2});
    expect([canStart, batteryLow?.meaning]).toEqual([false, expect.stringContaining('3.20 V per cell')]);
  });
});
