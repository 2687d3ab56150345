/** What is said of sounds: melodies planned for one and for all, kept by ESCs or not, and when a motor may sound. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import type {Craft} from '../../craft/craft';
import {firstMelody, withMelodies, withMelodyKind, withMelodyText, withoutMelodies} from '../../craft/melody-plan';
import {ownMelody} from '../../settings/parameters/special-values';
import {withMelody} from '../../sounds/melody-block';
import {readRtttl, type Melody} from '../../sounds/rtttl';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {pianoRoll, soundsSheet} from './sounds';

const melody = (text: string): Melody => {
  const read = readRtttl(text);
  if (!read.ok) throw new Error(read.problem.meaning);
  return read.value;
};
const planned = (text = firstMelody): Craft => withMelodies(juniper, {kind: 'same', text});
/** Every ESC keeps this melody. */
function keeping(craft: Craft, text: string) {
  const {found} = questionOf(craft).record;
  const escs = found!.escs.map((e) => ({...e, settingsPage: withMelody(new Uint8Array(1024), melody(text))}));
  return questionOf(craft, {record: {found: {...found!, escs}}});
}

describe('the planned melody', () => {
  it('is none at first, and nothing is drawn', () =>
    expect(soundsSheet(emptyQuestion(juniper), 0)).toMatchObject({
      isPlanned: false,
      kind: 'same',
      melody: undefined,
      kept: [],
    }));
  it('that fits says how much room is left', () =>
    expect(soundsSheet(emptyQuestion(planned()), 0).check).toMatchObject({
      isRight: true,
      text: expect.stringMatching(/^4 of 64 notes;.*8 s at most/),
    }));
  it('that does not read says where, and what to do', () => {
    const {check, melody: drawn} = soundsSheet(emptyQuestion(planned('x:d=8:zz')), 0);
    expect([check.isRight, check.place !== '', check.text !== '', drawn]).toEqual([false, true, true, undefined]);
  });
  it('that is too long for an ESC is drawn all the same', () => {
    const long = `long:d=1,o=5,b=60:${Array(8).fill('c').join(',')}`;
    const {check, melody: drawn} = soundsSheet(emptyQuestion(planned(long)), 0);
    expect([check.isRight, drawn!.notes.length]).toEqual([false, 8]);
  });
  it('may be a voice for each of eight motors, of which one is written', () => {
    const craft = withMelodyKind(
      withMelodies(withEightMotors(juniper), {kind: 'same', text: firstMelody}),
      'per motor',
    );
    const own = withMelodyText(craft, 5, 'own:d=8,o=5,b=100:e');
    expect(soundsSheet(emptyQuestion(own), 5).text).toBe('own:d=8,o=5,b=100:e');
    expect(soundsSheet(emptyQuestion(own), 4).text).toBe(firstMelody);
    expect(soundsSheet(emptyQuestion(own), 0).motors).toHaveLength(8);
    expect(withMelodyKind(own, 'per motor')).toBe(own);
  });
  it('is played by ESCs that are told to; dropped, they play their tones and the rest of the plan stays', () => {
    const {plan} = planned();
    expect(plan.parameters.melody).toEqual({kind: 'same', value: ownMelody});
    const without = withoutMelodies(planned()).plan;
    expect([without.melodies, without.parameters.melody]).toEqual([undefined, {kind: 'same', value: 0}]);
    expect(without.controller).toEqual(plan.controller);
  });
});

describe('what the ESCs keep', () => {
  const states = (q: Parameters<typeof soundsSheet>[0]) => [...new Set(soundsSheet(q, 0).kept.map((k) => k.state))];
  it('is as planned, another one, or not planned', () => {
    expect(states(keeping(planned(), firstMelody))).toEqual(['as planned']);
    expect(states(keeping(planned(), 'other:d=4,o=6,b=120:a'))).toEqual(['differs']);
    expect(states(keeping(juniper, firstMelody))).toEqual(['not planned']);
  });
  it('is nothing where the firmware has no room for it', () => {
    const {found} = questionOf(planned()).record;
    const escs = found!.escs.map((e) => ({...e, settings: {...e.settings!, layout: 6 as const}}));
    expect(states(questionOf(planned(), {record: {found: {...found!, escs}}}))).toEqual(['keeps none']);
  });
  it('has a page without a melody read as another one', () => {
    const {found} = questionOf(planned()).record;
    const escs = found!.escs.map((e) => ({...e, settingsPage: new Uint8Array(1024)}));
    expect(states(questionOf(planned(), {record: {found: {...found!, escs}}}))).toEqual(['differs']);
  });
});

describe('a motor that is let sound', () => {
  const exchanged: Craft = {
    ...juniper,
    plan: {...juniper.plan, controller: {...juniper.plan.controller, arms: [1, 0, 2, 3]}},
  };
  it('is named by the arm that its output turns', () =>
    expect(soundsSheet(questionOf(exchanged), 0).voices.map((v) => v.arm)).toEqual([
      ...['rear right', 'front right', 'rear left', 'front left'],
    ]));
  it('sounds as loud as its ESC is set; before a survey nobody knows', () => {
    expect(soundsSheet(emptyQuestion(juniper), 0).voices[0]!.usual).toBeUndefined();
    expect(soundsSheet(questionOf(juniper), 0).voices[0]!.usual).toBeTypeOf('number');
  });
  it.each([
    [{}, true],
    [{isConnected: false}, false],
    [{isPowered: false}, false],
    [{isOnAdapter: true}, false],
    [{isOccupied: true}, false],
  ])('with the bench %j: %s', (bench, canSound) =>
    expect(soundsSheet(questionOf(juniper, {bench}), 0).canSound).toBe(canSound),
  );
});

describe('a piano roll', () => {
  it('has its notes one after the other over its whole length, high ones up', () => {
    const {bars, range, spoken, length} = pianoRoll(melody('r:d=4,o=5,b=60:c,p,g'));
    expect(bars).toEqual([
      {from: 0, width: expect.closeTo(331.3, 1), row: 8},
      {from: expect.closeTo(666.7, 1), width: expect.closeTo(331.3, 1), row: 1},
    ]);
    expect([range, spoken, length]).toEqual(['C5 to G5', 'C5, pause, G5', '3.0 s']);
  });
  it('shades the rows of the five black keys', () =>
    expect(pianoRoll(melody('r:d=4,o=5,b=60:c,b')).rows.filter((r) => r.isBlack)).toHaveLength(5));
});
