import * as fc from 'fast-check';
import {describe, expect, it} from 'vitest';
import {carryOver} from './carry-over';
import {
  definitionOf,
  formatValue,
  layoutRevisions,
  parameterDefinitions,
  refusalOf,
  storageOf,
  type LayoutRevision,
  type ParameterDefinition,
  type ParameterKey,
} from './definitions';
import {bothWays, pwmFollows, timingAutomatic} from './parameters/special-values';
import {decodeSettings, defaultSettings, encodeSettings, type Settings} from './page';

const anyValue = (d: ParameterDefinition, layout: LayoutRevision) =>
  d.choices
    ? fc.constantFrom(...d.choices.map((c) => c.value).filter((v) => !refusalOf(d, v, layout)))
    : fc
        .integer({min: 0, max: Math.round((d.max - d.min) / d.step)})
        .map((n) => Math.round((d.min + n * d.step) * 1e6) / 1e6);
const anySettings = (layout: LayoutRevision) =>
  fc.record(
    Object.fromEntries(
      parameterDefinitions.filter((d) => storageOf(d, layout)).map((d) => [d.key, anyValue(d, layout)]),
    ),
  ) as fc.Arbitrary<Settings>;

describe('settings page', () => {
  it('32 kHz has a code of its own, in the layout that knows it alone; every other frequency reads as before', () => {
    const stored = (pwm: number) => encodeSettings(8, {pwm})[6];
    expect([pwmFollows, 24, 32, 48, 96].map(stored)).toEqual([0, 1, 3, 2, 4]);
    expect(refusalOf(definitionOf('pwm'), 32, 8)).toBeUndefined();
    expect(refusalOf(definitionOf('pwm'), 32, 6)).toContain('not in firmware with layout 6');
  });

  it('a temperature limit may be off', () => {
    const limit = definitionOf('temperatureLimit');
    expect([0, 60, 140].map((v) => refusalOf(limit, v))).toEqual([undefined, undefined, undefined]);
    expect([formatValue(limit, 0), formatValue(limit, 105)]).toEqual(['off', '105 °C']);
    expect(refusalOf(limit, 55)).toContain('one of off, 60,');
  });

  it.each(layoutRevisions)('layout %i: every value comes back, unknown bytes stay', (layout) => {
    fc.assert(
      fc.property(anySettings(layout), fc.uint8Array({minLength: 64, maxLength: 64}), (values, base) => {
        const page = encodeSettings(layout, values, base);
        const read = decodeSettings(page);
        expect(read).toEqual({ok: true, value: {layout, values}});
        const known = new Set(
          parameterDefinitions.flatMap((d) => {
            const place = storageOf(d, layout);
            return place ? Array.from({length: place.width}, (_, i) => place.offset + i) : [];
          }),
        );
        page.forEach((byte, i) => {
          if (i > 2 && i < 62 && !known.has(i)) expect(byte, `byte ${i}`).toBe(base[i]);
        });
      }),
      {seed: 31},
    );
  });

  it.each(layoutRevisions)('layout %i: no two parameters share a byte, none leaves the page', (layout) => {
    const bytes = parameterDefinitions.flatMap((d) => {
      const place = d.storage[layout];
      return place ? Array.from({length: place.width}, (_, i) => place.offset + i) : [];
    });
    expect(new Set(bytes).size).toBe(bytes.length);
    expect(Math.min(...bytes)).toBeGreaterThan(3);
    expect(Math.max(...bytes)).toBeLessThan(62);
  });

  it('tells blank, foreign, damaged and unknown pages apart', () => {
    const page = encodeSettings(8, defaultSettings(8));
    const damaged = page.slice();
    damaged[10]! ^= 4;
    expect(
      [new Uint8Array(64).fill(255), new Uint8Array(64), damaged, new Uint8Array(3)].map((p) => decodeSettings(p)),
    ).toEqual(['blank', 'no-settings', 'damaged', 'no-settings'].map((problem) => ({ok: false, problem})));
  });

  it('governor gains exist for a main rotor; multirotor firmware leaves their bytes alone', () => {
    const main = encodeSettings(8, {...defaultSettings(8, 'heli-main'), governorP: 33});
    const read = (variant: 'heli-main' | 'heli-tail' | 'multirotor') => {
      const page = decodeSettings(main, variant);
      return page.ok ? page.value.values.governorP : page.problem;
    };
    expect([read('heli-main'), read('heli-tail'), read('multirotor')]).toEqual([33, undefined, undefined]);
    expect(encodeSettings(8, defaultSettings(8), main)[40]).toBe(33);
  });

  it('tenths of a volt come back exactly', () => {
    for (const {value} of definitionOf('lowVoltageLimit').choices!) {
      const page = decodeSettings(encodeSettings(8, {...defaultSettings(8), lowVoltageLimit: value}));
      expect(page.ok && page.value.values.lowVoltageLimit).toBe(value);
    }
  });

  it('refuses a value its layout cannot store: no silent clamp', () => {
    expect(() => encodeSettings(8, {startLow: 5000})).toThrow('startLow = 5000 cannot be stored in layout 8');
    expect(() => encodeSettings(8, {timing: 8})).toThrow('timing = 8');
  });
});

