/**
 * The physics of a craft against scipy (fixtures/make-flight.py), worked examples and facts of the trade. Estimates are
 * ours; what is checked of them is that they stay inside the bounds they claim.
 */
import {describe, expect, it} from 'vitest';
import type {Craft} from '../craft/craft';
import {alder} from '@demo/craft/alder';
import {demoFleet} from '@demo/craft/fleet';
import {juniper} from '@demo/craft/juniper';
import {sorrel} from '@demo/craft/sorrel';
import reference from '../fixtures/flight.json';
import {coastDownS} from './coast';
import {demagAngle, desyncMargin, freeAngle, idealAdvance, torqueShare, watchAngle} from './desync';
import {estimateInductance, estimatePackResistance, estimateResistance, readStatorSize} from './estimates';
import {beatsWithPwm, commutationHz, electricalHz, fullThrottle, sagBalance} from './full-throttle';
import {flightBounds, flightMinutes, hoverPoint, lostDuty} from './hover';
import {lossesAt, totalLoss} from './losses';
import {canModel, motorOf, packResistance, withEstimatedWinding, withEstimates} from './model';
import {rippleAmps, rpmOf, stepMotor, torqueConstant} from './motor';
import {airDensity, dragOf, omegaForThrust, shaftPower, thrustCoefficient} from './propeller';
import {stallHeat, startAmps, startMargin, startTorque} from './starting';

const sorrelAt = (kHz: number) => ({pwmHz: kHz * 1000, deadTimeS: 300e-9});
const juniperAt = (kHz: number) => ({pwmHz: kHz * 1000, deadTimeS: 45e-9});

describe('against scipy', () => {
  it.each(reference.ripple)('ripple at $volts V, duty $duty: peak to peak, and RMS as ΔI/√12', (r) => {
    const peak = rippleAmps(r.volts, r.duty, r.inductanceH, r.pwmHz);
    expect(peak).toBeCloseTo(r.peakToPeak, 9);
    const {ripple} = lossesAt({...r, amps: 0, deadTimeS: 0, resistanceOhm: 1}, 0);
    expect(Math.sqrt(ripple)).toBeCloseTo(r.rms, 6);
  });

  it.each(reference.hover)('hover power of $thrustN N on $diameterM m by the momentum integral', (h) => {
    const propeller = {diameterInch: h.diameterM / 0.0254, pitchInch: 1, blades: 2};
    expect(shaftPower(propeller, h.thrustN, 1)).toBeCloseTo(h.watts, 6);
  });

  it.each(reference.full)('full throttle of $kv KV on a sagging pack', (f) => {
    const motor = {...f, poles: 14, inductanceH: 1e-5, inertia: 1e-6, cogging: 0};
    const drive = {pwmHz: 1, deadTimeS: f.lost / 2};
    const supply = {openVolts: f.volts, packOhm: f.packOhm, motors: f.arms};
    const {volts, omega, amps} = sagBalance(motor, drive, supply);
    expect(volts).toBeCloseTo(f.sagged, 6);
    expect(rpmOf(omega) / f.rpm).toBeCloseTo(1, 6);
    expect(amps / f.amps).toBeCloseTo(1, 6);
  });

  it.each(reference.coast)('coast-down with the winding shorted for $share of the time, within 1 %', (c) => {
    const motor = {kv: 1750, poles: 14, resistanceOhm: 0.062, inductanceH: 1e-5, cogging: 0, ...c};
    const bridge = {pwmHz: 24e3, deadTimeS: 0, brakeShare: c.share, limitAmps: c.limit};
    let [state, t] = [{omega: c.omega, amps: 0}, 0];
    for (; state.omega > 0.37 * c.omega; t += 2e-5)
      state = stepMotor(state, {volts: 22, duty: 0}, {motor, bridge}, 2e-5);
    expect(t / c.seconds).toBeGreaterThan(0.99);
    expect(t / c.seconds).toBeLessThan(1.01);
  });
});

