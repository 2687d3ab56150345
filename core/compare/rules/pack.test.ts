/** Cells and current of the pack against the label of the board. */
import {describe, expect, it} from 'vitest';
import {demoCraft, Harness, shelf} from '@simulator/testing/bench-harness';
import type {Craft} from '../../craft/craft';
import {makeWorkOrder} from '../../run/order/make-order';
import {surveyFindings} from '../survey-findings';
import {judgePlan, ruleQuestion} from './judge-plan';
import {cellRange, fullCurrent, maxVolts} from './pack';

const board = {name: 'Gneiss 45', amps: 45, cells: '3–6S'};
const found = await new Harness().survey();
const withCells = (cells: number): Craft => {
  const juniper = demoCraft('juniper');
  return {...juniper, battery: {...juniper.battery, cells}};
};
const judged = (craft: Craft, rating = board) =>
  judgePlan({...ruleQuestion(craft, found, shelf.imageFor(craft)), board: rating}).map((f) => f.id);

describe('the label of a board', () => {
  it.each([
    ['3–6S', {least: 3, most: 6}],
    ['3-8S', {least: 3, most: 8}],
    ['1S', {least: 1, most: 1}],
    ['any', undefined],
  ])('%s', (label, range) => expect(cellRange(label)).toEqual(range));

  it('6 cells are 25.2 V when full (trade fact: 4.2 V a cell)', () => expect(maxVolts(board)).toBeCloseTo(25.2, 6));
});

describe('a pack', () => {
  it('with more cells than the board is made for is refused before anything is planned on it', () => {
    expect(judged(withCells(6))).not.toContain('pack-cells');
    expect(judged(withCells(8))).toContain('pack-cells');
    const craft = withCells(8);
    const order = makeWorkOrder({id: 'x', at: 1, craft, found, imageFor: shelf.imageFor(craft), board});
    expect(order).toMatchObject({ok: false, problem: {code: 'rule-pack-cells'}});
  });

  it('plugged in all the same is named at the survey', () => {
    const at = (volts: number) => surveyFindings(withCells(6), {...found, power: {...found.power, volts}}, board);
    expect(at(25.2).some((f) => f.word === 'battery')).toBe(false);
    expect(at(33).find((f) => f.word === 'battery')?.text).toContain('Unplug it now');
  });

  it('that lets motors draw more than the board is rated for is told with both numbers', () => {
    expect(judged(withCells(6), {...board, amps: 200})).not.toContain('board-current');
    const craft = withCells(6);
    const small = {...board, amps: 5};
    const [finding] = judgePlan({...ruleQuestion(craft, found, shelf.imageFor(craft)), board: small}).filter(
      (f) => f.id === 'board-current',
    );
    expect(finding?.meaning).toMatch(/each motor is predicted to draw \d+ A, \d+ A in all .* rated for 5 A/);
  });

  it('and motors, by the highest current of their labels: one line each, none without a label', () => {
    const juniper = withCells(6);
    const {perMotor, inAll} = fullCurrent(ruleQuestion(juniper, found, shelf.imageFor(juniper)))!;
    expect(inAll).toBeCloseTo(4 * perMotor, 6);
    const labelled = (pack: number, motor: number): Craft => ({
      ...juniper,
      battery: {...juniper.battery, amps: pack},
      motor: {...juniper.motor, amps: motor},
    });
    const free = {...board, amps: 500};
    expect(judged(juniper, free).filter((id) => id.endsWith('-current'))).toEqual([]);
    expect(judged(labelled(inAll + 1, perMotor + 1), free).filter((id) => id.endsWith('-current'))).toEqual([]);
    expect(judged(labelled(inAll - 1, perMotor - 1), free)).toEqual(
      expect.arrayContaining(['pack-current', 'motor-current']),
    );
  });
});
