/** Each rule: a plan that breaks it, the words, and the demo's own plans that break none. */
import {describe, expect, it} from 'vitest';
import {Harness, demoCraft, shelf} from '@simulator/testing/bench-harness';
import received from '../../../demo/catalogue.json';
import {wantedDirections, type Craft, type PlannedValue} from '../../craft/craft';
import type {ParameterKey} from '../../settings/definitions';
import {bothWays, pwmFollows} from '../../settings/parameters/special-values';
import type {Catalogue} from '../../firmware/releases';
import type {Found} from '../../bench/found';
import type {Sighting} from '../../spin/sighting/sighting';
import {makeWorkOrder} from '../../run/order/make-order';
import {judgePlan, ruleQuestion, rules} from './judge-plan';
import {packRuleIds} from './pack';

const {releases} = JSON.parse(received.catalogue) as Catalogue;
const benches: Record<string, Found> = {};
for (const id of ['juniper', 'sorrel', 'alder']) {
  const h = new Harness({craft: demoCraft(id)});
  benches[id] = id === 'alder' ? await h.surveyRound() : await h.survey();
}
type Change = Partial<Craft> & {
  readonly set?: Partial<Record<ParameterKey, number | readonly number[]>>;
  readonly controller?: Partial<Craft['plan']['controller']>;
  readonly version?: string;
  readonly pwmKhz?: number;
};

function craftWith(id: string, {set = {}, controller, version, pwmKhz, ...more}: Change): Craft {
  const craft = demoCraft(id);
  const parameters: Record<string, PlannedValue> = {...craft.plan.parameters};
  for (const [key, value] of Object.entries(set))
    parameters[key] =
      typeof value === 'number' ? {kind: 'same', value} : {kind: 'per motor', values: [...(value as number[])]};
  const {firmware} = craft.plan;
  return {
    ...craft,
    ...more,
    plan: {
      firmware: {...firmware, ...(version && {version}), ...(pwmKhz && {pwmKhz})},
      parameters,
      controller: {...craft.plan.controller, ...controller},
    },
  };
}
const judge = (id: string, change: Change = {}, sightings: readonly Sighting[] = []) => {
  const craft = craftWith(id, change);
  return judgePlan({...ruleQuestion(craft, benches[id]!, shelf.imageFor(craft), sightings), releases});
};
const seen = (output: number, over: Partial<Sighting> = {}): Sighting => ({
  output,
  arm: output,
  sense: 'clockwise',
  rotationSetting: 0,
  startsAtUs: 1020,
  coastDownS: 0.1,
  ...{grounds: [], place: 0, session: '', cycles: 0},
  at: 1,
  ...over,
});

describe('the plans of the demo', () => {
  it.each(['juniper', 'sorrel', 'alder'])('%s is not refused', (id) =>
    expect(judge(id).filter((f) => f.severity === 'refuse')).toEqual([]),
  );
  it('Juniper, as planned, breaks no rule at all', () => expect(judge('juniper')).toEqual([]));
});

const arm = {use: 'arm', channel: 5, fromUs: 1700, toUs: 2100} as const;
const sticks = {kind: 'serial', port: 2, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 0} as const;

