/** What is said of how the board is mounted; that an accelerometer at rest reads 1 g upwards is a fact of the trade. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import type {FoundMounting} from '../../arming/mounting';
import type {Mounting} from '../../controller/arming-fields';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {foundWith, planning} from '../../testing/with-config';
import {attitudeShape, mountingSheet, type MountingNow} from './mounting';

const straight: Mounting = {roll: 0, pitch: 0, yaw: 0};
const turned: Mounting = {roll: 0, pitch: 0, yaw: 270};
const nothing: MountingNow = {g: undefined, taken: undefined, result: undefined};
const shown = (mounting: Mounting): FoundMounting => ({
  ...{kind: 'found', mounting, isRightAngled: true, offDeg: 1, boundDeg: 6, nextDeg: 88},
});
const set = (mounting: Mounting, craft = juniper) =>
  questionOf(craft, {record: {found: foundWith(juniper, {mounting})}});

describe('the mounting', () => {
  it('of a craft that nobody connected cannot be shown', () => {
    const sheet = mountingSheet(emptyQuestion(juniper), nothing);
    expect([sheet.figures, sheet.begin, sheet.asked]).toEqual(['roll –, pitch –', {isOpen: false, title: 'Begin'}, '']);
  });
  it('tells how the craft is held by the mounting that is set', () => {
    // Nose down by 30°: forward reads what gravity takes from the upward axis.
    const g = [-Math.sin(Math.PI / 6), 0, -Math.cos(Math.PI / 6)] as const;
    expect(mountingSheet(set(straight), {...nothing, g}).figures).toBe('roll 0°, pitch -30°');
    expect(mountingSheet(set(straight), {...nothing, g}).begin.isOpen).toBe(true);
  });
  it('asks the poses one after the other', () => {
    const {poses, asked} = mountingSheet(set(straight), {...nothing, g: [0, 0, -1], taken: 1});
    expect(poses.map((p) => p.state)).toEqual(['taken', 'now', 'to come']);
    expect(asked).toBe('Tilt its nose down by 45° or so.');
  });
  it('that is as set is said so, and nothing is offered', () => {
    const {verdict, offer} = mountingSheet(set(straight), {...nothing, result: shown(straight)});
    expect([verdict!.holds, verdict!.title, offer]).toEqual([true, 'As set', undefined]);
  });
  it('that is another one is offered, until it is planned; then the work order sets it', () => {
    const before = mountingSheet(set(straight), {...nothing, result: shown(turned)});
    expect(before.verdict).toMatchObject({holds: false, title: 'Not as set'});
    expect([before.offer!.mounting, before.isSet]).toEqual([turned, true]);
    const planned = planning(juniper, {mounting: turned});
    const after = mountingSheet(set(straight, planned), {...nothing, result: shown(turned)});
    expect([after.offer, after.isSet, after.found]).toEqual([undefined, false, 'straight ahead and upright']);
  });
  it('that the poses did not show is told with what to do', () =>
    expect(mountingSheet(set(straight), {...nothing, result: {kind: 'unclear', why: 'Tilt further.'}}).verdict).toEqual(
      {
        ...{holds: false, title: 'Not clear', text: 'Tilt further.'},
      },
    ));
});

describe('the drawing', () => {
  it('of nothing has the level alone', () => {
    const {label, arms, nose, level} = attitudeShape(emptyQuestion(juniper), undefined);
    expect([label, arms, nose, level.startsWith('M')]).toEqual(['The craft; nothing is measured', [], '', true]);
  });
  it('of a craft with its right side down has its right arms lower, eight of them too', () => {
    const g = [0, -Math.sin(Math.PI / 4), -Math.cos(Math.PI / 4)] as const;
    const shape = attitudeShape(questionOf(withEightMotors(juniper)), g);
    expect(shape.arms).toHaveLength(8);
    expect(shape.label).toMatch(/45° right side down/);
    const [right, left] = [shape.arms.filter((a) => a.at.x > 155), shape.arms.filter((a) => a.at.x < 145)];
    const lowest = (arms: typeof right) => Math.max(...arms.map((a) => a.at.y));
    expect(lowest(right)).toBeGreaterThan(lowest(left));
    const [front, side] = shape.sides;
    expect([front!.name, side!.name, side!.at.x > front!.at.x, side!.at.y > front!.at.y]).toEqual([
      'front',
      'right',
      true,
      true,
    ]);
  });
});
