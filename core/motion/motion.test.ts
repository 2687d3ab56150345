/**
 * What a trace tells, on a trace that scipy's side made (fixtures/make-spin.py): unequal motors, noise, a delay, missing replies, a
 * motor that stutters, one that loses step, one that coasts. Constants are also held against scipy's own least squares.
 */
import {readFileSync} from 'node:fs';
import {describe, expect, it} from 'vitest';
import reference from '../fixtures/spin.json';
import type {Answer, Estimate} from './answer';
import {motorCard} from './motor-card';
import {comparableIn} from './odd-motor';
import {readSpinTrace} from './read-trace';
import {reportOn} from './report';
import {isEstimate} from './time-constants';
import {ownTrace, type SpinTrace} from './trace';

const text = readFileSync(new URL('../fixtures/spin.csv', import.meta.url), 'utf8');
const traceOf = (csv: string, options = {}): SpinTrace => {
  const read = readSpinTrace(csv, options);
  if (!read.ok) throw new Error(read.problem.meaning);
  return read.value;
};
const trace = traceOf(text);
const report = reportOn(trace);
const valueOf = (answer: Answer): number => {
  if (!isEstimate(answer)) throw new Error(answer.reason);
  return answer.value;
};
const reasonOf = (answer: Answer): string => (isEstimate(answer) ? 'told' : answer.reason);

/** Every so many rows of a trace. */
const thinned = (every: number): SpinTrace => {
  const rows = (values: Float64Array) => values.filter((_, i) => i % every === 0);
  return {
    ...trace,
    timeS: rows(trace.timeS),
    volts: rows(trace.volts!),
    motors: trace.motors.map((m) => ({throttle: rows(m.throttle), rpm: rows(m.rpm), amps: rows(m.amps!)})),
  };
};

describe.each([0, 1, 2, 3])('motor %i of the trace', (m) => {
  const own = report.motors[m]!;
  const truth = reference.truth[m]!;
  const fit = reference.fits[m]!;
  it('has its true KV within 0.5 %, resistance and inertia within 10 %, all within the bounds that are told', () => {
    for (const [key, either] of [
      ['kv', 0.005],
      ['resistanceOhm', 0.1],
      ['inertia', 0.1],
    ] as const) {
      const answer = own[key];
      if (!isEstimate(answer)) throw new Error(answer.reason);
      expect(Math.abs(answer.value / truth[key] - 1), key).toBeLessThan(either);
      expect(answer.low, key).toBeLessThan(truth[key]);
      expect(answer.high, key).toBeGreaterThan(truth[key]);
    }
  });
  it('agrees with scipy.optimize.least_squares on the simulated step, and with curve_fit on the sweep', () => {
    expect(Math.abs(valueOf(own.kv) / fit.kv - 1)).toBeLessThan(0.005);
    expect(Math.abs(valueOf(own.resistanceOhm) / fit.resistanceOhm - 1)).toBeLessThan(0.17);
    expect(Math.abs(valueOf(own.inertia) / fit.inertia - 1)).toBeLessThan(0.12);
    // Motor 2 coasts into the sweep: a straight line through its rows is not its KV.
    if (m !== 1) expect(Math.abs(valueOf(own.kv) / fit.kvOfSweep - 1)).toBeLessThan(0.005);
  });
  it('starts where it was made to', () => {
    const percent = valueOf(own.startsAtPercent);
    // Motor 3 stutters first and starts 0.12 s later, 0.48 % up the ramp.
    expect(percent - truth.startsAtPercent).toBeGreaterThanOrEqual(-0.01);
    expect(percent - truth.startsAtPercent).toBeLessThan(m === 2 ? 0.6 : 0.05);
  });
  it('rises and falls with J·R/K_T² as any machine text has it, the fall slower by the share of braking', () => {
    const kt = 60 / (2 * Math.PI * truth.kv);
    const tau = (truth.inertia * truth.resistanceOhm) / kt ** 2;
    // 63 % is one time constant; the reply is 0.3 ms old, and the current limit holds the first moment back.
    expect(valueOf(own.spoolUpS)).toBeGreaterThan(tau);
    expect(valueOf(own.spoolUpS)).toBeLessThan(1.4 * tau);
    if (m === 1) return;
    expect(valueOf(own.coastDownS) / (tau / 0.6)).toBeGreaterThan(0.9);
    expect(valueOf(own.coastDownS) / (tau / 0.6)).toBeLessThan(1.25);
  });
});

