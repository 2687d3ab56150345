/** What each parameter is said to do: lines inside their bounds, figures that agree with the physics behind them. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {sorrel} from '@demo/craft/sorrel';
import {definitionOf, parameterDefinitions, type ParameterKey} from '../../settings/definitions';
import {pwmFollows, timingAutomatic} from '../../settings/parameters/special-values';
import {fullThrottle} from '../full-throttle';
import {flightMinutes} from '../hover';
import {hoverPwmHz, type EffectQuestion} from './effect';
import {effectOf} from './effect-of';
import {fullThrottleHeat} from './pwm';

const ofJuniper: EffectQuestion = {craft: juniper, deadTimeS: 45e-9, settings: {pwm: 48, timing: 22.5}};
const ofSorrel: EffectQuestion = {craft: sorrel, deadTimeS: 300e-9, settings: {}, builtPwmKhz: 48};
const withEffect = parameterDefinitions.filter((d) => effectOf(d.key, ofJuniper)).map((d) => d.key);
const figure = (key: ParameterKey, value: number, name: string, question = ofJuniper) =>
  effectOf(key, question)!
    .figures(value)
    .find((f) => f.name === name)?.text;

describe('every effect', () => {
  it('exists where the physics says something', () =>
    expect(withEffect.sort()).toEqual(
      [
        'activeBraking',
        'brakeStrength',
        'currentLimit',
        'demag',
        'lowVoltageLimit',
        'pwm',
        'startHigh',
        'startLow',
        'timing',
      ].sort(),
    ));

  it.each(withEffect)('%s: lines are finite, rise in x, and lie within their bounds', (key) => {
    for (const {points} of effectOf(key, ofJuniper)!.lines) {
      expect(points.length).toBeGreaterThan(1);
      points.forEach((p, i) => {
        expect(Number.isFinite(p.y)).toBe(true);
        expect(p.low).toBeLessThanOrEqual(p.y);
        expect(p.high).toBeGreaterThanOrEqual(p.y);
        if (i) expect(p.x).toBeGreaterThan(points[i - 1]!.x);
      });
    }
  });

  it.each(withEffect)('%s: every value it can have has the same figures in the same order', (key) => {
    const {choices, min, max} = definitionOf(key);
    const effect = effectOf(key, ofJuniper)!;
    const values = choices?.map((c) => c.value) ?? [min, max];
    const names = values.map((v) => effect.figures(v).map((f) => f.name));
    for (const own of names) expect(own).toEqual(names[0]);
    for (const v of values) expect(Number.isFinite(effect.xOf(v))).toBe(true);
  });
});

describe('PWM frequency', () => {
  it('of an image that has it built in is the build, another value is that value', () => {
    expect(hoverPwmHz(ofSorrel)).toBe(48_000);
    expect(hoverPwmHz(ofSorrel, 24)).toBe(24_000);
  });
  it('that follows stands where the hover is', () => {
    const hz = hoverPwmHz({...ofJuniper, settings: {pwm: pwmFollows, pwmLow: 24, pwmHigh: 96}});
    expect(hz).toBeGreaterThan(24_000);
    expect(hz).toBeLessThan(96_000);
  });
  it('says for Sorrel the minutes of the hover model, more with every step', () => {
    const minutes = [24, 48, 96].map((kHz) => parseFloat(figure('pwm', kHz, 'Flight time', ofSorrel)!));
    expect(minutes).toEqual(
      [24, 48, 96].map((kHz) => Number(flightMinutes(sorrel, {pwmHz: kHz * 1000, deadTimeS: 300e-9}).toFixed(1))),
    );
    expect(minutes[0]).toBeLessThan(minutes[1]!);
    expect(minutes[1]).toBeLessThan(minutes[2]!);
    expect(figure('pwm', 24, 'Commutation', ofSorrel)).toMatch(/beats$/);
    expect(figure('pwm', 96, 'Throttle lost to dead time', ofSorrel)).toBe('5.8 %');
  });
});

describe('the other lines', () => {
  it('automatic timing stands at the advance where current and voltage are in phase', () => {
    const effect = effectOf('timing', ofJuniper)!;
    expect(effect.xOf(timingAutomatic)).toBeCloseTo(4.4, 1);
    expect(figure('timing', timingAutomatic, 'Torque kept in a hover')).toBe('100.0 %');
  });
  it('demag compensation leaves more margin, step by step', () => {
    const [line] = effectOf('demag', ofJuniper)!.lines;
    const [off, low, high] = line!.points.map((p) => p.y) as [number, number, number];
    expect(off).toBeLessThan(low);
    expect(low).toBeLessThan(high);
    expect(effectOf('demag', ofJuniper)!.xLabel!(2)).toBe('high');
  });
  it('a start-up power under what starting takes stutters', () => {
    expect(figure('startLow', 1020, 'Torque while starting')).toBe('0.7 ×, stutters');
    expect(figure('startHigh', 1125, 'Current while starting')).toBe('44.8 A');
    expect(figure('startHigh', 1125, 'Current while starting', ofSorrel)).toBe('2.2 A');
  });
  it('a current limit over the draw of full throttle costs no thrust', () => {
    expect(figure('currentLimit', 100, 'Thrust at full throttle')).toBe('100 %');
    expect(parseFloat(figure('currentLimit', 10, 'Thrust at full throttle')!)).toBeLessThan(50);
  });
  it('a low-voltage limit over the sag cuts a punch short', () => {
    expect(figure('lowVoltageLimit', 3.6, 'A full throttle punch')).toBe('is cut short');
    expect(figure('lowVoltageLimit', 0, 'A full throttle punch')).toBe('is left alone');
  });
  it('without active braking its strength changes nothing', () => {
    const off = {...ofJuniper, settings: {...ofJuniper.settings, activeBraking: 0}};
    expect(figure('brakeStrength', 10, 'Coast-down in flight', off)).toBe(
      figure('brakeStrength', 100, 'Coast-down in flight', off),
    );
  });
});

describe('the heat of a bridge at full throttle', () => {
  it('is that of edges and body diodes, by hand: V·I·(40 ns) and 0.8 V·I·2·t_dead, times the frequency', () => {
    const heat = fullThrottleHeat(ofJuniper, 96);
    const {amps, cellVolts} = fullThrottle(juniper, {pwmHz: 96_000, deadTimeS: 45e-9});
    const volts = cellVolts * juniper.battery.cells;
    expect(heat).toBeCloseTo(amps * 96_000 * (volts * 40e-9 + 0.8 * 2 * 45e-9), 9);
  });
  it('of PWM that follows is that of its highest frequency', () => {
    const follows: EffectQuestion = {...ofJuniper, settings: {...ofJuniper.settings, pwmHigh: 96}};
    const name = 'Heat of each bridge at full throttle';
    expect(figure('pwm', pwmFollows, name, follows)).toBe(figure('pwm', 96, name));
    expect(parseFloat(figure('pwm', 96, name)!)).toBeGreaterThan(3 * parseFloat(figure('pwm', 24, name)!));
  });
});
