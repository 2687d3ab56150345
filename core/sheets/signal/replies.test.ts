/** What is said of the proof of the replies; bounds against the rule of three (facts: 3/n at 95 % where none was lost). */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import type {Report} from '../../link/operations';
import type {ReplyMeasure} from '../../replies/replies';
import {proofOf} from '../../testing/proof-of';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {foundWith} from '../../testing/with-config';
import {liveLines, measureAsk, repliesProofSheet, repliesRule} from './replies';

const levels = (lost: number, rpm: number | null = 12_000): ReplyMeasure[] =>
  [0.04, 0.3, 0.6].map((throttle) => ({
    throttle,
    motors: [0, 1, 2, 3].map((m) => ({asked: 9_600, lost: m === 2 ? lost : 0, rpm, noLoadRpm: 12_650})),
  }));
const proven = (replies: ReplyMeasure[] | undefined, holds = true) =>
  repliesProofSheet(questionOf(juniper, {record: {proofs: [proofOf('replies', juniper, {replies, holds})]}}));

describe('the proof of the replies', () => {
  it('is nothing while nobody measured', () => expect(repliesProofSheet(emptyQuestion(juniper))).toBeUndefined());
  it('has its counts by throttle and motor, and their bound', () => {
    const {counts, word} = proven(levels(0))!;
    expect(word).toBe('✓ current');
    expect(counts!.arms).toEqual(['front right', 'rear right', 'rear left', 'front left']);
    expect(counts!.levels.map((l) => l.throttle)).toEqual(['4 %', '30 %', '60 %']);
    expect(counts!.levels[0]!.cells[0]).toEqual({lost: '0', asked: 'of 9,600', speed: '12000 rpm', isBad: false});
    // 3 / 28,800 is 0.0104 %.
    expect(counts!.bounds[0]).toBe('< 0.01 %');
  });
  it('marks what was lost, and never rounds one reply to nothing', () => {
    const {counts} = proven(levels(1), false)!;
    expect(counts!.levels[0]!.cells[2]).toMatchObject({lost: '1', isBad: true});
    expect(counts!.bounds[2]).toMatch(/^0\.01 %, < 0\.0\d+ %$/);
  });
  it('marks a motor that did not turn, and one that nobody asked', () => {
    expect(proven(levels(0, null))!.counts!.levels[0]!.cells[0]).toMatchObject({speed: 'no speed', isBad: true});
    const unasked = levels(0).map((l) => ({...l, motors: l.motors.map((m) => ({...m, asked: 0}))}));
    const {counts} = proven(unasked, false)!;
    expect([counts!.levels[0]!.cells[0]!.lost, counts!.bounds[0]]).toEqual(['–', '–']);
  });
  it('that was disproven under load has no counts of its own', () =>
    expect(proven(undefined, false)!.counts).toBeUndefined());
  it('that is no longer valid says why', () => {
    const found = foundWith(juniper, {poles: 12});
    const sheet = repliesProofSheet(questionOf(juniper, {record: {found, foundPlace: 9}}))!;
    expect([sheet.word, sheet.since]).toEqual(['○ no longer valid', expect.stringMatching(/^No longer valid: /)]);
  });
  it('has one rule, with its figures', () =>
    expect(repliesRule).toContain('within 70 % to 110 % of KV × volts × throttle'));
});

describe('a measurement of now', () => {
  it('waits for a survey, for replies, for propellers and for what is under way', () => {
    expect(measureAsk(emptyQuestion(juniper))).toEqual({state: 'not surveyed', canHold: false});
    const off = questionOf(juniper, {record: {found: foundWith(juniper, {replies: false})}});
    expect(measureAsk(off)).toEqual({state: 'replies off', canHold: false});
    expect(measureAsk(questionOf(juniper))).toEqual({state: 'open', canHold: true});
    for (const bench of [{isPropsOff: false}, {isOccupied: true}])
      expect(measureAsk(questionOf(juniper, {bench})).canHold).toBe(false);
  });
});

describe('every motor now', () => {
  const told = {temperature: 41, voltage: 24.1, current: 3, state: 2};
  const motors = [
    {throttle: 0.3, erpm: 70_000, lostAs: {ageMs: 1.26}, told},
    {throttle: 0, erpm: null},
  ] as unknown as Report['motors'];
  it('tells speed by the planned poles, loss, age, and what its ESC reports', () =>
    expect(liveLines(questionOf(juniper), motors, [0.01, undefined])).toEqual([
      {
        ...{motor: 1, arm: 'front right', throttle: '30 %', speed: '10000 rpm', loss: '1.0 %', newest: '1.3 ms'},
        told: '41 °C, 24.10 V, 3 A, 2 steps lost',
      },
      {
        ...{motor: 2, arm: 'rear right', throttle: '0 %', speed: 'no reply', loss: 'none requested', newest: '–'},
        told: undefined,
      },
    ]));
  it('says nothing of an age where no reply was asked for', () =>
    expect(liveLines(questionOf(juniper), motors, [undefined, undefined])[0]!.newest).toBe('–'));
  it('tells only what came of what an ESC reports', () => {
    const few = [{throttle: 0, erpm: 0, told: {temperature: 38}}] as unknown as Report['motors'];
    expect(liveLines(questionOf(withEightMotors(juniper)), few, [0])[0]!.told).toBe('38 °C');
  });
});
