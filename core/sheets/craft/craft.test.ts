/** What is said of a craft, and what edits of it do: airframe and outputs, winding and pack, faults, presets. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {
  armFault,
  armMoved,
  checkedEdit,
  withCounted,
  withEstimated,
  withMotor,
  withOutput,
  withPackResistance,
  withPoles,
  withPropeller,
  withWinding,
} from '../../motor/craft-edits';
import type {Craft} from '../../craft/craft';
import {withEightMotors} from '../../testing/question-of';
import {craftSheet, type CraftNow} from './craft';
import {presetSheet} from '../keeping/own-presets';

const nothing: CraftNow = {escs: [], findings: [], boards: []};
const of = (craft: Craft, now: Partial<CraftNow> = {}) => craftSheet(craft, {...nothing, ...now});

describe('a craft', () => {
  it('names its airframe and its diagonal; one of positions of its own has no name', () => {
    expect(of(juniper)).toMatchObject({airframe: 'quad X', diagonal: expect.any(Number)});
    const moved = armMoved(0, 'xMm', 33)!(juniper);
    expect(of(moved).airframe).toBeUndefined();
    const octo = of(withEightMotors(juniper));
    expect(octo.airframe).toBe('octo X');
    // Arms are whole mm.
    expect(Math.abs(octo.diagonal - 250)).toBeLessThan(2);
  });
  it('draws each arm with its output and the way it must turn, eight of them too', () => {
    const {drawn, outputs} = of(withEightMotors(juniper));
    expect([drawn.length, outputs.length, new Set(drawn.map((d) => d.label)).size]).toEqual([8, 8, 8]);
    for (const {arm, output, turns} of outputs)
      expect(drawn[arm]).toMatchObject({label: String(output + 1), sense: turns});
  });
  it('whose outputs are exchanged leads each to one arm', () => {
    const exchanged = withOutput(0, 1)(juniper);
    expect(exchanged.plan.controller.arms).toEqual([1, 0, 2, 3]);
    expect(of(exchanged).drawn.map((d) => d.label)).toEqual(['2', '1', '3', '4']);
  });
  it('has its torque constant from its KV: 60 / (2π·KV) (any text)', () =>
    expect(of(withMotor({kv: 1000})(juniper)).torque).toBe('9.55 mN·m/A'));
});

describe('the winding', () => {
  const estimated = withEstimated('resistanceOhm')({...juniper, motor: {...juniper.motor, estimated: []}});
  it('is estimated, entered or measured, and says so', () => {
    const note = (craft: Craft) => of(craft).winding.resistanceOhm;
    expect(note(estimated)).toMatchObject({isEstimated: true, text: 'from size and KV, good to a factor of 1.5'});
    expect(note(withWinding('resistanceOhm', 0.07)(estimated))).toMatchObject({isEstimated: false, text: 'as entered'});
    const measured = {...juniper, motor: {...juniper.motor, estimated: [], measured: {inertia: 2e-6, at: 1}}};
    expect(note(measured).text).toBe('measured by the motor card');
    expect(of(measured).winding.inductanceH.text).toBe('as entered');
  });
  it('that is estimated follows the size; what was measured was measured on a motor of its size', () => {
    const larger = withMotor({size: '2806'})(estimated);
    expect(larger.motor.resistanceOhm).not.toBe(estimated.motor.resistanceOhm);
    const measured = {...juniper, motor: {...juniper.motor, measured: {inertia: 2e-6, at: 1}}};
    expect(withMotor({size: '2806'})(measured).motor.measured).toBeUndefined();
    expect(withMotor({amps: 30})(measured).motor.measured).toBeDefined();
  });
  it('of a size that does not read cannot be estimated', () =>
    expect(
      of(withMotor({size: 'big'})(withWinding('resistanceOhm', 0.07)(juniper))).winding.resistanceOhm.canEstimate,
    ).toBe(false));
});

describe('edits', () => {
  it('of the poles ask anew whether they were counted, and plan them', () => {
    const {motor, plan} = withPoles(12)(withCounted(true)(juniper));
    expect([motor.poles, motor.counted, plan.controller.poles]).toEqual([12, undefined, 12]);
    expect(withCounted(true)(juniper).motor.counted).toBe(true);
  });
  it('that make no craft are refused with their place, and nothing is taken over', () => {
    const checked = checkedEdit(juniper, withPropeller({blades: 99}));
    expect(checked).toMatchObject({
      ok: false,
      fault: expect.stringMatching(/^propeller blades: .* Nothing was taken over\.$/),
    });
    expect(checkedEdit(juniper, withPropeller({blades: 3}))).toMatchObject({ok: true});
  });
  it('of a position take a number of mm within reach', () => {
    expect(armMoved(1, 'yMm', 80.6)!(juniper).arms[1]!.yMm).toBe(81);
    for (const mm of [NaN, 2001, -2001]) expect(armMoved(1, 'yMm', mm)).toBeUndefined();
    expect(armFault(juniper, 1)).toBe(
      'rear right: a position is a number of mm from −2000 to 2000. Nothing was taken over.',
    );
  });
});

describe('the pack', () => {
  it('is estimated from cells and capacity, or as it was entered', () => {
    expect(of(withPackResistance(undefined)(juniper))).toMatchObject({
      ...{packMilliohm: undefined, packNote: 'from cells and capacity, good to a factor of 2'},
      packEstimate: expect.stringMatching(/^\d+\.\d mΩ, an estimate$/),
    });
    expect(of(withPackResistance(18.5)(juniper)).packMilliohm).toBeCloseTo(18.5, 9);
  });
  it('says nothing of the current before the ESCs are known, and shows what labels say to it', () => {
    expect(of(juniper).fullThrottle).toBe('');
    const finding = (id: string, severity: 'refuse' | 'warn') =>
      ({
        id,
        severity,
        meaning: 'It is too much.',
        remedy: 'Take less.',
        motors: [],
      }) as unknown as CraftNow['findings'][number];
    const {packFindings} = of(juniper, {
      findings: [finding('pack-cells', 'refuse'), finding('something-else', 'warn')],
    });
    expect(packFindings).toEqual([
      {id: 'pack-cells', tag: 'diff', word: 'refused', text: 'It is too much. Take less.'},
    ]);
  });
});

describe('presets', () => {
  const own = {id: 'mine', name: 'Mine', note: '', at: 1, craft: withPropeller({pitchInch: 3.3})(juniper)};
  it('are one’s own and those of the classes', () => {
    const {choices, picked, applied, changes} = presetSheet(juniper, [own], {id: undefined, parts: ['parameters']});
    expect(choices[0]).toEqual({label: 'Mine, your own', value: 'mine'});
    expect(choices.length).toBeGreaterThan(1);
    expect([picked, applied, changes]).toEqual([undefined, undefined, []]);
  });
  it('that are picked show what they would change, of the parts alone that are ticked', () => {
    const of = (parts: Parameters<typeof presetSheet>[2]['parts']) => presetSheet(juniper, [own], {id: 'mine', parts});
    expect(of([]).changes).toEqual([]);
    expect(of(['battery']).changes).toEqual([]);
    const {changes, applied, isOwn} = of(['motors and propellers']);
    expect([isOwn, applied!.propeller.pitchInch, changes.length]).toEqual([true, 3.3, 1]);
  });
});
