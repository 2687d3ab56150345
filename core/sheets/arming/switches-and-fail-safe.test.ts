/** What is said of switches and of a lost signal. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import type {FailSafeTrial} from '../../arming/fail-safe-trial';
import type {Switch} from '../../controller/arming-fields';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {foundWith, planning} from '../../testing/with-config';
import {failSafeSheet, type FailSafeNow} from './fail-safe';
import {switchAsk, switchesSheet, type SwitchesNow} from './switches';

const arm: Switch = {use: 'arm', channel: 5, fromUs: 1700, toUs: 2100};
const quiet: SwitchesNow = {us: [1500, 1500, 1000, 1500, 1000], isArmed: false, blocks: ['switch']};
const held = (switches: Switch[], planned = switches) =>
  questionOf(planning(juniper, {switches: planned}), {record: {found: foundWith(juniper, {switches})}});

describe('switches', () => {
  it('are on where the channel of now lies in their range', () => {
    const of = (fifth: number) => switchesSheet(held([arm]), {...quiet, us: [1500, 1500, 1000, 1500, fifth]}).lines[0]!;
    expect([of(1000).isOn, of(1850).isOn, of(1850).us]).toEqual([false, true, 1850]);
    expect(switchesSheet(held([arm]), {...quiet, us: []}).lines[0]).toMatchObject({isOn: false, us: undefined});
  });
  it('as set and as planned have another title', () => {
    expect(switchesSheet(held([arm]), quiet).title).toBe('Switches as set');
    expect(switchesSheet(held([arm], []), quiet).title).toBe('Switches as planned; the work order sets them');
  });
  it('that arm a craft as soon as it has power are refused', () => {
    const {findings} = switchesSheet(held([{...arm, fromUs: 900}]), quiet);
    expect(findings.some((f) => f.severity === 'refuse')).toBe(true);
  });
  it('of a craft that nobody connected say that nothing is known', () => {
    const sheet = switchesSheet(emptyQuestion(juniper), {us: [], isArmed: undefined, blocks: []});
    expect(sheet.armed).toMatchObject({word: 'not known', text: 'The flight controller is not connected.'});
  });
  it('tell what keeps it from being armed, a code of a newer controller as it is', () => {
    const {blocks, armed} = switchesSheet(held([arm]), {...quiet, blocks: ['moon-phase']});
    expect([blocks, armed.word]).toEqual([['moon-phase'], 'disarmed']);
    expect(switchesSheet(held([arm]), {...quiet, isArmed: true}).armed).toMatchObject({
      tag: 'diff',
      text: 'Take the battery off.',
    });
  });
  it('are asked for by what they will do', () => expect(switchAsk('tone')).toContain('lost-craft tone should be on'));
});

const trial = (stoodMs: FailSafeTrial['stoodMs']): FailSafeTrial => ({
  ...{stoodMs, resolutionMs: 20, watchedMs: 3000, reports: 200, spedUp: []},
});
const none: FailSafeNow = {phase: undefined, trial: undefined, back: undefined};
const drop = {action: 'drop', afterMs: 400} as const;
const q = questionOf(juniper, {record: {found: foundWith(juniper, {failSafe: drop, replies: true})}});

describe('a lost signal', () => {
  it('is told in one sentence, and as it is set now where that is another', () => {
    expect(failSafeSheet(q, none).sentence).toBe(
      'Without a frame for 0.4 s the motors go off and the craft falls where it is.',
    );
    expect(failSafeSheet(q, none).notes).toEqual([]);
    const landing = questionOf(planning(juniper, {failSafe: {action: 'land', afterMs: 1000}}), {
      record: {found: foundWith(juniper, {failSafe: drop})},
    });
    const {sentence, notes} = failSafeSheet(landing, none);
    expect(sentence).toContain('comes down slowly');
    expect(notes[0]).toContain('As it is set now: Without a frame for 0.4 s the motors go off');
    expect(notes.at(-1)).toBe('A trial of now tries what is set; it proves the plan once that is written.');
  });
  it.each([
    ['free', {}, none, true],
    ['with propellers not asked', {isPropsOff: false}, none, false],
    ['with motors that run out', {isRunningOut: true}, none, false],
    ['with something under way', {isOccupied: true}, none, false],
    ['while it waits for the transmitter', {}, {...none, phase: 'back'}, false],
  ] as const)('is tried on a bench that is %s: %#', (_, bench, now, canHold) =>
    expect(failSafeSheet({...q, bench: {...q.bench, ...bench}}, now).canHold).toBe(canHold),
  );
  it('cannot be tried without replies', () => {
    const mute = questionOf(juniper, {record: {found: foundWith(juniper, {replies: false})}});
    expect(failSafeSheet(mute, none)).toMatchObject({canHold: false, hasReplies: false});
  });
  it('leads through its phases', () => {
    const steps = (['starts', 'turns', 'silent', 'back'] as const).map(
      (phase) => failSafeSheet(q, {...none, phase}).steps,
    );
    expect(steps.map((s) => s.findIndex((step) => step.isNow))).toEqual([0, 1, 2, 3]);
  });
  it('that stops every motor in time is said with the time of each, by its arm', () => {
    const {verdict, stood} = failSafeSheet(q, {...none, trial: trial([420, 430, 440, 450])});
    expect(verdict).toMatchObject({holds: true, title: 'They stop in time'});
    expect(stood[2]).toEqual({motor: 'motor 3, rear left', text: '0.44 s after the last frame'});
  });
  it('that leaves one of eight turning does not hold', () => {
    const eight = questionOf(withEightMotors(juniper));
    const {verdict, stood} = failSafeSheet(eight, {...none, trial: trial([...Array<number>(7).fill(420), undefined])});
    expect([verdict!.holds, stood[7]!.text]).toEqual([false, 'still turned']);
  });
  it('after which a motor turns by itself when the transmitter is on again does not hold', () => {
    const back = {isDisarmed: true, turned: [1]} as FailSafeNow['back'];
    expect(failSafeSheet(q, {...none, trial: trial([420, 430, 440, 450]), back}).verdict!.holds).toBe(false);
  });
});
