/** What is said of throttle ends: not read, digital, analog, and in every phase of a calibration. */
import {describe, expect, it} from 'vitest';
import {alder} from '@demo/craft/alder';
import {juniper} from '@demo/craft/juniper';
import type {Settings} from '../../settings/page';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {throttleRangeSheet, type EndsNow} from './throttle-range';

const none: EndsNow = {phase: undefined, before: []};
const analog = {...alder, plan: {...alder.plan, controller: {...alder.plan.controller, protocol: 'analog' as const}}};
const withEnds = (craft: typeof alder, of: readonly (readonly [number, number] | undefined)[]) => {
  const {found} = questionOf(craft).record;
  const escs = found!.escs.map((esc) => {
    const ends = of[esc.output];
    const values: Settings = {...(ends && {throttleMin: ends[0], throttleMax: ends[1]})};
    return {...esc, settings: {layout: 8 as const, values}};
  });
  return {found: {...found!, escs}};
};

describe('throttle ends', () => {
  it('of a craft that was never read have no line, and no remark', () => {
    const sheet = throttleRangeSheet(emptyQuestion(analog), none);
    expect([sheet.lines, sheet.unknown, sheet.remarks]).toEqual([[], [], []]);
    expect([sheet.canBegin, sheet.whyNot]).toEqual([false, 'The flight controller must be connected.']);
  });
  it('of a digital protocol are shown, and not calibrated', () => {
    const sheet = throttleRangeSheet(questionOf(juniper), none);
    expect([sheet.isPulse, sheet.canBegin]).toEqual([false, false]);
  });
  it('lie on their scale with the arm they are of; those of a foreign ESC are not known', () => {
    const record = withEnds(analog, [[1020, 1980], undefined, [950, 2050]]);
    const {lines, unknown} = throttleRangeSheet(questionOf(analog, {record}), none);
    expect(lines.map((l) => [l.output, l.fromPercent, l.widthPercent])).toEqual([
      [0, expect.closeTo(6.36, 2), expect.closeTo(87.27, 2)],
      [2, 0, 100],
    ]);
    expect(lines[0]!.arm).toBe('front right');
    expect(unknown).toEqual([1, 3, 4, 5]);
  });
  it('have a line for each of eight motors', () => {
    const eight = withEightMotors(analog);
    const record = withEnds(
      eight,
      Array.from({length: 8}, () => [1020, 1980] as const),
    );
    expect(throttleRangeSheet(questionOf(eight, {record}), none).lines).toHaveLength(8);
  });
  it('show what was there before a calibration', () => {
    const record = withEnds(analog, [[1020, 1980]]);
    const before = [{output: 0, minUs: 1044, maxUs: 1862, centreUs: undefined}];
    const {lines, hasBefore} = throttleRangeSheet(questionOf(analog, {record}), {phase: 'done', before});
    expect([hasBefore, lines[0]!.before]).toEqual([true, '1044–1862']);
  });
});

describe('a calibration', () => {
  it.each([
    ['battery off', 0, true],
    ['highest', 1, true],
    ['taken', 2, true],
    ['lowest', 3, true],
    ['done', 4, false],
  ] as const)('in its phase "%s" points at its step', (phase, step, isUnderWay) => {
    const sheet = throttleRangeSheet(questionOf(analog), {phase, before: []});
    expect(sheet.steps.findIndex((s) => s.isNow)).toBe(step);
    expect([sheet.isUnderWay, sheet.note !== '']).toEqual([isUnderWay, true]);
  });
  it('cannot begin on the adapter, or beside something else', () => {
    const of = (bench: object) => throttleRangeSheet(questionOf(analog, {bench}), none);
    expect(of({})).toMatchObject({canBegin: true, whyNot: ''});
    expect(of({isOccupied: true})).toMatchObject({canBegin: false, whyNot: ''});
    expect(of({isOnAdapter: true}).whyNot).toBe('The flight controller must be connected.');
  });
});
