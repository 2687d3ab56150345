/** What is said of levelling: asked where something levels itself, kept where the plan is set, offsets planned on top of those held. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {describeSettings} from '@simulator/hardware/controller/held-settings';
import type {LevelMeasure} from '../../arming/levelling';
import type {SettingValues} from '../../link/setting-shapes';
import type {Craft} from '../../craft/craft';
import {proofOf} from '../../testing/proof-of';
import {provenRecord, questionOf} from '../../testing/question-of';
import {signOffSheet} from '../order/sign-off';
import {withPlannedSettings} from '../parameters/held-settings';
import {armingSheet, canProve} from './arming';
import {levellingSheet} from './levelling';

const level = {use: 'level', channel: 6, fromUs: 1700, toUs: 2100} as const;
const {plan} = juniper;
const levelled: Craft = {
  ...juniper,
  plan: {...plan, controller: {...plan.controller, switches: [...(plan.controller.switches ?? []), level]}},
};
/** With a controller that tells what it takes off. */
function telling(craft: Craft, values: SettingValues = {'level.offset_x': 10}) {
  const {found} = provenRecord(craft);
  const identity = {...found!.controller!.identity, version: '2.2'};
  const settings = {entries: describeSettings('2.2'), values};
  return questionOf(craft, {record: {found: {...found!, controller: {...found!.controller!, identity, settings}}}});
}
const measured = (x: number): LevelMeasure => ({mean: [x, 0, -1], readings: 40, errorG: 0.0005});
const looking = (result?: LevelMeasure) => ({isRead: true, share: undefined, result});

describe('levelling', () => {
  it('is asked of arming and of Sign-off only where a switch has levelled flying', () => {
    const names = (craft: Craft) => armingSheet(questionOf(craft), 'mounting').proofs.map((p) => p.name);
    expect([names(juniper).includes('level'), names(levelled).includes('level')]).toEqual([false, true]);
    const bare = {...provenRecord(levelled), proofs: provenRecord(levelled).proofs.filter((p) => p.kind !== 'level')};
    const open = signOffSheet(questionOf(levelled, {record: bare})).open.map((l) => l.name);
    expect(open).toContain('Level is level');
    const proven = {...bare, proofs: [...bare.proofs, proofOf('level', levelled)]};
    expect(signOffSheet(questionOf(levelled, {record: proven})).open.map((l) => l.name)).not.toContain(
      'Level is level',
    );
  });
  it('says why, what it waits for and what came out', () => {
    expect(levellingSheet(questionOf(juniper), looking()).why).toContain('not asked');
    const waiting = levellingSheet(questionOf(levelled), {isRead: true, share: 0.4, result: undefined});
    expect([waiting.why.includes('has a switch'), waiting.asked]).toEqual([
      true,
      'Leave it alone. 40 % of two seconds at rest.',
    ]);
    expect(levellingSheet(questionOf(levelled), looking(measured(0))).verdict).toMatchObject({
      holds: true,
      title: 'Level',
    });
  });
  it('plans offsets on top of those that are held, once', () => {
    const q = telling(levelled);
    const {offer, offsets} = levellingSheet(q, looking(measured(0.04)));
    expect(offer).toEqual({
      text: 'Plan the offsets 50, 0, 0 mg',
      edits: {'level.offset_x': 50, 'level.offset_y': 0, 'level.offset_z': 0},
    });
    expect(offsets.map((o) => o.text)).toEqual(['10, 0, 0 mg', '10, 0, 0 mg']);
    const planned = telling(withPlannedSettings(levelled, q, offer!.edits));
    const after = levellingSheet(planned, looking(measured(0.04)));
    expect([after.offer, after.offsets.map((o) => o.isSet)]).toEqual([undefined, [true, false]]);
    expect([canProve(q, 'level'), canProve(planned, 'level')]).toEqual([true, false]);
  });
  it('plans none where the firmware tells none, or where it is not the accelerometer', () => {
    expect(levellingSheet(questionOf(levelled), looking(measured(0.04))).offer).toBeUndefined();
    expect(levellingSheet(telling(levelled), looking(measured(0.3))).offer).toBeUndefined();
  });
});
