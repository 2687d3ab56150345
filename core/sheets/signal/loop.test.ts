/** What is said of the loop: not read, rates that can and cannot be held, tasks that are measured, a raised clock. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {placeOf} from '../../controller/signal-pair';
import type {ControllerTask} from '../../link/operations';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {foundWith, planning} from '../../testing/with-config';
import {describeSettings} from '@simulator/hardware/controller/held-settings';
import type {JudgedCraft} from '../craft-question';
import {withPlannedSettings} from '../parameters/held-settings';
import {loadBar, loopSheet} from './loop';

const of = (q: JudgedCraft, tasks: readonly ControllerTask[] = []) => {
  const {controller} = q.record.found ?? {};
  return loopSheet(q, {place: controller && placeOf(controller, q.craft.arms.length, undefined), tasks});
};
const task = (over: Partial<ControllerTask>): ControllerTask => ({
  name: 'loop',
  hz: 4000,
  us: 50,
  mostUs: 60,
  gyro: true,
  ...over,
});

describe('the loop', () => {
  it('is not known before a survey', () => expect(of(emptyQuestion(juniper))).toBeUndefined());
  it('names board, clock and plan', () =>
    expect(of(questionOf(juniper))!.board).toMatch(
      /^Slate F at 216 MHz, gyro at \d+ kHz; planned are DShot\d+ with replies, \d+ kHz\.$/,
    ));
  it('offers every rate that can be held but the planned one; none beyond the gyro', () => {
    const {rates} = of(questionOf(juniper, {record: {found: foundWith(juniper, {gyroHz: 4000})}}))!;
    const eight = rates.find((r) => r.loopHz === 8000)!;
    expect(eight).toMatchObject({tag: 'diff', word: 'beyond the gyro', canPlan: false});
    expect(rates.filter((r) => r.isPlanned).map((r) => r.loopHz)).toEqual([juniper.plan.controller.loopHz]);
  });
  it('takes more of its time with eight motors', () => {
    const load = (q: JudgedCraft) => of(q)!.rates.find((r) => r.loopHz === 2000)!.load;
    expect(load(questionOf(withEightMotors(juniper)))).toBeGreaterThan(load(questionOf(juniper)));
  });
  it('tells its tasks with their share; the gyro task is the sum of its parts', () => {
    const {tasks} = of(questionOf(juniper), [
      task({}),
      task({name: 'filters', us: 30}),
      task({name: 'receiver', hz: 150, us: 100, gyro: false}),
      task({name: 'newer', hz: 10, us: 1000, gyro: false}),
    ])!;
    expect(tasks!.lines.map((l) => [l.name, l.share])).toEqual([
      ['gyro and control loop, part of the gyro task', '20.0 %'],
      ['filters, part of the gyro task', '12.0 %'],
      ['receiver', '1.5 %'],
      ['newer', '1.0 %'],
    ]);
    expect([tasks!.gyroUs, tasks!.gyroShare, tasks!.allShare]).toEqual(['80.0 µs', '32.0 %', '34.5 %']);
    expect(tasks!.lines.map((l) => l.planned !== '')).toEqual([true, true, false, false]);
  });
  it('shows no tasks that nobody measured', () => expect(of(questionOf(juniper))!.tasks).toBeUndefined());
  it('offers a raised clock only where its firmware knows one, and none without USB', () => {
    expect(of(questionOf(juniper, {record: {found: foundWith(juniper, {clockMhz: undefined})}}))!.clocks).toEqual([]);
    const {clocks} = of(questionOf(juniper, {record: {found: foundWith(juniper, {clockMhz: 0})}}))!;
    expect(clocks[0]).toEqual({value: 0, label: '216 MHz, as rated', disabled: false});
    expect(clocks.every((c) => c.disabled === c.label.endsWith('without USB'))).toBe(true);
  });
  it('offers one for the time without a cable where its firmware has that, and then every clock', () => {
    const entries = describeSettings('2.2');
    const holding = (when: string, craft = juniper) => {
      const found = foundWith(craft, {clockMhz: 0});
      const controller = {...found.controller!, settings: {entries, values: {'loop.raised_clock': when}}};
      return questionOf(craft, {record: {found: {...found, controller}}});
    };
    expect(of(questionOf(juniper, {record: {found: foundWith(juniper, {clockMhz: 0})}}))!.withoutUsb).toBeUndefined();
    const always = of(holding('always'))!;
    expect(always.withoutUsb!.action.text).toBe('Use it only without USB');
    expect(always.clocks.some((c) => c.disabled)).toBe(true);
    const planned = withPlannedSettings(juniper, holding('always'), always.withoutUsb!.action.edits);
    expect(of(holding('always', planned))!.withoutUsb!.text).toContain('Carry that out first');
    const only = of(holding('only without USB', planning(juniper, {clockMhz: 228})))!;
    expect([only.clocks.some((c) => c.disabled), only.board.includes('at 216 MHz')]).toEqual([false, true]);
    expect(only.withoutUsb!.text).toContain('start-up tones');
  });
  it('with a raised clock planned says so', () => {
    const found = foundWith(juniper, {clockMhz: 0});
    const q = questionOf(planning(juniper, {clockMhz: 240}), {record: {found}});
    expect(of(q)).toMatchObject({isRaised: true, clockMhz: 240});
    expect(of(questionOf(juniper, {record: {found}}))!.isRaised).toBe(false);
  });
});

it('a bar ends at its edge, with the lines at 50 and 65 % (common practice)', () => {
  expect(loadBar(1.4, undefined)).toEqual({used: 100, planned: undefined, good: 50, most: 65});
  expect(loadBar(0.2, 0.35)).toMatchObject({used: 20, planned: 35});
});