const broken: readonly [string, string, Change, 'refuse' | 'warn', RegExp][] = [
  [
    'pulses-taken',
    'juniper',
    {controller: {protocol: 'multishot', replies: false}},
    'refuse',
    /Meridian 4\.2 takes Analog pulse, Oneshot125 and DShot, not Multishot: motors would not turn/,
  ],
  [
    'low-end-arms',
    'juniper',
    {controller: {protocol: 'analog', replies: false}, set: {throttleMin: 1005}},
    'warn',
    /low end is 1005 µs, .* up to 1010 µs .* never arms/,
  ],
  [
    'follow-heat',
    'juniper',
    {set: {pwm: pwmFollows, pwmHigh: 128}},
    'warn',
    /comes up to 128 kHz: predicted, .* W of heat, 5\.3 × that of 24 kHz/,
  ],
  ['arm-switch', 'juniper', {controller: {switches: []}}, 'refuse', /arms by the sticks/],
  [
    'arm-switch',
    'juniper',
    {controller: {receiver: sticks, switches: [{...arm, channel: 4}]}},
    'refuse',
    /Arming lies on the yaw stick/,
  ],
  [
    'armed-at-power-up',
    'juniper',
    {controller: {switches: [{...arm, fromUs: 900}]}},
    'refuse',
    /both ends of a switch/,
  ],
  ['switch-empty', 'juniper', {controller: {switches: [{...arm, toUs: 1700}]}}, 'refuse', /no position of a switch/],
  [
    'switches-overlap',
    'juniper',
    {controller: {switches: [arm, {...arm, use: 'flip', fromUs: 2000}]}},
    'refuse',
    /Arming and Turning an upturned craft over share a part of channel 5/,
  ],
  [
    'level-needs-accelerometer',
    'juniper',
    {controller: {accelerometer: false, switches: [arm, {...arm, channel: 6, use: 'level'}]}},
    'warn',
    /the switch does nothing/,
  ],
  [
    'channels-apart',
    'juniper',
    {controller: {receiver: {...sticks, roll: 2}}},
    'refuse',
    /Channel 2 is roll and pitch at once/,
  ],
  ['fail-safe-holds', 'juniper', {controller: {failSafe: {action: 'hold', afterMs: 400}}}, 'refuse', /flies away/],
  ['fail-safe-lands', 'juniper', {controller: {failSafe: {action: 'land', afterMs: 400}}}, 'warn', /within a second/],
  ['fail-safe-late', 'juniper', {controller: {failSafe: {action: 'drop', afterMs: 1500}}}, 'warn', /1500 ms/],
  ['clock-without-usb', 'juniper', {controller: {clockMhz: 228}}, 'refuse', /no 48 MHz for USB/],
  ['clock-raised', 'juniper', {controller: {clockMhz: 240}}, 'warn', /above what the processor is rated for \(216\)/],
  ['value-allowed', 'juniper', {set: {timing: 20}}, 'refuse', /Timing advance is one of/],
  [
    'value-allowed',
    'juniper',
    {version: '3.9', set: {pwm: pwmFollows}},
    'refuse',
    /follow is not in firmware with layout 6/,
  ],
  [
    'start-order',
    'juniper',
    {set: {startLow: 1125, startHigh: 1100}},
    'refuse',
    /1125 µs is not under the highest, 1100 µs/,
  ],
  ['follow-order', 'juniper', {set: {pwm: pwmFollows, pwmLow: 48, pwmHigh: 30}}, 'refuse', /from 48 kHz to 30 kHz/],
  [
    'throttle-span',
    'alder',
    {set: {throttleMin: 1100, throttleMax: 1850}, controller: {protocol: 'analog', replies: false}},
    'warn',
    /spans only 750 µs/,
  ],
  [
    'centre-between',
    'juniper',
    {set: {rotation: bothWays, throttleCentre: 1600, throttleMax: 1850}, controller: {idlePercent: 0}},
    'refuse',
    /1600 µs leaves one way less than 300 µs/,
  ],
  [
    'both-ways-idle',
    'juniper',
    {set: {rotation: [0, bothWays, 1, 0]}},
    'refuse',
    /idles at 4 %: the motor would turn backwards/,
  ],
  ['quiet-micro', 'sorrel', {set: {toneLoudness: 40}}, 'warn', /40 of 255 is too quiet/],
  [
    'protocol-heard',
    'sorrel',
    {controller: {protocol: 'dshot600'}},
    'refuse',
    /DShot600 with replies is faster than K8 receives/,
  ],
  ['replies-firmware', 'juniper', {version: '3.9'}, 'warn', /Meridian 3.9 does not answer bidirectional DShot/],
  [
    'poles-counted',
    'sorrel',
    {controller: {poles: 14}},
    'warn',
    /14 poles, the motors have 12: every notch sits at 0.86 ×/,
  ],
  [
    'wire-in-loop',
    'juniper',
    {controller: {loopHz: 8000}},
    'warn',
    /DShot300 with replies takes 139 µs .* leaves 125 µs/,
  ],
  [
    'idle-over-dead-time',
    'sorrel',
    {pwmKhz: 96},
    'warn',
    /At 96 kHz dead time takes 5.8 % of the throttle and the idle is 6.0 %/,
  ],
  ['pwm-commutation', 'sorrel', {pwmKhz: 24}, 'warn', /close to the PWM of 24 kHz/],
  ['desync-margin', 'juniper', {set: {timing: 0, demag: 0}}, 'warn', /\d+ electrical degrees too late: expect desync/],
  [
    'start-torque',
    'juniper',
    {set: {startLow: 1000, startHigh: 1015}},
    'warn',
    /0\.5 × the torque that starting takes/,
  ],
  ['current-to-hover', 'alder', {set: {currentLimit: 5}}, 'refuse', /needs 5\.\d A per motor to hover: it would fall/],
  [
    'stator-size',
    'juniper',
    {motor: {...demoCraft('juniper').motor, size: 'big one'}},
    'warn',
    /"big one" does not read, so nothing here was checked/,
  ],
  ['reach-hover', 'sorrel', {weightG: 400}, 'warn', /Full throttle cannot lift 400 g/],
  [
    'low-voltage-sag',
    'juniper',
    {set: {lowVoltageLimit: 3.6}},
    'warn',
    /sags to 3\.\d+ V per cell, below the limit of 3.6 V/,
  ],
];