describe('worked examples (by hand, from the formulas of power-electronics texts)', () => {
  it('losses at 10 V, 2 A, half duty, 50 kHz, 100 ns: 0.4 W copper, 0.04 W edges, 0.016 W dead time', () => {
    const losses = lossesAt({
      volts: 10,
      duty: 0.5,
      amps: 2,
      pwmHz: 50e3,
      deadTimeS: 100e-9,
      resistanceOhm: 0.1,
      inductanceH: 20e-6,
    });
    expect(losses.copper).toBeCloseTo(0.4, 12);
    expect(losses.switching).toBeCloseTo(10 * 2 * 40e-9 * 50e3, 12);
    expect(losses.deadTime).toBeCloseTo(0.8 * 2 * 2 * 100e-9 * 50e3, 12);
    // ΔI = 10·0.25/(20 µH · 50 kHz) = 2.5 A; R + 2π·50k·20µ·0.3 = 0.1 + 1.885 Ω.
    expect(losses.ripple).toBeCloseTo((2.5 ** 2 / 12) * (0.1 + 2 * Math.PI * 0.3), 9);
    expect(totalLoss(losses)).toBeCloseTo(losses.copper + losses.ripple + losses.switching + losses.deadTime, 12);
  });
  it('300 ns at 96 kHz take 5.76 % of the duty', () => expect(lostDuty(sorrelAt(96))).toBeCloseTo(0.0576, 12));
  it('14 poles at 30,000 rpm: 3500 electrical turns and 21,000 commutations a second', () => {
    expect(electricalHz(30_000, 14)).toBe(3500);
    expect(commutationHz(30_000, 14)).toBe(21_000);
  });
  it('efficiency of an ideal drive is K_T·ω over the supply: half speed, half volts lost in R', () => {
    // 1000 KV on 10 V at 5000 rpm and full duty: E = 5 V, so half of V·I reaches the shaft.
    const kt = torqueConstant(1000);
    const omega = (5000 * 2 * Math.PI) / 60;
    const amps = (10 - omega * kt) / 0.5;
    const {copper} = lossesAt(
      {volts: 10, duty: 1, amps, pwmHz: 24e3, deadTimeS: 0, resistanceOhm: 0.5, inductanceH: 1e-5},
      0,
    );
    expect((kt * amps * omega) / (kt * amps * omega + copper)).toBeCloseTo(0.5, 12);
  });
});

describe('Sorrel at 24, 48 and 96 kHz', () => {
  const minutes = [24, 48, 96].map((kHz) => flightMinutes(sorrel, sorrelAt(kHz)));
  const [low, middle, high] = minutes as [number, number, number];
  it('flies longer with every step', () => {
    expect(low).toBeLessThan(middle);
    expect(middle).toBeLessThan(high);
  });
  it('gains a quarter to a third from 24 to 96 kHz (common practice)', () => {
    expect(high / low).toBeGreaterThan(1.25);
    expect(high / low).toBeLessThan(1.34);
  });
  it('in the proportion that was noted in flight, 3.6 : 4.2 : 4.6 min, within 3 %', () => {
    expect(middle / low / (4.2 / 3.6)).toBeCloseTo(1, 1);
    expect(Math.abs(middle / low / (4.2 / 3.6) - 1)).toBeLessThan(0.03);
    expect(Math.abs(high / low / (4.6 / 3.6) - 1)).toBeLessThan(0.03);
  });
  it('and the flights noted lie within the bounds', () => {
    [3.6, 4.2, 4.6].forEach((noted, i) => {
      const {least, most} = flightBounds(sorrel, sorrelAt([24, 48, 96][i]!));
      expect(least).toBeLessThan(noted);
      expect(most).toBeGreaterThan(noted);
    });
  });
  it('beats with its commutation at 24 kHz, and no longer at 48', () => {
    const range = [hoverPoint(sorrel, sorrelAt(24)).rpm, fullThrottle(sorrel, sorrelAt(24)).rpm].map((rpm) =>
      commutationHz(rpm, 12),
    ) as [number, number];
    expect([24, 48, 96].map((kHz) => beatsWithPwm(kHz * 1000, ...range))).toEqual([true, false, false]);
  });
});

describe('every craft of the demo', () => {
  it.each(demoFleet)('$name hovers within reach, bounds hold the middle, high PWM saves power', (craft) => {
    const hover = hoverPoint(craft, juniperAt(48));
    expect(hover.reachable).toBe(true);
    expect(hover.duty).toBeGreaterThan(0.1);
    expect(hover.duty).toBeLessThan(0.7);
    expect(hover.shaftW + totalLoss(hover.losses)).toBeLessThan(hover.inputW);
    const {least, most} = flightBounds(craft, juniperAt(48));
    expect(least).toBeLessThan(flightMinutes(craft, juniperAt(48)));
    expect(most).toBeGreaterThan(flightMinutes(craft, juniperAt(48)));
    expect(hoverPoint(craft, juniperAt(96)).inputW).toBeLessThan(hoverPoint(craft, juniperAt(24)).inputW);
  });

  it.each(demoFleet)('the estimates of $name stay within their factor of what was measured', (craft) => {
    const stator = readStatorSize(craft.motor.size)!;
    const resistance = estimateResistance(stator, craft.motor.kv);
    const inductance = estimateInductance(stator, craft.motor.resistanceOhm);
    for (const [estimate, measured] of [
      [resistance, craft.motor.resistanceOhm],
      [inductance, craft.motor.inductanceH],
    ] as const) {
      expect(measured).toBeGreaterThan(estimate.value / estimate.factor);
      expect(measured).toBeLessThan(estimate.value * estimate.factor);
    }
  });
});

