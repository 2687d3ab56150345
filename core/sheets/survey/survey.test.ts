/** What Survey says: who answers, what is stale, silent or odd, and what is next. */
import {describe, expect, it} from 'vitest';
import {alder} from '@demo/craft/alder';
import {juniper} from '@demo/craft/juniper';
import {protocolName} from '../../dshot/protocol';
import {foundAsPlanned} from '../../testing/found-as-planned';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {surveyRound} from './survey-round';
import {surveySheet} from './survey';

const found = foundAsPlanned(juniper);
const silent = (code: string) => ({
  output: 3,
  problem: {code, place: 'esc.enter', meaning: 'It has no power.', remedy: 'Check its wire.'},
});
const half = {...found, escs: found.escs.slice(0, 3), silent: [silent('no-answer')]};

describe('the drawing of the survey', () => {
  const drawn = (q: Parameters<typeof surveySheet>[0]) => surveySheet(q).drawn.map((d) => `${d.label} ${d.state}`);

  it('has the number of each output at its arm, and the one that does not answer stands out', () => {
    const arms = juniper.plan.controller.arms;
    expect(drawn(questionOf(juniper))).toEqual(juniper.arms.map((_, arm) => `${arms.indexOf(arm) + 1} ok`));
    const q = questionOf(juniper, {record: {found: half}});
    expect(drawn(q)[arms[3]!]).toBe('4 diff');
    expect(drawn(q).filter((d) => d.endsWith('ok'))).toHaveLength(3);
    expect(surveySheet(q).drawnNote).toBe('3 of 4 read');
  });

  it('has as many arms as the craft', () => {
    expect(drawn(questionOf(withEightMotors(juniper)))).toHaveLength(8);
  });
});

describe('the survey', () => {
  it('of a craft that nobody has connected asks for a connection and says nothing else', () => {
    expect(surveySheet(emptyQuestion(juniper))).toEqual({
      ...{asks: 'connection', canSurveyAgain: false, readAt: undefined, stale: ''},
      ...{escs: [], drawn: [], drawnNote: '', silent: [], findings: [], controller: undefined},
    });
  });

  it('of a whole craft: a line for every ESC with its arm, the flight controller by field, nothing that stands out', () => {
    const sheet = surveySheet(questionOf(juniper));
    expect(sheet.escs.map((e) => `${e.output + 1} ${e.arm}`)).toEqual(
      juniper.plan.controller.arms.map((arm, output) => `${output + 1} ${juniper.arms[arm]!.name}`),
    );
    expect(sheet.escs[0]).toMatchObject({
      ...{board: 'Gneiss 45', serial: 'S0', firmware: {text: 'Meridian 4.2', isOff: false}},
      ...{bootloader: 'rev 4, A', settings: {text: 'layout 8', isOff: false}},
    });
    expect(sheet.findings.map((f) => f.word)).toEqual(['as planned']);
    expect(sheet.controller!.identity.map((l) => l.text)).toEqual(['Slate F, 216 MHz', 'F1', 'Plumb 2.2']);
    const protocol = sheet.controller!.fields.find((l) => l.name === 'Motor protocol');
    expect(protocol!.text).toBe(protocolName[juniper.plan.controller.protocol]);
    expect(sheet.controller!.filters.map((l) => l.name)).toContain('Gyro low-pass');
    expect([sheet.stale, sheet.canSurveyAgain, sheet.asks]).toEqual(['', true, undefined]);
  });

  it('of half a craft: the silent one is told with its arm, the others are listed', () => {
    const sheet = surveySheet(questionOf(juniper, {record: {found: half}}));
    expect(sheet.escs).toHaveLength(3);
    const arm = juniper.arms[juniper.plan.controller.arms[3]!]!.name;
    expect(sheet.silent.map((p) => `${p.place}: ${p.meaning}`)).toEqual([
      `Motor 4, ${arm}, is silent: It has no power.`,
    ]);
    expect(sheet.findings).toEqual([]);
  });

  it('several that are silent for one reason are one message, those of another reason their own', () => {
    const lone = {output: 1, problem: {...silent('wrong').problem, meaning: 'It answers as another.'}};
    const none = {...found, escs: [], silent: [silent('no-answer'), lone, {...silent('no-answer'), output: 0}]};
    const arm = (output: number) => juniper.arms[juniper.plan.controller.arms[output]!]!.name;
    expect(surveySheet(questionOf(juniper, {record: {found: none}})).silent.map((p) => p.place)).toEqual([
      `Motors 4 (${arm(3)}) and 1 (${arm(0)}) are silent`,
      `Motor 2, ${arm(1)}, is silent`,
    ]);
  });

  it.each([
    ['another power-up', {cycles: 2}],
    ['no battery', {isPowered: false}],
    ['no cable', {isConnected: false}],
  ])('is stale after %s', (_, bench) => {
    expect(surveySheet(questionOf(juniper, {bench})).stale).toBe('stale: battery or cable was out since');
  });

  it('is not repeated while something has the wires', () => {
    expect(surveySheet(questionOf(juniper, {bench: {isOccupied: true}})).canSurveyAgain).toBe(false);
  });

  it('marks firmware that is foreign, missing, or cannot be read', () => {
    const of = (boot: object, more: object) => {
      const escs = found.escs.map((e, i) => (i ? e : {...e, boot: {...e.boot, ...boot}, ...more}));
      return surveySheet(questionOf(juniper, {record: {found: {...found, escs}}})).escs[0]!;
    };
    const unknown = {identity: undefined, settings: undefined};
    expect(of({}, unknown).firmware).toEqual({text: 'foreign firmware', isOff: true});
    expect(of({applicationValid: false}, unknown)).toMatchObject({
      firmware: {text: 'no application, stays in its bootloader', isOff: true},
      settings: {text: 'not readable', isOff: true},
    });
    expect(of({}, {hardware: undefined}).board).toBe('not known');
  });

  it('names eight motors by their arms', () => {
    const sheet = surveySheet(questionOf(withEightMotors(juniper)));
    expect(new Set(sheet.escs.map((e) => e.arm)).size).toBe(8);
  });
});

