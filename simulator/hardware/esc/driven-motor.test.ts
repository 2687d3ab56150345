/** The simulated motor against the rules that speak of it: what they warn of happens here, and what they pass does not. */
import {describe, expect, it} from 'vitest';
import {demagAngle} from '@core/motor/desync';
import {motorOf} from '@core/motor/model';
import {rpmOf, torqueConstant, type MotorConstants} from '@core/motor/motor';
import {startMargin, startTorque} from '@core/motor/starting';
import {timingAutomatic} from '@core/settings/parameters/special-values';
import {demoFleet} from '@demo/craft/fleet';
import {drawMotor, motorClasses} from '../../benches/draw-motor';
import {Random} from '../../random';
import {DrivenMotor} from './driven-motor';
import type {Drive} from './esc';

const juniper = demoFleet.find((c) => c.id === 'juniper')!;
const drive = (over: Partial<Drive> = {}, bridge: Partial<Drive['bridge']> = {}): Drive => ({
  bridge: {pwmHz: 48_000, deadTimeS: 45e-9, brakeShare: 0.6, limitAmps: 45, ...bridge},
  timing: 22.5,
  demag: 1,
  startLowUs: 1050,
  startHighUs: 1125,
  ...over,
});

/** Runs a motor through throttle over time, in steps of 0.25 ms. */
function run(
  constants: MotorConstants,
  throttle: (s: number) => number,
  {
    esc = drive(),
    volts = 22.2,
    seconds = 1,
    seed = 3,
  }: {esc?: Drive; volts?: number; seconds?: number; seed?: number} = {},
) {
  const motor = new DrivenMotor(constants, new Random(seed));
  const speeds: number[] = [];
  const told: number[] = [];
  let stutters = 0;
  for (let s = 0; s < seconds; s += 2.5e-4) {
    const now = throttle(s);
    motor.step({volts, throttle: now, duty: now, esc}, 2.5e-4);
    stutters = Math.max(stutters, motor.stutters);
    speeds.push(rpmOf(motor.state.omega));
    told.push(motor.measuredRpm());
  }
  return {motor, speeds, told, stutters};
}

describe('a start', () => {
  it.each(demoFleet)(
    '$name, with its propellers on: stutters below the margin of the rule, and starts above it',
    (craft) => {
      const constants = motorOf(craft);
      const volts = craft.battery.cells * 3.7;
      const one = (powerUs: number) => startMargin({craft, powerUs, limitAmps: 45}).value;
      const powerAt = (margin: number) => 1000 + (20 * margin) / one(1020);
      const starts = (margin: number) => {
        const powers = {startLowUs: 1000, startHighUs: powerAt(margin)};
        return run(constants, () => 1, {esc: drive(powers, {deadTimeS: 0}), volts, seconds: 1.5});
      };
      const weak = starts(0.75);
      expect(weak.stutters).toBeGreaterThan(5);
      expect(Math.max(...weak.speeds)).toBeLessThan(400);
      expect(Math.max(...starts(1.3).speeds)).toBeGreaterThan(2000);
    },
  );
  it('scatters: the command at which it catches differs from one to the next, by some per cent', () => {
    const constants = motorOf(juniper);
    const at = Array.from({length: 30}, (_, seed) => {
      const {speeds} = run(constants, (s) => 0.02 + 0.02 * s, {seconds: 1.5, seed});
      return 0.02 + 0.02 * 2.5e-4 * speeds.findIndex((rpm) => rpm > 800);
    });
    const mean = at.reduce((sum, t) => sum + t) / at.length;
    const spread = Math.sqrt(at.reduce((sum, t) => sum + (t - mean) ** 2, 0) / at.length) / mean;
    expect(spread).toBeGreaterThan(0.01);
    expect(spread).toBeLessThan(0.08);
  });
  it('takes a torque between 0.5 and 8 % of what the supply can give, for drawn motors of every class without propellers', () => {
    const random = new Random(5);
    for (const of of motorClasses)
      for (let i = 0; i < 20; i++) {
        const m = drawMotor(of, random);
        const stall = (torqueConstant(m.kv) * of.cells * 3.9) / m.resistanceOhm;
        expect(startTorque(m) / stall, of.size).toBeGreaterThan(0.005);
        expect(startTorque(m) / stall, of.size).toBeLessThan(0.08);
      }
  });
});

