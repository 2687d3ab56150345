import {describe, expect, it} from 'vitest';
import {upperBound} from './binomial-bound';
import {judgeReplies, type AloneState, type MotorReplies, type ReplyMeasure} from './replies';
import {percent} from '../words/percent';

const noLoad: Record<number, number> = {0.04: 1690, 0.3: 12_650, 0.6: 25_300};
const level = (
  throttle: number,
  change: (m: MotorReplies, motor: number) => Partial<MotorReplies> = () => ({}),
): ReplyMeasure => ({
  throttle,
  motors: [0, 1, 2, 3].map((motor) => {
    const all = {asked: 9600, lost: 0, rpm: noLoad[throttle]! * 0.98, noLoadRpm: noLoad[throttle]!};
    return {...all, ...change(all, motor)};
  }),
});
type Change = Parameters<typeof level>[1];
const alone: readonly AloneState[] = [0, 1, 2, 3].map(() => ({turned: true, others: []}));
const judge = (change?: Change, seen: readonly AloneState[] | undefined = alone) =>
  judgeReplies([0.04, 0.3, 0.6].map((t, i) => ({...level(t, change), ...(i === 0 && seen && {alone: seen})})));

describe('the reply proof', () => {
  it('holds with counts, ramps and an upper bound', () => {
    expect(judge()).toEqual({
      holds: true,
      remedy: '',
      text: 'none of 115,200 replies lost at idle, 30 %, 60 %, ramps counted, each motor driven alone first; with 95 % certainty below 0.01 % per motor, up to 60 % throttle',
    });
  });

  it('the bound is 1 − 0.05^(1/n): 3/n within a percent for large n (rule of three, common practice)', () => {
    // Worked by hand: n = 10 gives 1 − 0.05^0.1 = 0.2589.
    expect(upperBound(0, 10)).toBeCloseTo(0.2589, 4);
    expect(upperBound(0, 28_800) / (3 / 28_800)).toBeCloseTo(1, 2);
  });

  it('one lost of many fails with a figure that is not zero', () => {
    const one = judge((m, motor) => (motor === 2 && m.noLoadRpm === noLoad[0.6] ? {lost: 1} : {}));
    expect(one).toMatchObject({
      holds: false,
      text: 'Motor 3 lost 1 of 28,800 replies (0.0035 %, with 95 % certainty at most 0.016 %); a proof needs none lost.',
    });
  });

  it.each([
    [
      'a blocked motor',
      (_: MotorReplies, motor: number) => (motor === 1 ? {rpm: 0} : {}),
      'Motor 2 did not turn at 4 % throttle',
    ],
    [
      'no speed',
      (_: MotorReplies, motor: number) => (motor === 1 ? {rpm: null} : {}),
      'No speed came from motor 2 at 4 % throttle',
    ],
    [
      'half the KV',
      (m: MotorReplies, motor: number) => (motor === 3 ? {rpm: m.rpm! / 2} : {}),
      'Motor 4 turned with 6,199 rpm at 30 % throttle; KV and battery voltage give 12,650.',
    ],
    ['all of half the KV', (m: MotorReplies) => ({rpm: m.rpm! / 2}), 'Motor 1 turned with 6,199 rpm'],
    [
      'one apart from the others',
      (m: MotorReplies, motor: number) => (motor === 0 ? {rpm: m.rpm! * 0.85} : {}),
      'the others with about 12,397: more than 12 % apart.',
    ],
    ['few replies', () => ({asked: 100}), 'Only 300 replies per motor were counted'],
    ['replies off', () => ({asked: 0}), 'No replies were requested'],
  ] as [string, Change, string][])('fails: %s', (_, change, text) => {
    const verdict = judge(change);
    expect(verdict.holds).toBe(false);
    expect(verdict.text).toContain(text);
  });

  it.each([
    ['two crossed', {0: [1], 1: [0]}, 'Only motor 1 was driven, and the replies of motor 2 reported that it turns'],
    ['all of one motor', {0: [1, 2, 3]}, 'the replies of motors 2, 3 and 4 reported that they turn'],
  ] as [string, Record<number, number[]>, string][])('fails: %s', (_, others, text) => {
    const seen = alone.map((a, i) => ({...a, others: others[i] ?? []}));
    expect(judge(undefined, seen)).toMatchObject({holds: false, text: expect.stringContaining(text)});
  });

  it('fails where a motor did not turn alone, or none was driven alone', () => {
    const dead = alone.map((a, i) => ({...a, turned: i !== 2}));
    expect(judge(undefined, dead).text).toBe('Motor 3 was driven alone, and its replies did not report that it turns.');
    expect(judgeReplies([level(0.04), level(0.3)]).text).toContain('it is not known whose reply is whose');
  });

  it('nothing measured proves nothing', () => {
    expect(judgeReplies([]).holds).toBe(false);
  });

  it('a share is never rounded to nothing', () => {
    expect([percent(0), percent(1 / 8000), percent(0.3), percent(0.0123), percent(1)]).toEqual([
      '0 %',
      '0.013 %',
      '30 %',
      '1.2 %',
      '100 %',
    ]);
  });
});