const noWait = {waitingS: undefined, nobodyCame: undefined};

describe('the round of an adapter', () => {
  const onAdapter = {bench: {isOnAdapter: true}};
  const all = foundAsPlanned(alder);

  it('begins with the first arm', () => {
    const q = questionOf(alder, {...onAdapter, record: {found: undefined}});
    expect(surveySheet(q)).toMatchObject({asks: 'round', escs: []});
    expect(surveyRound(q, noWait).arms.map((a) => a.state)).toEqual(['next', ...Array<string>(5).fill('to come')]);
  });

  it('knows what was read, what stood in the way, and which arm is next', () => {
    const trouble = {...silent('no-answer'), output: 1};
    const notYet = [2, 3, 4, 5].map((output) => ({...silent('not-visited'), output}));
    const part = {...all, escs: all.escs.slice(0, 1), silent: [trouble, ...notYet]};
    const q = questionOf(alder, {...onAdapter, record: {found: part}});
    const {arms, read} = surveyRound(q, noWait);
    expect(read).toBe(1);
    expect(arms.map((a) => a.state)).toEqual(['read', 'trouble', 'next', 'to come', 'to come', 'to come']);
    expect(arms[1]!.text).toBe('It has no power. Check its wire.');
    // Arms that were not visited yet are not called silent.
    expect(surveySheet(q).silent).toHaveLength(1);
  });

  it('says what is waited for, and that it did not come', () => {
    const q = questionOf(alder, {...onAdapter, record: {found: undefined}});
    expect(surveyRound(q, {...noWait, waitingS: 12}).waits).toContain('12 s left');
    const {arms, waits} = surveyRound(q, {...noWait, nobodyCame: 0});
    expect(waits).toBe('');
    expect(arms[0]).toMatchObject({state: 'next', text: expect.stringContaining('No ESC answered within 60 s')});
  });

  it('is over when every arm was read', () => {
    const {arms, read} = surveyRound(questionOf(alder, onAdapter), noWait);
    expect([arms.every((a) => a.state === 'read'), read]).toEqual([true, 6]);
  });
});