describe('what stands out', () => {
  it('the stutters of motor 3 and the lost step of motor 4, each once and in time', () => {
    expect(report.motors.map((m) => m.stutters.length)).toEqual([0, 0, reference.stutterS.length, 0]);
    report.motors[2]!.stutters.forEach((s, i) => expect(Math.abs(s - reference.stutterS[i]!)).toBeLessThan(0.02));
    expect(report.motors.map((m) => m.desyncs.length)).toEqual([0, 0, 0, 1]);
    expect(Math.abs(report.motors[3]!.desyncs[0]! - reference.desyncS)).toBeLessThan(0.01);
  });
  it('motor 2 coasts: at least as long as it was seen to', () => {
    expect(report.oddOnes.map((o) => [o.motor, o.what, o.isLeast])).toEqual([[1, 'coastDownS', true]]);
    expect(report.findings.map((f) => f.kind)).toEqual(['stutter', 'desync', 'odd-coast-down']);
    expect(report.findings.at(-1)!.text).toMatch(/^Motor 2: coast-down at least 499 ms, the others about 8 ms\.$/);
  });
  it('a motor of 12 poles among those of 14 is named by the ratio of its KV, with either count known', () => {
    const poles12 = {
      ...trace,
      motors: trace.motors.map((m, i) => (i === 0 ? {...m, rpm: m.rpm.map((r) => (r * 12) / 14)} : m)),
    };
    for (const question of [{}, {poles: 14}]) {
      const found = reportOn(poles12, question).findings.find((f) => f.kind === 'wrong-poles');
      expect(found?.motor).toBe(0);
      expect(found?.text).toContain('the ratio of 12 to 14 poles');
    }
  });
});

describe('what motors can be called alike in', () => {
  it('is what every one of them told, and nothing of fewer than three', () => {
    const told = report.motors.filter((_, m) => m !== 1);
    expect(comparableIn(told)).toContain('coastDownS');
    expect(comparableIn(report.motors)).not.toContain('coastDownS');
    expect(comparableIn(report.motors)).toContain('kv');
    expect(comparableIn(told.slice(1))).toEqual([]);
  });
});

it('a trace of 300,000 rows is read and told like a short one', () => {
  const rows = Array.from({length: 300_000}, (_, i) => {
    const percent = i < 400 ? 0 : 5 + (40 * (i % 60_000)) / 60_000;
    return `${i / 2000},${percent.toFixed(3)},${(percent * 420).toFixed(1)}`;
  });
  const {motors} = reportOn(traceOf(['time_s,throttle_1,rpm_1', ...rows].join('\n'), {volts: 24}));
  // 420 rpm for each per cent of 24 V is 1750 rpm/V.
  expect(valueOf(motors[0]!.kv) / 1750).toBeCloseTo(1, 2);
});

describe('what a trace cannot tell', () => {
  it('time constants and winding where rows are 20 ms apart, while the start is still told', () => {
    const {motors} = reportOn(thinned(20));
    for (const m of [0, 3]) {
      expect(reasonOf(motors[m]!.spoolUpS)).toMatch(/20 ms between two rows/);
      expect(reasonOf(motors[m]!.coastDownS)).toMatch(/20 ms between two rows/);
      expect(reasonOf(motors[m]!.resistanceOhm)).not.toBe('told');
      expect(valueOf(motors[m]!.startsAtPercent)).toBeCloseTo(reference.truth[m]!.startsAtPercent, 0);
    }
  });
  it('resistance and inertia without phase current; the KV within 2 % all the same', () => {
    const without = {...trace, motors: trace.motors.map((m) => ({...m, amps: undefined}))};
    const {motors} = reportOn(without);
    expect(reasonOf(motors[0]!.resistanceOhm)).toBe('The trace has no phase current.');
    motors.forEach((m, i) => expect(Math.abs(valueOf(m.kv) / reference.truth[i]!.kv - 1)).toBeLessThan(0.02));
  });
  it('the KV without volts', () => {
    const {motors} = reportOn({...trace, volts: undefined});
    expect(reasonOf(motors[0]!.kv)).toMatch(/supply is not known/);
  });
  it('a start that the command jumped over', () => {
    const rows = Array.from({length: 60}, (_, i) => `${i / 100},${i < 10 ? 0 : 30},${i < 12 ? 0 : 9000}`);
    const {motors} = reportOn(traceOf(['time_s,throttle_1,rpm_1', ...rows].join('\n')));
    expect(reasonOf(motors[0]!.startsAtPercent)).toMatch(/jumped from 0\.0 to 30\.0 %/);
    expect(reasonOf(motors[0]!.coastDownS)).toMatch(/no cut/);
  });
});

