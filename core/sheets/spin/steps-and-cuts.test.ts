/** What Spin asks before the motors turn through a script, and what its hold button tells, in the states of a bench. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {usualChoice} from '../../spin/script/script-choices';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {earlierRuns, scriptButton, stepsSheet, type Asked, type ScriptHold} from './steps-and-cuts';

const asked: Asked = {choice: usualChoice, motor: 'all', cap: 0.3, isCapRaised: false};
const resting: ScriptHold = {share: undefined, throttle: 0, alone: undefined, reading: undefined};
const q = questionOf(juniper);

describe('what is asked', () => {
  it('offers every motor with its arm, eight of them too', () => {
    expect(stepsSheet(q, asked).motors.map((m) => m.label)).toEqual([
      ...['all motors', 'motor 1, front right', 'motor 2, rear right', 'motor 3, rear left', 'motor 4, front left'],
    ]);
    const eight = stepsSheet(questionOf(withEightMotors(juniper)), asked);
    expect([eight.motors.length, eight.outputs.length]).toEqual([9, 8]);
  });
  it('offers no throttle above the cap, and says so', () => {
    const {tops, note, top} = stepsSheet(q, {...asked, choice: {...usualChoice, top: 0.8}});
    expect([tops.at(-1)!.label, top]).toEqual(['30 %', 0.3]);
    expect(note).toMatch(/^Each motor alone, .* \d+\.\d s, never above 30 % throttle\.$/);
    const raised = stepsSheet(q, {...asked, cap: 0.5, isCapRaised: true});
    expect([raised.tops.at(-1)!.value, raised.canRaise]).toEqual([0.5, false]);
  });
  it('asks the length of a ramp, not of a card; one motor of a card is not turned alone before', () => {
    expect(stepsSheet(q, asked).lengths).toBeUndefined();
    const ramp = stepsSheet(q, {...asked, choice: {name: 'ramp', top: 0.2, seconds: 4}});
    expect([ramp.lengths!.map((l) => l.value).includes(4), ramp.title]).toEqual([true, 'Hold for 4 s']);
    const seconds = (motor: Asked['motor']) => parseInt(/\d+/.exec(stepsSheet(q, {...asked, motor}).title)![0]);
    expect(seconds(2)).toBeLessThan(seconds('all'));
    expect(stepsSheet(q, {...asked, motor: 2}).outputs).toEqual([2]);
  });
  it('without replies, or before a survey, has no speeds to measure', () => {
    const {controller} = q.record.found!;
    const found = {...q.record.found!, controller: {...controller!, config: {...controller!.config, replies: false}}};
    expect(stepsSheet(questionOf(juniper, {record: {found}}), asked).lacksReplies).toBe(true);
    expect(stepsSheet(emptyQuestion(juniper), asked).lacksReplies).toBe(true);
    expect(stepsSheet(q, asked).lacksReplies).toBe(false);
  });
});

describe('the hold button', () => {
  it.each([
    ['propellers not asked', {isPropsOff: false}, resting, false],
    ['a free bench', {}, resting, true],
    ['something else under way', {isOccupied: true}, resting, false],
    ['its own hold under way', {isOccupied: true}, {...resting, share: 0.1}, true],
    ['a motor that runs out', {isRunningOut: true}, resting, false],
    ['a burst that is read', {}, {...resting, reading: 0.4}, false],
  ] as const)('with %s', (_, bench, hold, canHold) =>
    expect(scriptButton(questionOf(juniper, {bench}), hold).canHold).toBe(canHold),
  );
  it('cannot be held on a craft that nobody connected', () =>
    expect(scriptButton(emptyQuestion(juniper), resting).canHold).toBe(false));
  it.each([
    [{...resting, share: 0.02, alone: 1}, 'motor 2 alone: its reply must be its own'],
    [{...resting, share: 0.5, throttle: 0.123}, '12.3 % throttle'],
    [{...resting, reading: 0.32}, 'reading the burst, 32 %: the motors have stopped, let go'],
    [resting, 'the motors stop when you let go, and by themselves at the end'],
  ])('tells %j', (hold, note) => expect(scriptButton(q, hold).note).toBe(note));
});

describe('runs of before', () => {
  const of = (id: string, craftId = juniper.id) => ({id, craftId, script: 'motor card', at: 0});
  it('are those of this craft, without the one that is shown', () => {
    const listed = [of('new'), of('old'), of('strange', 'another')];
    expect(earlierRuns(q, listed, 'new').map((c) => c.value)).toEqual(['', 'old']);
  });
  it('are no choice where there is none', () => expect(earlierRuns(q, [of('new')], 'new')).toEqual([]));
});
