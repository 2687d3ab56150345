/** What Parameters says: lines against the plan, what differs, and what an open line offers. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {demoCraft, Harness, shelf} from '@simulator/testing/bench-harness';
import {plannedEscs} from '../../compare/rules/judge-plan';
import received from '../../../demo/catalogue.json';
import type {Craft} from '../../craft/craft';
import type {Catalogue} from '../../firmware/releases';
import type {ParameterKey} from '../../settings/definitions';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import type {CraftQuestion} from '../craft-question';
import {parameterPanel, sharedValue} from './parameter-panel';
import {parametersSheet, type ParametersSheet} from './parameters';

const judged = {layout: 8, findings: []} as const;
const sheet = (q: CraftQuestion) => parametersSheet(q, judged);
const line = ({groups}: ParametersSheet, key: ParameterKey) =>
  groups.flatMap((g) => g.rows).find((r) => r.definition.key === key)!;
const old = await new Harness().survey();
const before = questionOf(juniper, {record: {found: old}});

describe('the parameters sheet', () => {
  it('of a craft that nobody has connected knows no value, and has nothing to begin with', () => {
    const {differing, canBegin, groups} = sheet(emptyQuestion(juniper));
    expect([differing, canBegin]).toEqual([0, false]);
    expect(new Set(groups.flatMap((g) => g.rows.map((r) => r.verdict.kind)))).toEqual(new Set(['unknown']));
  });

  it('counts the lines that differ, group by group', () => {
    const {differing, groups} = sheet(before);
    expect(differing).toBe(4);
    expect(groups.reduce((sum, g) => sum + g.differing, 0)).toBe(differing);
    expect(line(sheet(before), 'activeBraking')).toMatchObject({
      ...{values: [1, 1, 0, 1], verdict: {kind: 'differs', symptom: expect.any(String)}},
    });
  });

  it('of a craft as planned, with four motors or eight, nothing differs', () => {
    for (const craft of [juniper, withEightMotors(juniper)]) {
      const {differing, motors} = sheet(questionOf(craft));
      expect([differing, motors]).toEqual([0, craft.arms.length]);
    }
  });

  it('a craft without a plan can begin with what was found', () => {
    const bare: Craft = {...juniper, plan: {...juniper.plan, parameters: {}}};
    expect(sheet(questionOf(bare)).canBegin).toBe(true);
  });

  it('a PWM that is built into the image is compared with the one of the planned image', async () => {
    const sorrel = demoCraft('sorrel');
    const h = new Harness({craft: sorrel});
    const pwm = async () => line(sheet(questionOf(sorrel, {record: {found: await h.survey()}})), 'pwm').verdict;
    expect(await pwm()).toEqual({kind: 'moves together', text: 'all motors: 24 → 48 kHz, with the image'});
    await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
    expect(await pwm()).toEqual({kind: 'not planned', text: 'comes with the image, 48 kHz planned'});
  });
});

describe('an open line', () => {
  const escs = plannedEscs(juniper, old, shelf.imageFor(juniper));
  const panel = (key: ParameterKey) => parameterPanel(line(sheet(before), key), before, escs[0]);

  it('offers the values of single motors for all, where they differ', () => {
    const {candidates, canAdopt} = panel('activeBraking');
    expect([candidates.map((c) => c.text), canAdopt]).toEqual([
      ['on of motors 1, 2 and 4 for all', 'off of motor 3 for all'],
      true,
    ]);
    expect(panel('pwm').candidates).toEqual([]);
  });

  it('holds figures of what was found against those of the plan, each column with its motors', () => {
    const {columns, figures, effect, chartLabel} = panel('pwm');
    expect(columns.map((c) => `${c.shown} ${c.title}`)).toEqual(
      expect.arrayContaining(['24 kHz found, all motors', '48 kHz planned, all motors']),
    );
    expect(effect).toBeDefined();
    expect(figures.every((f) => f.texts.length === columns.length)).toBe(true);
    expect(chartLabel).toContain('planned, all motors: 48 kHz');
  });

  it('computes nothing for a stator size that does not read, and says which', () => {
    const odd: Craft = {...juniper, motor: {...juniper.motor, size: 'big'}};
    const q = questionOf(odd, {record: {found: old}});
    expect(parameterPanel(line(sheet(q), 'pwm'), q, escs[0])).toMatchObject({unreadSize: 'big', figures: []});
  });

  it('knows the value that picked motors share in the plan', () => {
    const row = line(sheet(before), 'timing');
    expect(sharedValue(row, [0, 1])).toEqual({kind: 'same', value: row.wanted[0]});
    expect(sharedValue(line(sheet(before), 'rotation'), [0, 1, 2, 3])).toBeUndefined();
    expect(sharedValue(row, [])).toBeUndefined();
  });
});

describe('values that somebody else chose', () => {
  const {boards} = JSON.parse(received.catalogue) as Catalogue;
  const of = (key: ParameterKey, board?: string) => {
    const q = {...before, board: boards.find((b) => b.name === board)};
    return parameterPanel(line(sheet(before), key), q, undefined).defaults;
  };

  it('are the default, and what the maker of the board leaves it at', () => {
    expect(of('temperatureLimit')).toEqual([{value: 105, text: 'Default, 105 °C'}]);
    expect(of('temperatureLimit', 'Schist 40')).toEqual([
      {value: 105, text: 'Default, 105 °C'},
      {value: 0, text: 'Schist 40 as made, off'},
    ]);
    expect(of('currentLimit', 'Gneiss 45')).toEqual([{value: 45, text: 'Default, 45 A, also of Gneiss 45'}]);
  });
  it('are none where every motor has its own', () => expect(of('rotation', 'Gneiss 45')).toEqual([]));
  it('a catalogue that names a value which nobody may plan is not followed', () => {
    const board = {...boards[0]!, defaults: {temperatureLimit: 7}};
    expect(
      parameterPanel(line(sheet(before), 'temperatureLimit'), {...before, board}, undefined).defaults,
    ).toHaveLength(1);
  });
});
