/** One ESC on the bench without a craft: what its route, its rules and its sign-off ask, and the way through it. */
import {describe, expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import {judgePlan, ruleQuestion} from '../../compare/rules/judge-plan';
import {craftSchema, type Craft} from '../../craft/craft';
import {looseEsc} from '../../craft/presets';
import {blankRecord} from '../../route/craft-record';
import {stillOpen} from '../../route/still-open';
import {openStations} from '../../route/stations';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {newCraft, newCraftSheet} from '../keeping/new-craft';
import {signOffSheet} from '../order/sign-off';
import {surveyRound} from './survey-round';

// The bench of that name has one ESC.
const identity = {id: 'loose', name: 'Spare'};
const spare = looseEsc(identity);
const bench = (craft: Craft = spare) => {
  const h = new Harness({craft});
  h.bench.clippedTo = 0;
  return h;
};

describe('a loose ESC', () => {
  it('is made from the dialog of new craft, and is whole', () => {
    expect(newCraftSheet([], [], {pickedId: 'loose', typed: 'Spare'}).picked.name).toBe('One ESC on the bench');
    expect(newCraft('loose', [], identity)).toMatchObject({loose: true, arms: [{name: 'ESC'}]});
    expect(craftSchema.parse(spare)).toEqual(spare);
  });

  it('has stations for what an ESC has, and no others', () => {
    const {states} = emptyQuestion(spare);
    const absent = Object.entries(states).flatMap(([name, {state}]) => (state === 'absent' ? [name] : []));
    expect(absent).toEqual(['spin', 'signal', 'arming', 'noise']);
    expect(openStations(states)).toEqual(['survey', 'firmware', 'parameters']);
    expect(stillOpen(states).map((s) => s.station)).toEqual(['survey', 'firmware', 'parameters']);
    expect(surveyRound(emptyQuestion(spare), {waitingS: undefined, nobodyCame: undefined}).arms).toHaveLength(1);
  });

  it('is read, written and proven on an adapter, with nothing of a craft in its way', async () => {
    const h = bench();
    const found = await h.surveyArm(0);
    expect(found.escs[0]).toMatchObject({boot: {serial: 'B30-7208', dialect: 'B'}, identity: {version: '3.7'}});
    const planned: Craft = {...spare, plan: {...spare.plan, parameters: {timing: {kind: 'same', value: 22.5}}}};
    expect(judgePlan(ruleQuestion(planned, found, () => undefined))).toEqual([]);
    const own = bench(planned);
    const outcome = await own.carryOut(await own.order());
    expect(outcome.kind === 'finished' && outcome.proofs.map((p) => p.kind)).toEqual(['pages', 'settings']);
    const after = await own.surveyArm(0);
    expect(after.escs[0]).toMatchObject({identity: {version: '4.2'}, settings: {values: {timing: 22.5}}});
    // What it held and nobody planned is still there.
    expect(after.escs[0]!.settings!.values.startLow).toBe(1025);
  });

  it('is proven by its own lines alone', () => {
    const q = questionOf(spare);
    const {verdict, lines} = signOffSheet(q);
    expect(lines.map((l) => l.station)).toEqual(['survey', 'firmware', 'parameters']);
    expect(verdict).toBe('proven');
    expect(signOffSheet({...q, record: blankRecord(spare.id)}).verdict).toBe('open');
  });
});