describe('a hard step', () => {
  /** Share of twelve steps from hover to full throttle in which step was lost. */
  const lost = (esc: Drive) => {
    const constants = motorOf(juniper);
    const steps = Array.from({length: 12}, (_, seed) =>
      run(constants, (s) => (s < 0.4 ? 0.3 : 1), {esc, seconds: 1, seed}),
    );
    return steps.filter((s) => s.motor.desyncs > 0).length / steps.length;
  };
  const margin = (timing: number, demag: number, pwmHz: number) =>
    30 + timing - demagAngle({craft: juniper, drive: {pwmHz, deadTimeS: 45e-9}, limitAmps: 45, demag});
  it.each([
    [22.5, 1, 48_000],
    [30, 2, 48_000],
    [22.5, 2, 24_000],
  ])('timing %i°, demag %i, %i Hz: a margin in the rule, and no step lost', (timing, demag, pwmHz) => {
    expect(margin(timing, demag, pwmHz)).toBeGreaterThan(0);
    expect(lost(drive({timing, demag}, {pwmHz}))).toBe(0);
  });
  it.each([
    [0, 0, 48_000],
    [0, 1, 24_000],
    [7.5, 0, 24_000],
  ])('timing %i°, demag %i, %i Hz: none in the rule, and steps are lost', (timing, demag, pwmHz) => {
    expect(margin(timing, demag, pwmHz)).toBeLessThan(-5);
    expect(lost(drive({timing, demag}, {pwmHz}))).toBeGreaterThan(0.5);
  });
  it('a lost step shows in speed and current, and the motor comes back', () => {
    const esc = drive({timing: 0, demag: 0});
    const {speeds, motor} = run(motorOf(juniper), (s) => (s < 0.4 ? 0.3 : s < 0.5 ? 1 : 0.3), {esc, seconds: 1.6});
    expect(motor.desyncs).toBeGreaterThan(0);
    const before = speeds[Math.round(0.39 / 2.5e-4)]!;
    expect(Math.min(...speeds.slice(Math.round(0.41 / 2.5e-4)))).toBeLessThan(0.6 * before);
    expect(speeds.at(-1)! / before).toBeCloseTo(1, 1);
  });
});

describe('timing', () => {
  it('turns a free motor faster by 1/cos of the advance, 30° by 15 %; automatic timing not at all', () => {
    const free = {...motorOf(juniper), drag: 0, friction: 1e-6};
    const top = (timing: number) => run(free, () => 0.3, {esc: drive({timing}, {deadTimeS: 0})}).speeds.at(-1)!;
    expect(top(30) / top(0)).toBeCloseTo(1 / Math.cos(Math.PI / 6), 2);
    expect(top(timingAutomatic) / top(0)).toBeCloseTo(1, 2);
  });
});

describe('a reply', () => {
  it('is the mean of the last electrical turn: late while the motor speeds up, right when it is steady', () => {
    const {speeds, told} = run(motorOf(juniper), () => 0.3, {seconds: 0.6});
    expect(told.at(-1)! / speeds.at(-1)!).toBeCloseTo(1, 1);
    const rising = speeds.findIndex((rpm) => rpm > 3000);
    expect(told[rising]!).toBeLessThan(speeds[rising]!);
  });
  it('of a motor that stands is 0, a moment after it has stopped', () => {
    const {told, motor} = run(motorOf(juniper), (s) => (s < 0.4 ? 0.1 : 0), {seconds: 1.2});
    expect(told.at(-1)).toBe(0);
    expect(motor.isStill).toBe(true);
  });
});
