/** What Parameters shows of turn rates. */
import {beforeAll, describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import type {Found} from '../../bench/found';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {withPlannedSettings} from './held-settings';
import {ratesSheet} from './turn-rates';

let found: Found;
beforeAll(async () => {
  const settings = {'rates.roll_highest': 720, 'rates.roll_curve': 50};
  found = await new Harness({setup: (b) => ({...b, controller: {...b.controller, settings}})}).survey();
});

describe('turn rates', () => {
  it('are drawn as found, with what a µs, half the throw and the end are worth', () => {
    const sheet = ratesSheet(questionOf(juniper, {record: {found}}))!;
    expect(sheet.rows.map(({name, differs, curves}) => [name, differs, curves.map(({of}) => of)])).toEqual([
      ['Roll', false, ['found']],
      ['Pitch', false, ['found']],
      ['Yaw', false, ['found']],
    ]);
    // 200 · 0.5 + 520 · 0.5^4 = 132.5.
    expect(sheet.rows[0]!.cells).toEqual(['0.40 deg/s', '133 deg/s', '720 deg/s']);
    expect(sheet.rows[0]!.label).toBe('Roll over the stick, to 720 deg/s at its end');
    expect(sheet.highest).toBe(800);
  });

  it('stand beside those that are planned', () => {
    const q = questionOf(juniper, {record: {found}});
    const craft = withPlannedSettings(juniper, q, {'rates.roll_centre': 100, 'rates.roll_highest': 1250});
    const [roll, pitch] = ratesSheet(questionOf(craft, {record: {found}}))!.rows;
    expect(roll).toMatchObject({differs: true, cells: ['0.40 → 0.20 deg/s', '133 → 122 deg/s', '720 → 1250 deg/s']});
    expect(roll!.curves.map(({of, points}) => [of, points.at(-1)])).toEqual([
      ['found', [1, 720]],
      ['planned', [1, 1250]],
    ]);
    expect(pitch!.differs).toBe(false);
  });

  it('are not drawn in other units, nor before a survey', async () => {
    const older = await new Harness({craft: demoCraft('bramble'), oldController: true}).survey();
    expect(ratesSheet(questionOf(juniper, {record: {found: older}}))).toBeUndefined();
    expect(ratesSheet(emptyQuestion(juniper))).toBeUndefined();
  });
});