describe('carry-over', () => {
  const from = (layout: 5 | 6, values: Settings) => ({
    layout,
    values: {...defaultSettings(layout), ...values},
  });
  it.each([
    [5, ['lostToneLoudness', 'lostToneWait'], ['stopBrakeStrength', 'throttleCentre']],
    [6, ['throttleCentre', 'lostToneLoudness', 'lostToneWait'], []],
  ] as const)('layout %i to 8: some move, some are new, every value is kept', (layout, moved, added) => {
    const old = from(layout, {timing: 7.5, brakeStrength: 85, startLow: 1075, throttleMax: 1987});
    const report = carryOver(old, 8);
    expect(report.moved).toEqual(['brakeStrength', 'startLow', ...moved]);
    const always = ['pwmLow', 'pwmHigh', 'spinUpLimit', 'melody', 'replyExtras'];
    expect([...report.added].sort()).toEqual([...always, ...added].sort());
    expect(report.values).toMatchObject({...old.values, melody: 0});
  });
  it('tells what is dropped on the way back, with its last value', () => {
    const report = carryOver({layout: 8, values: {...defaultSettings(8), melody: 2}}, 6);
    expect(report.dropped).toContainEqual({key: 'melody', last: 2});
    expect(report.dropped).toHaveLength(5);
  });
  it('takes the default for a value out of range, and says so', () => {
    const report = carryOver(from(6, {temperatureLimit: 200}), 8);
    expect(report.outOfRange).toEqual([{key: 'temperatureLimit', found: 200}]);
    expect(report.values.temperatureLimit).toBe(105);
  });
  it('a value that the older layout cannot hold falls back to its default, and says so', () => {
    const values = {...defaultSettings(8), timing: timingAutomatic, pwm: pwmFollows, rotation: bothWays};
    const report = carryOver({layout: 8, values}, 5);
    expect(report.outOfRange.map((o) => o.key)).toEqual(['rotation', 'timing', 'pwm']);
    expect(report.values).toMatchObject({rotation: 0, timing: 15, pwm: 24});
  });
  it('any settings survive up and down again where both layouts know them', () => {
    fc.assert(
      fc.property(anySettings(6), (values) => {
        const up = carryOver({layout: 6, values}, 8);
        expect(carryOver({layout: 8, values: up.values}, 6).values).toEqual(values);
      }),
      {seed: 32},
    );
  });
});

describe('values in words', () => {
  it.each([
    ['timing', 22.5, '22.5°'],
    ['pwm', 48, '48 kHz'],
    ['pwm', 0, 'follow'],
    ['rotation', 1, 'reversed'],
    ['throttleMin', 1016, '1016 µs'],
  ] as [ParameterKey, number, string][])('%s %d is %s', (key, value, text) =>
    expect(formatValue(definitionOf(key), value)).toBe(text),
  );

  it.each([
    ['startLow', 1052, 'Lowest start-up power goes in steps of 5 µs; 1052 lies between two.'],
    ['toneLoudness', 256, 'Tone loudness goes from 0 to 255 of 255; 256 is outside.'],
    ['timing', 20, 'Timing advance is one of 0, 7.5, 15, 22.5, 30, auto.'],
    ['lowVoltageLimit', 3.35, 'Low-voltage limit is one of off, 2.8, 2.9, 3.0, 3.1, 3.2, 3.3, 3.4, 3.5, 3.6.'],
    ['lowSpeedLimit', NaN, 'Low-speed limit is a number from 1 to 13 ×.'],
    ['lowSpeedLimit', 9, undefined],
  ] as [ParameterKey, number, string | undefined][])('%s %d', (key, value, text) =>
    expect(refusalOf(definitionOf(key), value)).toBe(text),
  );
});
