/** Motor physics against scipy (fixtures/make-motor.py) and against formulas of power-electronics texts. */
import {describe, expect, it} from 'vitest';
import reference from '../fixtures/motor.json';
import {
  rippleAmps,
  rpmOf,
  steadyOmega,
  stepMotor,
  torqueConstant,
  type BridgeSettings,
  type MotorConstants,
  type MotorState,
} from './motor';

const motor: MotorConstants = {
  kv: 1750,
  poles: 14,
  resistanceOhm: 0.062,
  inductanceH: 16e-6,
  inertia: 9.5e-6,
  drag: 2.6e-8,
  friction: 8e-4,
  cogging: 0,
};
const bridge: BridgeSettings = {
  pwmHz: 48_000,
  deadTimeS: 45e-9,
  brakeShare: 1,
  limitAmps: 1e6,
};

describe('against scipy', () => {
  it.each(reference.steady)('steady speed at $volts V, duty $duty', ({volts, duty, omega}) => {
    expect(steadyOmega(volts, duty, motor, bridge)).toBeCloseTo(omega, 4);
  });

  it('runs up as the integrated differential equation does, within 1 %', () => {
    const {from, volts, duty, t, omega} = reference.run;
    let state: MotorState = {omega: from, amps: 0};
    let now = 0;
    t.forEach((until, i) => {
      for (; now < until - 1e-9; now += 1e-4) state = stepMotor(state, {volts, duty}, {motor, bridge}, 1e-4);
      expect(Math.abs(state.omega / omega[i]! - 1), `${until} s`).toBeLessThan(0.01);
    });
  });
});

it('motor, bridge and propeller through a step and a cut, inductance and all, within 2 % (scipy solve_ivp, Radau)', () => {
  const {from, volts, duty, cutS, brakeShare, limitAmps, t, omega} = reference.bridge;
  const own = {motor, bridge: {...bridge, brakeShare, limitAmps}};
  let state: MotorState = {omega: from, amps: 0};
  let now = 0;
  t.forEach((until, i) => {
    for (; now < until - 1e-9; now += 1e-4)
      state = stepMotor(state, {volts, duty: now < cutS - 1e-9 ? duty : 0}, own, 1e-4);
    expect(Math.abs(state.omega / omega[i]! - 1), `${until} s`).toBeLessThan(0.02);
  });
});

describe('formulas', () => {
  it('K_T of 1000 KV is 9.549 mN·m/A: 60/(2π·KV), any text on permanent-magnet machines', () => {
    expect(torqueConstant(1000)).toBeCloseTo(9.5493e-3, 7);
  });

  it('ripple current V·D·(1−D)/(L·f): 12 V at half duty, 20 µH, 50 kHz gives 3 A (worked by hand)', () => {
    expect(rippleAmps(12, 0.5, 20e-6, 50_000)).toBeCloseTo(3, 12);
  });

  it('an unloaded motor without losses turns at KV · V · D', () => {
    const ideal = {...motor, friction: 0, drag: 0};
    expect(rpmOf(steadyOmega(10, 0.5, ideal, {...bridge, deadTimeS: 0}))).toBeCloseTo(8750, 6);
  });
});

describe('coasting', () => {
  const free = {...motor, drag: 1e-10, inertia: 2.1e-6};
  /** Time until 37 % of the speed is left, to a step of the simulation, s. */
  const fall = (brakeShare: number, stepMs = 1): number => {
    const own = {motor: free, bridge: {...bridge, brakeShare}};
    let state: MotorState = {omega: 260, amps: 0};
    for (let ms = 0; ms < 2500; ms += stepMs) {
      if (state.omega <= 0.37 * 260) return ms / 1000;
      state = stepMotor(state, {volts: 24, duty: 0}, own, stepMs / 1000);
    }
    return Infinity;
  };

  it('takes many times longer without active braking', () => {
    expect(fall(0) / fall(0.6)).toBeGreaterThan(10);
  });

  it('without braking follows friction alone: t = J·Δω/T within 5 % (drag is small)', () => {
    expect(fall(0) / ((free.inertia * 260 * 0.63) / 8e-4)).toBeGreaterThan(0.95);
    expect(fall(0) / ((free.inertia * 260 * 0.63) / 8e-4)).toBeLessThan(1.05);
  });

  it('with the winding shorted falls as e^(−t·K_T²/(J·R)): the mechanical time constant of any machine text', () => {
    // 60/(2π·1750) = 5.457 mN·m/A; 2.1e-6 · 0.062 / 5.457e-3² = 4.37 ms; friction makes it a little less.
    const tau = (free.inertia * 0.062) / torqueConstant(1750) ** 2;
    expect(tau).toBeCloseTo(4.37e-3, 5);
    expect(fall(1, 0.05) / tau).toBeGreaterThan(0.8);
    expect(fall(1, 0.05) / tau).toBeLessThan(1.02);
  });
});
