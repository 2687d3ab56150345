/** What a run says on the screen, from the first one of a craft to one of eight motors; without a screen. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import type {Craft} from '../../craft/craft';
import {estimateOf, noEstimate} from '../../motion/answer';
import {oddMotors} from '../../motion/odd-motor';
import type {MotionFinding, MotorReport} from '../../motion/report';
import {suggestedIdle} from '../../spin/verdict/suggested-idle';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {idleLine, motorCardSheet, type ShownRun} from './motor-card';

const motor = (over: Partial<MotorReport> = {}): MotorReport => ({
  ...{startsAtPercent: estimateOf(3, 0.2), spoolUpS: estimateOf(0.04, 0.002), coastDownS: estimateOf(0.1, 0.01)},
  ...{kv: estimateOf(1750, 7), resistanceOhm: estimateOf(0.06, 0.004), inertia: estimateOf(2e-6, 1e-7)},
  ...{friction: estimateOf(5e-4, 1e-4), drag: noEstimate('-'), delayS: 0, stutters: [], desyncs: []},
  ...over,
});
const coasts: MotionFinding = {kind: 'odd-coast-down', motor: 2, text: 'Motor 3: coast-down 400 ms.'};

function run(
  motors: readonly MotorReport[],
  over: Partial<ShownRun> = {},
  findings: readonly MotionFinding[] = [],
): ShownRun {
  return {
    ...{script: 'motor card', at: Date.UTC(2026, 10, 23, 12), rateHz: 1333, source: 'burst'},
    ...{outputs: motors.map((_, m) => m), report: {motors, oddOnes: oddMotors(motors), findings}},
    ...over,
  };
}
const four = [motor(), motor(), motor({coastDownS: estimateOf(0.4, 0.01)}), motor()];
const braking = (value: number): Craft['plan']['parameters'] => ({
  ...juniper.plan.parameters,
  activeBraking: {kind: 'per motor', values: [1, 1, value, 1]},
});
const planning = (value: number): Craft => ({...juniper, plan: {...juniper.plan, parameters: braking(value)}});
const q = questionOf(juniper);

describe('what was measured', () => {
  const sheet = motorCardSheet(q, run(four));
  const row = (name: string) => sheet.rows.find((r) => r.name === name)!;
  it('has a line for each constant with its bound, in the unit that its name gives', () => {
    expect(row('KV').cells[0]).toEqual({text: '1750', bound: '± 7', isOdd: false});
    expect(row('Resistance of the path')).toMatchObject({
      unit: 'mΩ',
      cells: [{text: '60.0', bound: '± 4.0'}, {}, {}, {}],
    });
  });
  it('marks the one motor that differs, in that line alone', () => {
    expect(row('Down to 37 %').cells.map((c) => c.isOdd)).toEqual([false, false, true, false]);
    expect(sheet.rows.flatMap((r) => r.cells).filter((c) => c.isOdd)).toHaveLength(1);
  });
  it('names the arm of every motor, eight of them too', () => {
    expect(sheet.arms).toEqual(['front right', 'rear right', 'rear left', 'front left']);
    const eight = questionOf(withEightMotors(juniper));
    const names = motorCardSheet(eight, run(Array.from({length: 8}, () => motor()))).arms;
    expect(new Set(names).size).toBe(8);
    expect(names.every((name) => name !== '')).toBe(true);
  });
  it('tells a value that was not seen to its end as the least it can be, without a bound; a missing one with its reason', () => {
    const least = {...noEstimate('The trace ends before.'), atLeast: 2.5};
    const {rows, noEstimate: reasons} = motorCardSheet(
      q,
      run([motor({coastDownS: least, kv: noEstimate('No steady step.')})]),
    );
    expect(rows[2]!.cells[0]).toMatchObject({text: '> 2500.0', bound: ''});
    expect(rows[3]!.cells[0]).toMatchObject({text: '–', bound: ''});
    expect(reasons).toEqual(['The trace ends before.', 'No steady step.']);
  });
  it('gives no reasons for a motor that was not to turn', () =>
    expect(motorCardSheet(q, run([motor(), motor({kv: noEstimate('It stood.')})], {outputs: [0]})).noEstimate).toEqual(
      [],
    ));
  it.each([
    ['burst', /^motor card, 23 Nov 2026, .*\. Kept by the flight controller, 1,333 rows a second\.$/],
    ['reports', /fast changes are not measured\.$/],
    ['file', /it proves nothing of this craft\.$/],
  ] as const)('from a %s it says where it comes from', (source, text) =>
    expect(motorCardSheet(q, run(four, {source})).source).toMatch(text),
  );
});

describe('what stands out', () => {
  const held = (craft: Craft, value: number) => {
    const found = questionOf(craft).record.found!;
    const escs = found.escs.map((e) =>
      e.output === 2 && e.settings
        ? {...e, settings: {...e.settings, values: {...e.settings.values, activeBraking: value}}}
        : e,
    );
    return questionOf(craft, {record: {found: {...found, escs}}});
  };
  it('has its cause with both readings, and whether the plan cures it already', () => {
    const of = (planned: number) => motorCardSheet(held(planning(planned), 0), run(four, {}, [coasts])).findings[0]!;
    expect(of(0)).toMatchObject({
      ...{motor: 2, text: 'Motor 3, rear left: coast-down 400 ms.'},
      causes: [
        {evidence: 'It reads off; the others read on.', cure: {key: 'activeBraking', value: 1}, isPlanned: false},
      ],
    });
    expect(of(1).causes[0]!.isPlanned).toBe(true);
  });
  it('on a craft that was never surveyed has no cause of settings', () =>
    expect(motorCardSheet(emptyQuestion(juniper), run(four, {}, [coasts])).findings[0]!.causes).toEqual([]));
  it('is nothing where all are alike, said with what was compared', () => {
    const alike = motorCardSheet(q, run([motor(), motor(), motor()])).alike;
    expect(alike).toMatchObject({isTold: true, text: expect.stringContaining('coast-down, KV, resistance')});
  });
  it('is not called alike where too little was measured', () =>
    expect(motorCardSheet(q, run([motor(), motor()])).alike).toMatchObject({
      isTold: false,
      text: expect.stringContaining('three motors'),
    }));
});

describe('the constants of a run', () => {
  it('are offered with their median, not from a file, not twice', () => {
    const {usable, isInUse} = motorCardSheet(q, run(four));
    expect([isInUse, usable!.motor.kv, usable!.text]).toEqual([
      false,
      1750,
      expect.stringContaining('the median of 4 motors'),
    ]);
    expect(motorCardSheet(q, run(four, {source: 'file'})).usable).toBeUndefined();
    const used = questionOf({...juniper, motor: usable!.motor});
    expect(motorCardSheet(used, run(four)).isInUse).toBe(true);
  });
});

describe('the idle that starts ask for', () => {
  const card = {
    motors: [motor(), motor(), motor({startsAtPercent: estimateOf(4, 0.2)}), motor()],
    at: 0,
    alone: [0, 1, 2, 3].map(() => ({turned: true, others: []})),
  };
  const idle = suggestedIdle({sightings: [], motors: 4, card})!;
  it('names motor and arm, the bound, and what is planned', () => {
    const line = idleLine(q, idle);
    expect(line.title).toBe('Motor 3, rear left, starts last: 1042 µs at most');
    expect(line.text).toMatch(/^19 of 20 starts lie below it\. Measured by the motor card, .* With 15 µs of margin/);
    expect(line.isPlanned).toBe(false);
  });
  it('is planned once the plan has it', () => {
    const {controller} = juniper.plan;
    const craft = {...juniper, plan: {...juniper.plan, controller: {...controller, idlePercent: idle.percent}}};
    expect(idleLine(questionOf(craft), idle).isPlanned).toBe(true);
  });
});
