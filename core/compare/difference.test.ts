import {wholePlan} from '../craft/whole-plan';
import {describe, expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import {bramble} from '@demo/craft/bramble';
import {juniper} from '@demo/craft/juniper';
import {controllerPlanSchema} from '../controller/plan';
import type {Craft, PlannedValue} from '../craft/craft';
import {definitionOf, type ParameterKey} from '../settings/definitions';
import {controllerFields, formatControllerField} from '../controller/fields';
import {describeChanges, findDifferences, hasDifferences, judgeParameter} from './difference';
import {motorList} from '../words/motor-list';
import type {Found} from '../bench/found';

const found: Found = await new Harness().survey();
const planning = (key: ParameterKey, value: PlannedValue): Pick<Craft, 'plan'> => ({
  plan: {...juniper.plan, parameters: {...juniper.plan.parameters, [key]: value}},
});
const judge = (key: ParameterKey, craft: Pick<Craft, 'plan'> = juniper, what: Found | undefined = found) =>
  judgeParameter(definitionOf(key), craft, what);

describe('differences of Juniper as found', () => {
  const d = findDifferences(juniper.plan, found);

  it('all four are behind, one of them further', () => {
    expect(d.firmware.map((f) => f.from)).toEqual(['Meridian 3.9', 'Meridian 3.9', 'Meridian 3.7', 'Meridian 3.9']);
    expect(new Set(d.firmware.map((f) => f.to))).toEqual(new Set(['Meridian 4.2']));
  });

  it('rotation, timing, PWM and braking differ, nothing else', () => {
    expect(new Set(d.parameters.map((p) => p.key))).toEqual(new Set(['rotation', 'timing', 'pwm', 'activeBraking']));
    expect(d.parameters.filter((p) => p.key === 'rotation').map((p) => p.output)).toEqual([1, 2]);
    expect(d.parameters.filter((p) => p.key === 'timing')).toEqual([{key: 'timing', output: 2, from: 15, to: 22.5}]);
  });

  it('a parameter that the firmware does not have is no difference of the parameter', () => {
    expect(d.parameters.some((p) => p.key === 'melody')).toBe(false);
  });

  it('calibrated end points are never a difference', () => {
    expect(d.parameters.some((p) => p.key.startsWith('throttle'))).toBe(false);
  });

  it('the controller drifts in protocol, replies, loop, notches, moving notches and low-pass', () => {
    expect(d.controller.map((c) => `${c.field} ${c.from} → ${c.to}`)).toEqual([
      'protocol DShot600 → DShot300',
      'replies off → on',
      'loopHz 8 kHz → 4 kHz',
      'notchHarmonics none → 1× 2× 3×',
      'movingNotches 3 → 1',
      'gyroLowPassHz 150 Hz → 500 Hz',
    ]);
    expect(hasDifferences(d)).toBe(true);
  });

  it('an ESC without application or settings differs in all of them', () => {
    const broken: Found = {
      ...found,
      escs: found.escs.map((e) =>
        e.output === 0
          ? {...e, boot: {...e.boot, applicationValid: false}, identity: undefined, settings: undefined}
          : e,
      ),
    };
    const own = findDifferences(juniper.plan, broken);
    expect(own.firmware[0]).toEqual({output: 0, from: 'no application', to: 'Meridian 4.2'});
    expect(own.parameters.filter((p) => p.output === 0)).toHaveLength(14);
  });
});

describe('verdicts', () => {
  it.each([
    ['rotation', 'differs', 'motors 2 and 3: normal → reversed', 'the craft flips at take-off'],
    ['timing', 'differs', 'motor 3: 15° → 22.5°', 'that arm lags on hard throttle and may lose step'],
    ['pwm', 'moves together', '24 → 48 kHz on all'],
    ['activeBraking', 'differs', 'motor 3: off → on', 'that arm dips at every throttle cut'],
    ['demag', 'as planned', 'all as planned'],
    ['throttleMin', 'expected spread', 'spread of 7 µs is expected'],
    ['throttleMax', 'expected spread', 'spread of 7 µs is expected'],
    ['melody', 'unknown', 'not in this firmware'],
    ['currentLimit', 'not planned', 'not planned; all hold 45 A'],
  ] as [ParameterKey, string, string, string?][])('%s: %s', (key, kind, text, symptom) =>
    expect(judge(key)).toEqual({kind, text, ...(symptom && {symptom})}),
  );

  it('without a survey nothing is claimed', () =>
    expect(judgeParameter(definitionOf('pwm'), juniper, undefined)).toEqual({
      kind: 'unknown',
      text: 'not surveyed yet',
    }));

  it('a spread beyond the usual is a difference (common practice: about 10 µs)', () => {
    const wide: Found = {
      ...found,
      escs: found.escs.map((e) =>
        e.output === 3 && e.settings
          ? {...e, settings: {...e.settings, values: {...e.settings.values, throttleMin: 1040}}}
          : e,
      ),
    };
    expect(judge('throttleMin', juniper, wide)).toEqual({
      kind: 'differs',
      text: 'spread of 24 µs, typical is 10',
      symptom: 'that motor starts earlier or later than the others',
    });
  });

  it('one motor planned apart is told with its step; the found value, which all share, is not blamed', () => {
    const alike: Found = {
      ...found,
      escs: found.escs.map((e) => ({
        ...e,
        settings: e.settings && {...e.settings, values: {...e.settings.values, pwm: 48}},
      })),
    };
    expect(judge('pwm', planning('pwm', {kind: 'per motor', values: [48, 24, 48, 48]}), alike)).toEqual({
      kind: 'differs',
      text: 'motor 2: 48 → 24 kHz',
    });
  });

  it('motors that make different steps are told with each', () => {
    expect(judge('timing', planning('timing', {kind: 'same', value: 30}))).toEqual({
      kind: 'differs',
      text: 'motors 1, 2 and 4: 22.5° → 30°; motor 3: 15° → 30°',
    });
  });

  it('an ESC that differs where nothing is planned is named all the same', () => {
    const odd: Found = {
      ...found,
      escs: found.escs.map((e) =>
        e.output === 1 && e.settings
          ? {...e, settings: {...e.settings, values: {...e.settings.values, currentLimit: 20}}}
          : e,
      ),
    };
    expect(judge('currentLimit', juniper, odd)).toEqual({
      kind: 'differs',
      text: 'not planned; motor 2: 20 A',
      symptom: 'that arm gives out first in a punch',
    });
  });

  it('a wanted difference per motor is as planned', () => {
    expect(judge('timing', planning('timing', {kind: 'per motor', values: [22.5, 22.5, 15, 22.5]})).kind).toBe(
      'expected spread',
    );
  });
});

describe('in words', () => {
  it.each([
    [[0, 1, 2, 3], 4, 'all motors'],
    [[2], 4, 'motor 3'],
    [[1, 2], 4, 'motors 2 and 3'],
    [[0, 2, 5], 6, 'motors 1, 3 and 6'],
    [[0], 1, 'motor 1'],
  ])('%j of %i: %s', (outputs, of, text) => expect(motorList(outputs, of)).toBe(text));

  it('changes of the same kind share a line', () => {
    const lines = describeChanges(findDifferences(juniper.plan, found).parameters, 4);
    expect(lines).toContainEqual({title: 'PWM frequency 24 kHz → 48 kHz', note: 'all motors'});
    expect(lines).toContainEqual({title: 'Rotation normal → reversed', note: 'motors 2 and 3'});
    expect(lines).toHaveLength(4);
  });

  it('every controller field has a name and a form', () => {
    const {controller} = wholePlan(bramble);
    for (const {field, name} of controllerFields) {
      expect(name.length).toBeGreaterThan(3);
      const value = controller[field];
      if (value !== undefined) expect(formatControllerField(field, value)).not.toMatch(/undefined|object/);
    }
    const planned = Object.keys(controllerPlanSchema.shape);
    expect(controllerFields.map((f) => f.field).sort()).toEqual(planned.sort());
    expect(formatControllerField('notchWeights', [100, 50, 100])).toBe('1× 100 % 2× 50 %');
    expect(formatControllerField('notchWeights', [100, 100])).toBe(formatControllerField('notchWeights', []));
    expect(formatControllerField('gyroLowPassFullHz', 0)).toBe('fixed');
    expect(formatControllerField('speedLowPassHz', 0)).toBe('none');
    expect(formatControllerField('dLowPass', 'lowpass2')).toBe('second order, cascaded');
    expect(formatControllerField('arms', [0, 2, 1, 3])).toBe('1 3 2 4');
    expect(formatControllerField('idlePercent', 3.9)).toBe('3.9 %');
  });
});
