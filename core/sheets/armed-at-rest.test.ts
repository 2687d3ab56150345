/** Motors that rev up by themselves are explained wherever a person sees them. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import type {Found} from '../bench/found';
import {emptyQuestion, questionOf} from '../testing/question-of';
import {armedAtRest} from './armed-at-rest';
import {armingSheet} from './arming/arming';
import {withPlannedSettings} from './parameters/held-settings';
import {spinRemarks} from './spin/spin';

const key = 'behaviour.at_zero_throttle';
const surveyed = await new Harness().survey();
const holding = (value: string): Found => {
  const {controller} = surveyed;
  const settings = {...controller!.settings!, values: {...controller!.settings!.values, [key]: value}};
  return {...surveyed, controller: {...controller!, settings}};
};
const ask = (value: string) => questionOf(juniper, {record: {found: holding(value)}});

describe('what armed motors do at zero throttle', () => {
  it.each([
    ['loop acts', 'motors rev up by themselves'],
    ['motors stop', 'may be armed'],
  ])('%s: is said on Spin and on Arming alike', (value, text) => {
    const q = ask(value);
    const [remark, ...others] = armedAtRest(q);
    expect(others).toEqual([]);
    expect(remark!.text).toContain(text);
    expect(spinRemarks(q, 'order')).toEqual([remark]);
    expect(armingSheet(q, 'switches').remarks).toEqual([remark]);
    expect(spinRemarks(q, 'range')).toEqual([]);
  });

  it('is not said where they idle, or where nobody knows', () => {
    expect(armedAtRest(ask('motors idle'))).toEqual([]);
    expect(armedAtRest(emptyQuestion(juniper))).toEqual([]);
  });

  it('is what the flight controller holds: a plan that is not written yet moves nothing', () => {
    const q = ask('loop acts');
    const planned = questionOf(withPlannedSettings(juniper, q, {[key]: 'motors idle'}), {
      record: {found: q.record.found},
    });
    expect(armedAtRest(planned)).toEqual(armedAtRest(q));
  });
});
