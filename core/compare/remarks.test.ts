/** Sentences that stations show: what stands out in a survey, and what the planned signal asks of the loop. */
import {describe, expect, it} from 'vitest';
import {alder} from '@demo/craft/alder';
import {juniper} from '@demo/craft/juniper';
import {Harness, demoCraft} from '@simulator/testing/bench-harness';
import {loadLimits} from '../dshot/loop-budget';
import {budgetOf} from '../controller/budget-of';
import {signalRemarks} from './signal-remarks';
import {surveyFindings} from './survey-findings';

describe('survey findings', () => {
  it('name the ESC that was left behind and count what is not as planned', async () => {
    const found = await new Harness().survey();
    const texts = surveyFindings(juniper, found).map((f) => `${f.tag} ${f.word}: ${f.text}`);
    expect(texts[0]).toBe(
      'diff odd one out: motor 3 runs Meridian 3.7, its siblings do not. Left behind at an update.',
    );
    expect(texts).toContain('plan firmware: all motors not at Meridian 4.2 yet.');
    expect(texts.at(-1)).toMatch(/^plan controller: \d+ fields of the flight controller are not as planned\.$/);
  });

  it('say that all is right when it is, and not while an ESC is silent', async () => {
    const h = new Harness();
    const outcome = await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
    if (outcome.kind !== 'finished') throw new Error(outcome.problem.meaning);
    expect(surveyFindings(juniper, outcome.found).map((f) => f.word)).toEqual(['as planned']);
    const problem = {code: 'no-answer', place: 'motor 4', meaning: '', remedy: ''};
    const silent = {...outcome.found, silent: [{output: 3, problem}]};
    expect(surveyFindings(juniper, silent)).toEqual([]);
  });

  it('an ESC of foreign firmware is told with who knows its board', async () => {
    const craft = demoCraft('alder');
    const found = await new Harness({craft}).surveyRound();
    const odd = surveyFindings(alder, found).filter((f) => f.text.includes('foreign firmware'));
    expect(odd.every((f) => f.text.includes('Its board has to be confirmed on the Firmware station.'))).toBe(true);
  });
});

describe('signal remarks', () => {
  const plan = juniper.plan.controller;
  const remarks = (over: Partial<typeof plan>, clockMhz = 216, chip = 'M32') => {
    const wanted = {...plan, ...over};
    const budget = budgetOf(wanted, {clockMhz, outputs: 4});
    const escs = [{boot: {chip}}] as never;
    return signalRemarks({plan: wanted, budget, escs}).map((r) => r.word);
  };

  it('DShot300 with replies at 4 kHz fits; at 8 kHz its exchange is longer than the loop', () => {
    expect(remarks({})).not.toContain('too slow');
    expect(remarks({loopHz: 8000})).toContain('too slow');
    expect(remarks({loopHz: 8000, replies: false})).not.toContain('too slow');
  });

  it('load: close from half the loop on, overloaded beyond 65 % (common practice)', () => {
    const at = (load: number) =>
      signalRemarks({plan, budget: {...budgetOf(plan, {clockMhz: 216, outputs: 4}), load}, escs: []}).map(
        (r) => r.word,
      );
    expect([at(0.5), at(0.51), at(0.65), at(0.66)]).toEqual([['fits'], ['close'], ['close'], ['overloaded']]);
    expect(loadLimits).toEqual({good: 0.5, lost: 0.65});
  });

  it('an 8-bit ESC is told which rate it hears with replies', () => {
    expect(remarks({protocol: 'dshot600'}, 216, 'K8')).toContain('too fast');
    expect(remarks({protocol: 'dshot600', replies: false}, 216, 'K8')).not.toContain('too fast');
  });
});