describe('a craft that cannot carry itself', () => {
  it('is told, not flown', () => {
    const heavy = {...sorrel, weightG: 400};
    expect(hoverPoint(heavy, sorrelAt(24)).reachable).toBe(false);
  });
});

describe('estimates', () => {
  it.each([
    ['2207', {diameterMm: 22, heightMm: 7}],
    ['1002', {diameterMm: 10, heightMm: 2}],
    ['2306.5', {diameterMm: 23, heightMm: 6.5}],
    ['big one', undefined],
    ['0000', undefined],
  ])('a size of %s reads', (size, stator) => expect(readStatorSize(size)).toEqual(stator));

  it('follow size and KV only where the craft says so', () => {
    const {motor} = juniper;
    expect(withEstimates(motor)).toBe(motor);
    const both = withEstimates({...motor, estimated: ['resistanceOhm', 'inductanceH']});
    const faster = withEstimates({...both, kv: motor.kv * 2});
    expect(faster.resistanceOhm / both.resistanceOhm).toBeCloseTo(0.25, 9);
    expect(faster.inductanceH / both.inductanceH).toBeCloseTo(0.25, 9);
    expect(withEstimates({...motor, estimated: ['inductanceH']}).resistanceOhm).toBe(motor.resistanceOhm);
    expect(withEstimates({...motor, size: '?', estimated: ['resistanceOhm']}).resistanceOhm).toBe(motor.resistanceOhm);
  });

  it('a pack of six cells and 1300 mAh is taken at 27.7 mΩ unless it was measured', () => {
    expect(estimatePackResistance({cells: 6, capacityMah: 1300}).value).toBeCloseTo(0.0277, 4);
    expect(packResistance({battery: {...juniper.battery, resistanceOhm: 0.05}})).toBe(0.05);
    const tired = {...juniper, battery: {...juniper.battery, resistanceOhm: 0.1}};
    expect(fullThrottle(tired, juniperAt(24)).cellVolts).toBeLessThan(fullThrottle(juniper, juniperAt(24)).cellVolts);
  });
});

describe('a propeller', () => {
  it('carries at its speed what momentum and drag agree on', () => {
    const omega = omegaForThrust(juniper.propeller, 1.5);
    expect(dragOf(juniper.propeller) * omega ** 3).toBeCloseTo(shaftPower(juniper.propeller, 1.5), 9);
    const turns = omega / (2 * Math.PI);
    const thrust = thrustCoefficient(juniper.propeller).value * airDensity * turns ** 2 * (5.1 * 0.0254) ** 4;
    expect(thrust).toBeCloseTo(1.5, 9);
  });
});

describe('the margin on a hard throttle step', () => {
  const step = (demag: number) => ({craft: juniper, drive: juniperAt(48), limitAmps: 45, demag});
  it('grows with the advance, degree by degree', () =>
    expect(desyncMargin(step(1), 22.5) - desyncMargin(step(1), 15)).toBeCloseTo(7.5, 9));
  it('grows with demag compensation and with a lower current limit', () => {
    expect(demagAngle(step(2))).toBeLessThan(demagAngle(step(1)));
    expect(demagAngle(step(1))).toBeLessThan(demagAngle(step(0)));
    expect(demagAngle({...step(0), limitAmps: 20})).toBeLessThan(demagAngle(step(0)));
  });
  it('is never negative as planned for the craft of the demo', () => {
    for (const craft of [juniper, alder])
      expect(desyncMargin({craft, drive: juniperAt(48), limitAmps: 45, demag: 1}, 22.5)).toBeGreaterThan(0);
  });
  it('L·I/V by hand: 16 µH and 45 A take 36 µs of 20 V, 45° at 3472 electrical turns; half of it with demag at high', () => {
    const point = {hz: 3472, amps: 45, volts: 20, inductanceH: 16e-6, pwmHz: 48e3};
    expect(freeAngle({...point, demag: 0})).toBeCloseTo(360 * 3472 * 36e-6, 9);
    expect(freeAngle({...point, demag: 2})).toBeCloseTo((360 * 3472 * 36e-6) / 2, 9);
  });
  it('a crossing watched twice in a PWM period of 24 kHz is seen a quarter period late: 15° at 4000 electrical turns', () => {
    expect(watchAngle({hz: 4000, pwmHz: 24e3})).toBeCloseTo(15, 9);
  });
  it('current and voltage are in phase a few degrees ahead, and torque is best there', () => {
    const ideal = idealAdvance(juniper, juniperAt(48));
    expect(ideal).toBeGreaterThan(1);
    expect(ideal).toBeLessThan(15);
    expect(torqueShare(ideal, ideal)).toBe(1);
    expect(torqueShare(ideal + 30, ideal)).toBeCloseTo(Math.sqrt(3) / 2, 12);
  });
});

