/** What shows the pole count, and what a wrong one does, in the states that a craft can be in. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import type {Craft} from '../../craft/craft';
import {foundAsPlanned} from '../../testing/found-as-planned';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {polesSheet, type PolesNow} from './poles';

const nothing: PolesNow = {card: undefined, flight: undefined, rpm: undefined};
const withPoles = (poles: number): Craft => ({
  ...juniper,
  plan: {...juniper.plan, controller: {...juniper.plan.controller, poles}},
});
const of = (q: Parameters<typeof polesSheet>[0], now: Partial<PolesNow> = {}) =>
  Object.fromEntries(polesSheet(q, {...nothing, ...now}).findings.map((f) => [f.id, f]));

describe('what shows the pole count', () => {
  it('of a craft that nobody connected is the magnets that were counted', () => {
    const findings = of(emptyQuestion(juniper));
    expect(findings['counted']).toMatchObject({tag: 'ok', text: '14 magnets on the Craft station, and 14 planned.'});
    for (const id of ['controller', 'speed', 'card', 'flight']) expect(findings[id]!.tag).toBe('wait');
  });

  it('a plan of another count is told with one change', () =>
    expect(of(emptyQuestion(withPoles(12)))['counted']).toMatchObject({tag: 'diff', action: {change: {poles: 14}}}));

  it('a controller that holds another reads speeds by 14/12, and the work order waits', () => {
    const found = foundAsPlanned(juniper);
    const twelve = {...found, controller: {...found.controller!, config: {...found.controller!.config, poles: 12}}};
    const {controller} = of(questionOf(juniper, {record: {found: twelve}}));
    expect(controller).toMatchObject({tag: 'diff', action: {text: 'Carry out the work order'}});
    expect(controller!.text).toContain('1.17 ×');
  });

  it('a motor card fits by its KV, or with the poles that the ratio tells', () => {
    const kv = juniper.motor.kv;
    expect(of(questionOf(juniper), {card: {kvs: [kv, kv * 1.01], poles: 14}})['card']!.tag).toBe('ok');
    // 12 magnets taken for 14: speeds, and the KV with them, read 12/14 of what they are.
    const wrong = of(questionOf(juniper), {card: {kvs: [(kv * 12) / 14], poles: 14}})['card']!;
    expect([wrong.tag, wrong.text]).toEqual(['diff', expect.stringContaining('it fits with 12 poles')]);
    expect(of(questionOf(juniper), {card: {kvs: [], poles: 14}})['card']!.tag).toBe('wait');
  });

  it('a flight tells it, or says why not', () => {
    const verdict = {kind: 'found', poles: 12, ratio: 0.86, marginDb: 9} as never;
    expect(of(questionOf(juniper), {flight: {verdict, loggedPoles: 14}})['flight']).toMatchObject({
      ...{tag: 'diff', text: expect.stringContaining('Logged with 14 poles, these motors have 12')},
    });
    expect(of(questionOf(juniper), {flight: {verdict: undefined, loggedPoles: 14}})['flight']!.text).toContain(
      'The open flight gives no answer',
    );
  });
});

describe('what a wrong count does', () => {
  it('moves speed and notch by the ratio of the counts', () => {
    const {lines, rpm} = polesSheet(emptyQuestion(juniper), {...nothing, rpm: 12_000});
    expect(rpm).toBe(12_000);
    expect(lines.map((l) => l.poles)).toEqual([10, 12, 14, 16, 18]);
    // 12,000 rpm are 200 Hz; read with 12 instead of 14 poles 14,000 rpm and 233 Hz.
    expect(lines[1]).toMatchObject({reads: '14,000 rpm', ratio: '1.167', notch: '233 Hz', beside: '33 Hz'});
    expect(lines[2]).toMatchObject({isCounted: true, isPlanned: true, beside: '–', reads: '12,000 rpm'});
  });

  it('has half of the speed without load where nobody says another', () => {
    const {motor, battery} = juniper;
    const half = 0.5 * motor.kv * battery.cells * 4;
    expect(Math.abs(polesSheet(emptyQuestion(juniper), nothing).rpm - half)).toBeLessThanOrEqual(250);
  });

  it('says so where no notches are planned', () => {
    const {plan} = juniper;
    const bare = {...juniper, plan: {...plan, controller: {...plan.controller, notchHarmonics: []}}};
    expect(polesSheet(emptyQuestion(bare), nothing).note).toContain('(none planned)');
  });
});