describe('one step from rest, in closed form: ω = ω∞·(1 − e^(−t/τ)), τ = J·R/K_T² (any machine text)', () => {
  const [kv, ohm, inertia, friction, volts, duty] = [1750, 0.062, 2.1e-6, 6e-4, 24, 0.3];
  const kt = 60 / (2 * Math.PI * kv);
  const tau = (inertia * ohm) / kt ** 2;
  const top = (volts * duty - (friction / kt) * ohm) / kt;
  const at = (s: number) => Math.max(0, top * (1 - Math.exp(-(s - 0.1) / tau)));
  const rows = Array.from({length: 800}, (_, i) => {
    const s = i / 1000;
    const [omega, on] = [at(s), s >= 0.1];
    const amps = on ? (volts * duty - kt * omega) / ohm : 0;
    return [s, on ? 100 * duty : 0, (omega * 30) / Math.PI, amps].join(',');
  });
  const [motor] = reportOn(traceOf(['time_s,throttle_1,rpm_1,amps_1', ...rows].join('\n'), {volts})).motors;
  it('tells KV, resistance and inertia from the start alone, since nothing else moved', () => {
    // At one speed dead time, of which this machine has none, is not told from back-EMF: KV is as sure as that leaves it.
    const {low, high} = motor!.kv as Estimate;
    expect(low < kv && kv < high).toBe(true);
    expect((high - low) / kv).toBeLessThan(0.4);
    expect(Math.abs(valueOf(motor!.resistanceOhm) / ohm - 1)).toBeLessThan(0.05);
    expect(Math.abs(valueOf(motor!.inertia) / inertia - 1)).toBeLessThan(0.05);
  });
  it('rises to 63 % in τ·ln(1/0.37), and where it started is not told', () => {
    expect(valueOf(motor!.spoolUpS) / (tau * Math.log(1 / 0.37))).toBeCloseTo(1, 1);
    expect(reasonOf(motor!.startsAtPercent)).toMatch(/jumped/);
  });
});

describe('the timing of the ESC', () => {
  it('is told apart from the KV: seen 1/cos 20° faster, the motor is the same', () => {
    const share = Math.cos((20 * Math.PI) / 180);
    const own = ownTrace(trace, 0);
    const seen = motorCard(own);
    const known = motorCard(own, {timing: {advance: 20, inductanceH: 0, poles: 14}});
    expect(valueOf(known.kv) / (valueOf(seen.kv) * share)).toBeCloseTo(1, 3);
  });
});

describe('reading', () => {
  const problem = (csv: string, options = {}) => {
    const read = readSpinTrace(csv, options);
    return read.ok ? undefined : `${read.problem.place}: ${read.problem.meaning} ${read.problem.remedy}`;
  };
  const rows = (header: string, row: (i: number) => string) =>
    [header, ...Array.from({length: 10}, (_, i) => row(i))].join('\n');
  it('electrical speeds take the pole count: 21,000 eRPM of 14 poles are 3000 rpm', () => {
    const csv = rows('time_s,throttle_1,erpm_1', (i) => `${i},5,21000`);
    expect(problem(csv)).toMatch(/--poles/);
    expect(traceOf(csv, {poles: 14}).motors[0]!.rpm[3]).toBe(3000);
  });
  it('columns in any order, one throttle for all, notes, spaces, blank lines and empty cells are read', () => {
    const csv = rows('# made by hand\n rpm_2, throttle ,rpm_1,time_s', (i) => `200,7,${i === 4 ? '' : 100},${i}\n`);
    const read = traceOf(csv, {volts: 12});
    expect([...read.timeS]).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
    expect(read.motors.map((m) => m.throttle[0])).toEqual([0.07, 0.07]);
    expect(read.motors[0]!.rpm[4]).toBeNaN();
    expect(read.volts![9]).toBe(12);
  });
  it('rows whose time does not rise are left out and counted', () => {
    const csv = rows('time_s,throttle_1,rpm_1', (i) => `${i === 5 ? 4 : i},5,100`);
    const read = traceOf(csv);
    expect(read.timeS).toHaveLength(9);
    expect(read.notes).toEqual(['1 rows whose time did not rise were skipped.']);
  });
  it.each([
    ['', /holds no rows/],
    ['time_s,throttle_1\n', /no speeds of 1 to 16 motors/],
    ['t,throttle_1,rpm_1\n', /lacks time_s/],
    ['time_s,throttle_1,rpm_1,rpm_3\n', /Motor 2 has no rpm_2/],
    [
      rows('time_s,throttle_1,rpm_1', (i) => `${i},${i === 3 ? 'x' : 5},100`),
      /line 5, column throttle_1: "x" is not a number/,
    ],
    [rows('time_s,throttle_1,rpm_1', (i) => `${i},500,100`), /percent, 0 to 100/],
    ['time_s,throttle_1,rpm_1\n0,1,1\n', /Only 1 rows/],
  ])('%j is refused with place and remedy', (csv, says) => expect(problem(csv)).toMatch(says));
});