describe('starting', () => {
  const at = (craft: Craft, powerUs: number) => ({craft, powerUs, limitAmps: 45});
  it.each(demoFleet)(
    '$name starts near 1020 to 1070 µs with its propellers on (common practice: near 1020)',
    (craft) => {
      const needs = 1000 + 20 / startMargin(at(craft, 1020)).value;
      expect(needs).toBeGreaterThan(1015);
      expect(needs).toBeLessThan(1075);
    },
  );
  it('every craft starts with the usual highest power of 1125 µs (common practice)', () => {
    for (const craft of demoFleet) expect(startMargin(at(craft, 1125)).value, craft.name).toBeGreaterThan(1.5);
  });
  it('takes ½·(T/J)·t² = 60° electrical in 6 ms: by hand 83 mN·m for 1e-5 kg·m² and 14 poles', () => {
    // 60° electrical are 0.1496 rad of 7 pole pairs; 2 · 0.1496 · 1e-5 / 3.6e-5 = 0.0831 N·m.
    expect(startTorque({inertia: 1e-5, cogging: 0, friction: 0, poles: 14})).toBeCloseTo(0.0831, 4);
  });
  it('current is what the share of the supply pushes through the winding, heat I²·R, both capped by the ESC', () => {
    expect(startAmps(at(sorrel, 1125))).toBeCloseTo((0.125 * 3.7) / 0.21, 9);
    expect(stallHeat(at(sorrel, 1125))).toBeCloseTo((0.125 * 3.7) ** 2 / 0.21, 9);
    expect(startAmps(at(juniper, 1300))).toBe(45);
  });
});

describe('a craft whose stator size does not read', () => {
  const unread = {...juniper, motor: {...juniper.motor, size: 'big one'}};
  it('is not modelled, and nothing is put in its place', () => {
    expect(canModel(unread)).toBe(false);
    expect(() => motorOf(unread)).toThrow(/does not read/);
  });
});

describe('coast-down of a craft', () => {
  const ask = {
    craft: juniper,
    drive: juniperAt(48),
    limitAmps: 45,
    activeBraking: true,
    strength: 60,
    propeller: true,
  };
  it('is shorter with braking, more so without a propeller', () => {
    expect(coastDownS(ask)).toBeLessThan(coastDownS({...ask, activeBraking: false}));
    const bench = {...ask, propeller: false};
    expect(coastDownS({...bench, activeBraking: false}) / coastDownS(bench)).toBeGreaterThan(3);
  });
  it('is shorter with more strength', () =>
    expect(coastDownS({...ask, strength: 100})).toBeLessThan(coastDownS({...ask, strength: 10})));
});

it('a motor of the model carries the weight at the speed the hover says', () => {
  const motor = motorOf(juniper);
  const {rpm, amps, shaftW} = hoverPoint(juniper, juniperAt(48));
  const omega = (rpm * 2 * Math.PI) / 60;
  expect(torqueConstant(motor.kv) * amps).toBeCloseTo(motor.friction + motor.drag * omega ** 2, 9);
  expect(motor.drag * omega ** 3).toBeCloseTo(shaftW, 9);
});

it('a craft from a preset has a winding that is estimated, and called so', () => {
  const fresh = withEstimatedWinding({motor: {size: '2207', kv: 1750, poles: 14, resistanceOhm: 1, inductanceH: 1}});
  expect(fresh.motor.estimated).toEqual(['resistanceOhm', 'inductanceH']);
  expect(fresh.motor.resistanceOhm).toBeGreaterThan(0.05);
  expect(fresh.motor.resistanceOhm).toBeLessThan(0.12);
});
