/** A proof has an age: it holds, it held, or it is void, and says since when and why. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {wholePlan} from '../craft/whole-plan';
import {proofOf, testSession} from '../testing/proof-of';
import {countOf, isSome, isWholeProof} from './proof';
import {isProven, standingOf, standingText, type StandingQuestion} from './standing';

const question: StandingQuestion = {
  plan: wholePlan(juniper),
  motors: 4,
  found: undefined,
  proofs: [proofOf('pages', juniper), proofOf('settings', juniper), proofOf('replies', juniper)],
  written: {},
  now: {session: testSession, cycles: 1},
};
const pages = (over: Partial<StandingQuestion>) => standingOf('pages', {...question, ...over});
const changed = (controller: Partial<typeof juniper.plan.controller>) => ({
  ...wholePlan(juniper),
  controller: {...wholePlan(juniper).controller, ...controller},
});

describe('a proof', () => {
  it('holds in the connection and power cycle it was taken in', () => {
    expect(pages({})).toMatchObject({kind: 'holds'});
    expect(standingText(pages({}))).toBe('');
    expect(pages({proofs: []})).toEqual({kind: 'none'});
    expect(pages({proofs: [proofOf('pages', juniper, {holds: false})]})).toMatchObject({kind: 'failed'});
  });

  it.each([
    ['a battery cycle', {session: testSession, cycles: 2}, 'It held then; the battery was off since.'],
    [
      'a reload or a cable out',
      {session: 'another', cycles: 1},
      'It held then; the cable was out or the page was loaded anew since.',
    ],
    ['no bench', undefined, 'It held then; the bench is not connected now.'],
  ])('held, after %s', (_, now, text) => {
    const standing = pages({now});
    expect([standing.kind, isProven(standing), standingText(standing)]).toEqual(['held', true, text]);
  });

  it.each([
    [
      'another firmware is planned',
      {plan: {...juniper.plan, firmware: {family: 'Meridian', version: '4.1'}}},
      'the plan is another one now',
    ],
    ['an order wrote since', {written: {firmware: 6}}, 'a work order has written since'],
    ['it was not taken on every motor', {motors: 6}, 'it was not taken on motors 5 and 6'],
    ['it proved no plan', {proofs: [proofOf('pages', juniper, {planned: ''})]}, 'the plan is another one now'],
  ] as [string, Partial<StandingQuestion>, string][])('void: %s', (_, over, why) => {
    const standing = pages(over);
    expect(standing).toMatchObject({kind: 'void', why: expect.stringContaining(why)});
    expect(isProven(standing)).toBe(false);
  });

  it('void: another ESC is there now', () => {
    const found = {at: 9, escs: [{output: 2, boot: {serial: 'other'}}]} as unknown as StandingQuestion['found'];
    expect(pages({found})).toMatchObject({kind: 'void', why: 'another ESC is on motor 3 now'});
  });

  it('each kind is about its own part of the plan', () => {
    const kinds = (plan: typeof juniper.plan) =>
      (['pages', 'settings', 'replies'] as const).map((kind) => standingOf(kind, {...question, plan}).kind);
    expect(kinds(changed({notchQ: 9}))).toEqual(['holds', 'void', 'holds']);
    expect(kinds(changed({loopHz: 2000}))).toEqual(['holds', 'void', 'void']);
    // Back to what it was: what was measured is true again. The order of keys says nothing.
    const {parameters} = juniper.plan;
    const turned = Object.fromEntries(Object.entries(parameters).reverse());
    expect(kinds({...wholePlan(juniper), parameters: turned})).toEqual(['holds', 'holds', 'holds']);
  });

  it('of nothing has no type, and records of before ESCs were named are none', () => {
    expect([countOf(0), countOf(-1), countOf(1.5), countOf(3)]).toEqual([undefined, undefined, undefined, 3]);
    expect([isSome([]), isSome([1])]).toEqual([false, true]);
    // @ts-expect-error zero is no count
    const nothing = proofOf('pages', juniper, {count: 0, on: []});
    expect(isWholeProof(nothing)).toBe(false);
    expect(isWholeProof({kind: 'pages', at: 1, holds: true, text: '0 of 0'} as never)).toBe(false);
  });
});
