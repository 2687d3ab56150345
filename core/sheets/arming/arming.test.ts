/** What Arming says as a whole, and whether what is measured now can prove anything, in the states a craft can be in. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {emptyQuestion, provenRecord, questionOf, withEightMotors} from '../../testing/question-of';
import {foundWith, planning} from '../../testing/with-config';
import {armingField, armingSheet, armingViews, askLines, canProve, isSetAsPlanned} from './arming';

describe('the station', () => {
  it('of a craft that nobody connected asks for the connection, and all of its proofs are open', () => {
    const {asks, proofs} = armingSheet(emptyQuestion(juniper), 'mounting');
    expect(asks).toBe('connection');
    expect(proofs.map((p) => [p.name, p.word, p.since])).toEqual([
      ['mounting', 'open', ''],
      ['receiver', 'open', ''],
      ['fail-safe', 'open', ''],
    ]);
  });
  it('on the adapter asks for the other cable; half a survey, without the controller, for the connection', () => {
    expect(armingSheet(questionOf(juniper, {bench: {isOnAdapter: true}}), 'loop').asks).toBe('other cable');
    const half = {...provenRecord(juniper).found!, controller: undefined};
    expect(armingSheet(questionOf(juniper, {record: {found: half}}), 'loop').asks).toBe('connection');
  });
  it('with everything proven asks nothing; of eight motors too', () => {
    for (const craft of [juniper, withEightMotors(juniper)]) {
      const {asks, proofs} = armingSheet(questionOf(craft), 'fail-safe');
      expect([asks, new Set(proofs.map((p) => p.word))]).toEqual([undefined, new Set(['✓ current'])]);
    }
  });
  it('says why a proof is no longer valid', () => {
    const found = foundWith(juniper, {mounting: {roll: 0, pitch: 0, yaw: 90}});
    const {proofs} = armingSheet(questionOf(juniper, {record: {found, foundPlace: 9}}), 'mounting');
    const mounting = proofs.find((p) => p.name === 'mounting')!;
    expect(mounting).toMatchObject({word: '○ no longer valid', tag: 'wait'});
    expect(mounting.since).toMatch(/^No longer valid: /);
  });
  it('without planned replies has no fail-safe to prove', () =>
    expect(armingSheet(emptyQuestion(planning(juniper, {replies: false})), 'loop').proofs).toHaveLength(2));
  it('has a lead of its own for each view', () =>
    expect(new Set(armingViews.map(({value}) => armingSheet(emptyQuestion(juniper), value).lead)).size).toBe(5));
});

describe('what is set and what is planned', () => {
  const turned = {roll: 0, pitch: 0, yaw: 270};
  it('are told apart; where the plan is silent it is what was found', () => {
    const q = questionOf(planning(juniper, {mounting: turned}), {
      record: {found: foundWith(juniper, {mounting: {roll: 0, pitch: 0, yaw: 0}})},
    });
    expect(armingField(q, 'mounting')).toEqual({set: {roll: 0, pitch: 0, yaw: 0}, planned: turned});
    const silent = questionOf(juniper, {
      record: {found: foundWith(juniper, {failSafe: {action: 'land', afterMs: 1000}})},
    });
    expect(armingField(silent, 'failSafe').planned).toEqual({action: 'land', afterMs: 1000});
  });
  it('are the same mounting where the board sits alike: upside down about one axis is half a turn about the other two', () => {
    const found = foundWith(juniper, {mounting: {roll: 180, pitch: 0, yaw: 0}});
    const q = questionOf(planning(juniper, {mounting: {roll: 0, pitch: 180, yaw: 180}}), {record: {found}});
    expect(isSetAsPlanned(q, 'mounting')).toBe(true);
  });
  it.each([
    ['mounting', {mounting: turned}],
    ['receiver', {receiver: {kind: 'serial', port: 1, roll: 2, pitch: 1, throttle: 3, yaw: 4, deadBandUs: 0}}],
    ['fail-safe', {failSafe: {action: 'hold', afterMs: 400}}],
  ] as const)('a plan of %s that is not written yet proves nothing of itself', (kind, changes) => {
    const found = foundWith(juniper, {
      mounting: {roll: 0, pitch: 0, yaw: 0},
      receiver: {kind: 'serial', port: 1, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 0},
      failSafe: {action: 'drop', afterMs: 400},
    });
    expect(canProve(questionOf(juniper, {record: {found}}), kind)).toBe(true);
    expect(canProve(questionOf(planning(juniper, changes), {record: {found}}), kind)).toBe(false);
  });
});

it('of what is asked one after the other the one that is next is named', () =>
  expect([undefined, 0, 1, 3].map((taken) => askLines(['a', 'b', 'c'], taken).map((l) => l.state))).toEqual([
    ['to come', 'to come', 'to come'],
    ['now', 'to come', 'to come'],
    ['taken', 'now', 'to come'],
    ['taken', 'taken', 'taken'],
  ]));
