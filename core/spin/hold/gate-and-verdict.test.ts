/** The gate before anything turns, and what a motor card proves. */
import {describe, expect, it} from 'vitest';
import {estimateOf, noEstimate} from '../../motion/answer';
import type {MotionReport, MotorReport} from '../../motion/report';
import type {AloneState} from '../../replies/replies';
import {gateLines, isGateOpen, maxRestAmps, type GateState} from './gate';
import {judgeMotion} from '../verdict/judge-motion';

const right: GateState = {
  connected: true,
  wiresTaken: undefined,
  power: {volts: 24.1, amps: 0.3, cycles: 2},
  turning: false,
  propsOff: {cycle: 2, at: 5},
  firstPower: {at: 4, amps: 0.31},
};
const wrong = (over: Partial<GateState>) =>
  gateLines({...right, ...over})
    .filter((l) => l.state !== 'right')
    .map((l) => l.what);

describe('the gate', () => {
  it('is open when every line is right, and each says since when or with how much', () => {
    const lines = gateLines(right);
    expect(isGateOpen(lines)).toBe(true);
    expect(lines.map((l) => l.text)).toEqual([
      'This browser tab controls the motors.',
      'Battery 24.1 V.',
      'At rest it draws 0.30 A; 0.31 A at its first power-up.',
      'Propellers off, for this power-up.',
    ]);
    expect(lines.map((l) => l.since)).toEqual([undefined, undefined, 4, 5]);
  });
  it.each([
    ['no bench', {connected: false}, ['wires']],
    ['an order at work', {wiresTaken: 'A work order'}, ['wires']],
    ['battery off', {power: {volts: 0.2, amps: 0, cycles: 2}}, ['battery']],
    ['a short', {power: {volts: 24, amps: maxRestAmps + 0.1, cycles: 2}}, ['current']],
    ['nobody looked', {propsOff: undefined}, ['propellers']],
    ['another power-up', {power: {volts: 24, amps: 0.3, cycles: 3}}, ['propellers']],
  ] as [string, Partial<GateState>, string[]][])('is shut: %s', (_, over, lines) => {
    expect(wrong(over)).toEqual(lines);
    expect(isGateOpen(gateLines({...right, ...over}))).toBe(false);
  });
  it('a motor that turns may draw more; a first power-up asks for a limiter', () => {
    expect(wrong({turning: true, power: {volts: 24, amps: 9, cycles: 2}})).toEqual([]);
    expect(gateLines({...right, firstPower: undefined}).map((l) => l.text)[2]).toContain('use a current limiter');
  });
});

const motor = (over: Partial<MotorReport> = {}): MotorReport =>
  ({
    startsAtPercent: estimateOf(2, 0.2),
    spoolUpS: estimateOf(0.02, 0.001),
    coastDownS: estimateOf(0.006, 0.001),
    kv: estimateOf(1752, 3),
    resistanceOhm: estimateOf(0.06, 0.004),
    inertia: estimateOf(2e-6, 1e-7),
    friction: estimateOf(5e-4, 1e-4),
    stutters: [],
    desyncs: [],
    ...over,
  }) as unknown as MotorReport;
const report = (over: Partial<MotorReport> = {}, findings: MotionReport['findings'] = []): MotionReport => ({
  motors: [motor(), motor({spoolUpS: estimateOf(0.022, 0.001)}), motor(over), motor({kv: estimateOf(1744, 3)})],
  oddOnes: [],
  findings,
});
const alone: readonly AloneState[] = [0, 1, 2, 3].map(() => ({turned: true, others: []}));
const judge = (r: MotionReport, labelKv = 1750, seen: readonly AloneState[] | undefined = alone) =>
  judgeMotion({report: r, labelKv, idlePercent: 4, isTimed: true, alone: seen});

