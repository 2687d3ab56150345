/** Sentences that stations show: what stands out in a survey, and what the planned signal asks of the loop. */
import {describe, expect, it} from 'vitest';
import {alder} from '@demo/craft/alder';
import {juniper} from '@demo/craft/juniper';
import {Harness, demoCraft} from '@simulator/testing/bench-harness';
import type {ControllerPlan} from '../controller/plan';
import type {SignalPlace} from '../controller/signal-pair';
import {chips} from '../firmware/chips';
import {signalFindings} from './signal-findings';
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

describe('signal findings', () => {
  const place = {gyroHz: 8000, clockMhz: 216, outputs: 4, chip: chips.M32};
  const findings = (over: Partial<ControllerPlan>, at: Partial<SignalPlace> = {}) =>
    signalFindings({plan: {...juniper.plan.controller, ...over}, place: {...place, ...at}, countedPoles: 14});

  it('a plan that fits has nothing to do next', () => {
    expect(findings({}).map(({id, action}) => ({id, action}))).toEqual([{id: 'fits', action: undefined}]);
  });

  it('an impossible protocol leads to one that works, for both sides at once, until nothing is left to do', () => {
    const small = {gyroHz: 2000, clockMhz: 72, chip: chips.K8};
    const [first] = findings({protocol: 'dshot600', replies: true, loopHz: 8000}, small);
    expect(first).toMatchObject({id: 'beyond-the-gyro', tag: 'diff'});
    const change = (first!.action as {change: Partial<ControllerPlan>}).change;
    expect(change).toEqual({protocol: 'dshot300', replies: true, loopHz: 2000, poles: 14});
    expect(findings(change, small).map((f) => f.id)).toEqual(['fits']);
  });

  it('a pole count that is not the counted one is set right, and says what it does to speeds', () => {
    const poles = findings({poles: 12}).find((f) => f.id === 'poles')!;
    expect(poles.text).toContain('1.17 ×');
    expect(poles.action).toMatchObject({change: {poles: 14}});
  });

  it('extended replies that a chip has no room for are told', () => {
    const small = {gyroHz: 2000, clockMhz: 72, chip: chips.K8};
    const ids = (extendedReplies: boolean, at = {}) => findings({extendedReplies, loopHz: 2000}, at).map((f) => f.id);
    expect([ids(true, small), ids(false, small), ids(true)]).toEqual([['extended'], ['fits'], ['fits']]);
  });

  it('replies that are off are told with a pair to take', () => {
    expect(findings({replies: false}).map((f) => f.id)).toContain('no-replies');
  });
});
