/** What is said of replies under load: nothing counted, passing, losing, cut short, still held, on something else. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {placeOf} from '../../controller/signal-pair';
import type {KeptStress} from '../../replies/kept-stress';
import type {MotorQuality, ReplyQuality} from '../../replies/reply-quality';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {foundWith} from '../../testing/with-config';
import {stressChoices, stressSheet, type StressNow} from './stress';
import type {CraftQuestion} from '../craft-question';

const bins = (lost: number) => [
  {asked: 500, lost: 0},
  {asked: 4_000, lost},
  {asked: 5_500, lost: 0},
  {asked: 0, lost: 0},
];
const motor = (lost = 0, over: Partial<MotorQuality> = {}): MotorQuality => ({
  ...{asked: 10_000, lost, implausible: 0, longestRun: lost, oldestMs: 1.26},
  ...{overThrottle: bins(lost), overSpeed: bins(lost), lostAs: {missing: 0, code: lost, checksum: 0}},
  ...over,
});
const quality = (motors: readonly MotorQuality[]): ReplyQuality => ({
  ...{seconds: 10, load: 0.16, mostRpm: 20_000, motors: [...motors], timeS: 5},
  overTime: [0, 1].map((half) => ({
    asked: motors.map(() => 5_000),
    lost: motors.map(({lost}) => (half ? lost : 0)),
    rpm: motors.map(() => 9_000),
    throttle: 0.2,
  })),
});
const run = (motors: readonly MotorQuality[], over: Partial<KeptStress> = {}): KeptStress => {
  const {protocol, replies, loopHz} = juniper.plan.controller;
  return {
    ...{
      id: 'r',
      craftId: juniper.id,
      at: Date.UTC(2026, 10, 23, 12),
      plannedS: 10,
      top: 0.3,
      protocol,
      replies,
      loopHz,
    },
    ...{quality: quality(motors), ...over},
  };
};
const four = (lost: number, over: Partial<MotorQuality> = {}) => [motor(), motor(), motor(lost, over), motor()];
const q = questionOf(juniper);
const of = (question: CraftQuestion, now: Partial<StressNow> = {}) => {
  const {controller} = question.record.found ?? {};
  const place = controller && placeOf(controller, question.craft.arms.length, undefined);
  return stressSheet(question, {
    ...{isHeld: false, counting: undefined, shown: undefined, runs: [], place, volts: 24, cap: 0.3},
    ...now,
  });
};

describe('before anything was counted', () => {
  it('a survey comes first', () =>
    expect(of(emptyQuestion(juniper))).toMatchObject({
      isSurveyed: false,
      canHold: false,
      counted: undefined,
      findings: [],
    }));
  it('it is held with replies, propellers off, on a free bench that is no adapter', () => {
    expect(of(q).canHold).toBe(true);
    for (const bench of [{isPropsOff: false}, {isOccupied: true}, {isOnAdapter: true}])
      expect(of(questionOf(juniper, {bench})).canHold).toBe(false);
    expect(of(questionOf(juniper, {record: {found: foundWith(juniper, {replies: false})}})).canHold).toBe(false);
  });
  it('lengths are told in seconds and minutes', () =>
    expect(stressChoices.map((c) => c.label)).toEqual(expect.arrayContaining(['10 s', '1 min'])));
  it('the strips reach to the speed of the cap on this battery', () =>
    expect(of(q).maxErpm).toBeCloseTo((juniper.motor.kv * 24 * 0.3 * 14) / 2, 6));
});

describe('what was counted', () => {
  it('passes with none lost, and says what ran', () => {
    const {counted, runs} = of(q, {shown: run(four(0)), runs: [run(four(0))]});
    expect(counted).toMatchObject({tag: 'ok', word: 'passes', cut: ''});
    expect(counted!.run).toMatch(
      /^DShot\d+ with replies at \d+ kHz, up to 30 % throttle, 23 Nov 2026, .* gyro task at most 16 %\.$/,
    );
    expect(runs[0]!.label).toMatch(/^23 Nov 2026, .*, 10 s, DShot\d+ at \d+ kHz$/);
  });
  it('of a motor that loses is marked, by its arm, with its bound and kinds', () => {
    const {counted} = of(q, {shown: run(four(40))});
    expect(counted).toMatchObject({tag: 'diff', word: 'does not pass'});
    expect(counted!.lines[2]).toMatchObject({
      ...{motor: 3, arm: 'rear left', asked: '10,000', lost: '40', isLost: true, share: '0.4 %'},
      ...{kinds: ['0', '40', '0'], longestRun: '40', oldest: '1.3 ms'},
    });
    // scipy: beta.ppf(0.95, 41, 9960) is 0.5204 %.
    expect(parseFloat(counted!.lines[2]!.bound)).toBeCloseTo(0.52, 6);
  });
  it('is told as far as it is told apart', () => {
    const vague = motor(2, {lostAs: undefined, longestRun: undefined, oldestMs: undefined, implausible: 3});
    const line = of(q, {shown: run([vague, motor(), motor(), motor()])}).counted!.lines[0]!;
    expect(line).toMatchObject({kinds: undefined, longestRun: '–', oldest: '–', implausible: '3', isImplausible: true});
    const unasked = of(q, {shown: run([motor(0, {asked: 0}), motor()])}).counted!.lines[0]!;
    expect([unasked.share, unasked.bound]).toEqual(['–', '–']);
  });
  it('in a run that was let go passes nothing, and fails by what was lost', () => {
    const cut = {endedBy: 'let go', plannedS: 60};
    expect(of(q, {shown: run(four(0), cut)}).counted).toMatchObject({tag: 'wait', word: 'ended too early'});
    expect(of(q, {shown: run(four(40), cut)}).counted).toMatchObject({tag: 'diff', word: 'does not pass'});
  });
  it('in a run that was let go says how far it came', () =>
    expect(of(q, {shown: run(four(0), {endedBy: 'let go', plannedS: 60})}).counted!.cut).toBe(
      'Ended after 10.0 of 60 s: let go',
    ));
  it('in a run that is still held is counting, and no verdict', () => {
    const {counted, findings} = of(q, {isHeld: true, counting: quality(four(4)), shown: run(four(0), {endedBy: 'x'})});
    expect(counted).toMatchObject({tag: 'plan', word: 'counting', run: '', cut: ''});
    expect(findings).toEqual([]);
  });
  it('has a line and a strip for each of eight motors', () => {
    const eight = Array.from({length: 8}, () => motor());
    const {counted} = of(questionOf(withEightMotors(juniper)), {shown: run(eight)});
    expect([counted!.lines.length, ...counted!.strips.map((s) => s.strips.length)]).toEqual([8, 8, 8, 8]);
  });
});

describe('loss over time, throttle and speed', () => {
  const {strips} = of(q, {shown: run(four(40))}).counted!;
  it('ends where the last motor came to', () =>
    expect(strips.map((s) => [s.title, s.to, s.strips[0]!.bins])).toEqual([
      ['time', '10 s', 2],
      ['throttle', '30 %', 3],
      ['speed', '6,000 rpm', 3],
    ]));
  it('has a bar where something was lost, none where nothing was', () => {
    expect(strips[1]!.strips[0]).toMatchObject({lost: '', worst: '', label: 'Motor 1 over throttle: none lost'});
    expect(strips[1]!.strips[2]).toMatchObject({worst: '1 %', label: 'Motor 3 over throttle: at most 1 % lost'});
    // 1 % is half way up four decades.
    expect(strips[1]!.strips[2]!.lost).toBe('M1 22h1v-11h-1z');
  });
});

it('each motor alone is held against all together', () => {
  const alone = [
    {asked: 0, lost: 0},
    {asked: 1_000, lost: 0},
    {asked: 0, lost: 0},
    {asked: 0, lost: 0},
  ];
  const {counted} = of(q, {shown: run(four(40).map((m) => ({...m, alone})))});
  expect(counted!.together).toBe(
    'At up to 50 % throttle: each motor alone lost 0 of 4,000, all together 40 of 12,000.',
  );
  expect(of(q, {shown: run(four(40))}).counted!.together).toBe('');
});

it('a run on another protocol than the found one says nothing of why', () => {
  const lossy = four(400, {lostAs: {missing: 400, code: 0, checksum: 0}});
  const own = of(q, {shown: run(lossy)}).findings;
  const other = of(q, {shown: run(lossy, {loopHz: 1000})}).findings;
  expect(own.length).toBeGreaterThan(0);
  expect(other).toEqual(of(q).findings);
});