describe('what a motor card proves', () => {
  it('each line with its number', () => {
    const verdict = judge(report());
    expect(verdict).toMatchObject({holds: true, count: 20});
    expect(verdict.lines.map((l) => l.text)).toEqual([
      'starts at 2.0 to 2.0 %, 2.2 % at most, idle 4 %',
      'rises in 20 ms ± 10 %, falls in 6.0 ms ± 0 %',
      'KV 1744 to 1752 rpm/V beside 1750 of the label, resistance and inertia alike',
      'each motor driven alone first: every reply is from its own motor',
    ]);
  });
  it('nothing where a reply comes from another motor, or where no motor was driven alone', () => {
    const crossed = alone.map((sight, motor) => (motor === 1 ? {turned: false, others: [0]} : sight));
    expect(judge(report(), 1750, crossed)).toMatchObject({holds: false});
    expect(judge(report(), 1750, crossed).lines[3]!.text).toContain('Only motor 2 was driven');
    const never = judgeMotion({report: report(), labelKv: 1750, idlePercent: 4, isTimed: true, alone: undefined});
    expect(never).toMatchObject({holds: false});
  });
  it.each([
    ['a start nobody saw', {startsAtPercent: noEstimate('x')}, 'starts', 'no estimate for the start of motor 3'],
    ['a stutter', {stutters: [1]}, 'starts', 'motor 3 stuttered'],
    ['a start above the idle', {startsAtPercent: estimateOf(3.9, 0.3)}, 'starts', 'above the planned idle of 4 %'],
    ['a rise that is not told', {spoolUpS: noEstimate('x')}, 'rises and falls', 'no estimate'],
    ['a KV that is not told', {kv: noEstimate('x')}, 'constants', 'no estimate for the KV of motor 3'],
  ] as [string, Partial<MotorReport>, string, string][])('nothing with %s', (_, over, name, text) => {
    const {holds, lines} = judge(report(over));
    expect(holds).toBe(false);
    const line = lines.find((l) => !l.holds)!;
    expect([line.name, line.text.includes(text)]).toEqual([name, true]);
  });
  it('nothing where a motor stands out, or all are off the label', () => {
    const coasts = {
      kind: 'odd-coast-down' as const,
      motor: 2,
      text: 'Motor 3: coast-down 600 ms, the others about 6 ms.',
    };
    expect(judge(report({}, [coasts])).lines[1]).toMatchObject({holds: false, text: coasts.text.slice(0, -1)});
    expect(judge(report(), 2100).lines[2]!.text).toContain('count the magnets');
    // 14 counted on motors of 12 poles: KV reads 12/14 of the label.
    const counted = judgeMotion({
      report: report(),
      labelKv: 1750 * (14 / 12),
      idlePercent: 4,
      poles: 14,
      isTimed: true,
      alone,
    });
    expect(counted.lines[2]!.text).toContain('the ratio of 12 to 14 poles');
  });
  it('a pole count only where the label and the count can be told apart', () => {
    const of = (labelKv: number, poles: number, isCounted = false, isTimed = true) =>
      judgeMotion({report: report(), labelKv, idlePercent: 4, poles, isCounted, isTimed, alone}).lines[2]!;
    expect(of(1750, 14)).toMatchObject({holds: true});
    // A label that is 3 % off leaves no other count as likely as 1 to 19.
    expect(of(1750 * 1.03, 14).holds).toBe(true);
    expect(of(1750 * 0.97, 14).holds).toBe(true);
    // 12 poles counted as 14, on a motor whose label is 5.7 % low: the speeds read 12/14 of what they are.
    const low = of(1925, 14);
    expect(low.holds).toBe(false);
    expect(low.text).toMatch(
      /14 poles and a label 10 % too high fit, and so do 12 poles and a label 6 % too low\. Count/,
    );
    // And 16 counted as 14, with a label that is high.
    expect(of(1608, 14)).toMatchObject({holds: false, text: expect.stringContaining('16 poles')});
    // Somebody counted: the label is what is off.
    expect(of(1750 * 1.08, 14)).toMatchObject({holds: false});
    expect(of(1750 * 1.08, 14, true)).toMatchObject({holds: true});
    // Nobody read the timing: KV may be seen 15 % too high, and 12 poles counted as 14 read as low as that makes up for.
    expect(of(1750, 14, false, false)).toMatchObject({holds: false, text: expect.stringContaining('12 poles')});
    expect(of(1750, 14, true, false)).toMatchObject({holds: true});
  });
  it('a fall too quick to tell is no fault', () => {
    const quick = report();
    const motors = quick.motors.map((m) => ({...m, coastDownS: noEstimate('quick')}));
    expect(judge({...quick, motors}).lines[1]).toMatchObject({holds: true});
  });
});