describe('a rule', () => {
  it.each(broken)('%s, %s: %j', (...[id, craft, change, severity, meaning]) => {
    const finding = judge(craft, change).find((f) => f.id === id);
    expect(finding?.severity).toBe(severity);
    expect(finding?.meaning).toMatch(meaning);
    expect(finding?.remedy).toMatch(/^[A-Z].*\.$/);
  });

  it('dead-time: 300 ns at 250 kHz and more are refused', () => {
    const craft = craftWith('juniper', {});
    const question = ruleQuestion(craft, benches['juniper']!, shelf.imageFor(craft));
    const escs = question.escs.map((e) => ({...e, hardware: {...e.hardware!, deadTimeNs: 1700}}));
    const finding = judgePlan({...question, escs}).find((f) => f.id === 'dead-time');
    expect(finding?.meaning).toMatch(/48 kHz with a dead time of 1700 ns takes 16\.3 % of the throttle/);
    expect(finding?.place).toBe('all motors');
  });

  it('rotation-sense: a motor that was seen turning must not be planned against the mixer', () => {
    const wanted = judge('juniper', {}, [seen(0), seen(1, {rotationSetting: 0})]);
    expect(wanted.map((f) => f.id)).toEqual([]);
    const [finding] = judge('juniper', {set: {rotation: [1, 0, 1, 0]}}, [seen(0), seen(1)]);
    expect(finding).toMatchObject({id: 'rotation-sense', severity: 'refuse', place: 'motors 1 and 2'});
    expect(finding?.meaning).toContain('The craft flips at take-off.');
  });

  it('props-turn-over: the flight controller alone is never turned over without a word', () => {
    const unplanned = (over: Change) => {
      const parameters = Object.fromEntries(
        Object.entries(demoCraft('juniper').plan.parameters).filter(([key]) => key !== 'rotation'),
      );
      const craft = craftWith('juniper', over);
      return {...craft, plan: {...craft.plan, parameters}};
    };
    const judged = (craft: Craft, sightings: readonly Sighting[] = []) =>
      judgePlan(ruleQuestion(craft, benches['juniper']!, shelf.imageFor(craft), sightings)).filter(
        (f) => f.id === 'props-turn-over',
      );
    const [finding] = judged(unplanned({props: 'out'}));
    expect(finding).toMatchObject({severity: 'warn', place: 'whole craft'});
    expect(finding?.meaning).toContain('from in to out and leaves every ESC’s rotation as it is');
    expect(judged(unplanned({props: 'in'}))).toEqual([]);
    // Seen to turn the way that the plan wants: the flight controller was what was wrong.
    const craft = unplanned({props: 'out'});
    const right = craft.arms.map((_, arm) => seen(arm, {sense: wantedDirections(craft)[arm]!}));
    expect(judged(craft, right)).toEqual([]);
  });

  it('names the motors it breaks on', () => {
    const finding = judge('juniper', {set: {rotation: [0, bothWays, 1, 0]}}).find((f) => f.id === 'both-ways-idle');
    expect(finding?.place).toBe('motor 2');
  });

  it('has its own id, and every one is tried here', () => {
    const ids = rules.map((r) => r.id);
    expect(new Set(ids).size).toBe(ids.length);
    const tried = new Set([
      ...broken.map(([id]) => id),
      'dead-time',
      'rotation-sense',
      'props-turn-over',
      // In core/sheets/craft/mixer.test.ts.
      'own-mixer',
      // In pack.test.ts.
      ...packRuleIds,
    ]);
    expect(ids.filter((id) => !tried.has(id))).toEqual([]);
  });
});

describe('a work order', () => {
  const order = (id: string, change: Change) => {
    const craft = craftWith(id, change);
    return makeWorkOrder({id: 'x', at: 1, craft, found: benches[id]!, imageFor: shelf.imageFor(craft)});
  };
  it('is refused for a dangerous plan, with place and remedy', () => {
    const built = order('juniper', {set: {startLow: 1125, startHigh: 1100}});
    expect(!built.ok && [built.problem.code, built.problem.place, built.problem.remedy]).toEqual([
      'rule-start-order',
      'all motors',
      'Plan the highest start-up power above the lowest, by 50 µs or more.',
    ]);
  });
  it('goes with the consequence told for one that is only unwise', () => {
    const built = order('sorrel', {pwmKhz: 24});
    expect(built.ok && built.value.warnings?.map((w) => w.id)).toEqual(['pwm-commutation']);
    expect(built.ok && built.value.steps.length).toBeGreaterThan(3);
  });
});
