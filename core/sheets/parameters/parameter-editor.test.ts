/** How a planned value is edited, how found values are spoken, and what stands under the cursor of a map. */
import {describe, expect, it} from 'vitest';
import {definitionOf, parameterDefinitions} from '../../settings/definitions';
import {isOffPlan, spokenValues} from './found-values';
import {mapReading} from '../noise/map-reading';
import {editorSheet, refusalOf, withNextChoice} from './parameter-editor';

const [direction, timing] = [definitionOf('rotation'), definitionOf('timing')];
const numeric = parameterDefinitions.find((d) => !d.choices)!;
const few = parameterDefinitions.find((d) => d.choices && d.choices.length <= 3)!;
const many = parameterDefinitions.find((d) => (d.choices?.length ?? 0) > 4)!;

describe('the editor of a parameter', () => {
  it('is a number, one of few or one of many by its definition; without a plan nothing is chosen', () => {
    expect(editorSheet(numeric, undefined).kind).toBe('number');
    expect(editorSheet(few, undefined)).toMatchObject({kind: 'choices', isFew: true, value: undefined});
    expect(editorSheet(many, {kind: 'same', value: many.choices![1]!.value})).toMatchObject({
      ...{kind: 'choices', isFew: false, value: many.choices![1]!.value},
    });
    expect(refusalOf(numeric, numeric.max + numeric.step)).toBeTruthy();
  });
  it('tells what calibration decides, and values that every motor has for itself', () => {
    expect(editorSheet(numeric, {kind: 'calibrated'})).toEqual({
      kind: 'told',
      text: 'calibrated',
      note: 'per ESC, kept',
    });
    const values = [1, 2, 3, 4].map((n) => numeric.min + n * numeric.step);
    expect(editorSheet(numeric, {kind: 'per motor', values})).toMatchObject({kind: 'told', text: values.join(' ')});
    const eight = [...values, ...values];
    expect(editorSheet(numeric, {kind: 'per motor', values: eight})).toMatchObject({
      ...{text: `${values[0]} … ${values[3]}`, note: 'per motor'},
    });
    expect(editorSheet(timing, {kind: 'per motor', values: [15, 30, 15, 30]})).toMatchObject({kind: 'told'});
  });
  it('has a cell for each motor where letters tell the choices apart; a cell steps past what is rare', () => {
    const [first, second] = direction.choices!.map((c) => c.value);
    const planned = {kind: 'per motor' as const, values: [first!, second!]};
    const editor = editorSheet(direction, planned);
    expect(editor.kind === 'cells' && editor.cells.map((c) => [c.motor, c.isOn])).toEqual([
      [1, false],
      [2, true],
    ]);
    let values: readonly number[] = planned.values;
    const seen = new Set<number>();
    for (let i = 0; i < direction.choices!.length; i++) {
      const next = withNextChoice(direction, values, 0);
      values = next.kind === 'per motor' ? next.values : [];
      seen.add(values[0]!);
    }
    const usual = direction.choices!.filter((c) => !c.rare).map((c) => c.value);
    expect([...seen].sort()).toEqual([...usual].sort());
    expect(values[1]).toBe(second);
  });
});

it('found values are spoken motor by motor, with what is off the plan', () => {
  expect(spokenValues(timing, [15, 30, undefined], [15, 15, 15])).toBe(
    'motor 1: 15°; motor 2: 30°, off the plan; motor 3: not found',
  );
  expect([isOffPlan(15, undefined), isOffPlan(undefined, 15), isOffPlan(15, 30)]).toEqual([false, false, true]);
});

it('a map is read under the cursor: place, level, segments; what was not flown says so', () => {
  const map = {
    ...{rows: 2, columns: 3, from: 0, stepX: 100, stepY: 50, density: Float64Array.of(1, 10, 100, NaN, 1, 1)},
    counts: Uint32Array.of(7, 0),
  };
  const scale = {maxX: 200, xUnit: 'Hz', yUnit: '% throttle'};
  expect(mapReading(map, {x: 190, y: 20}, scale)).toBe('190 Hz, 20 % throttle: 20.0 dB, 7 segments');
  expect(mapReading(map, {x: 0, y: 60}, scale)).toBe('0 Hz, 60 % throttle: not flown');
  expect(mapReading(map, {x: 500, y: 20}, scale)).toBe('');
  expect(mapReading(map, {x: 2.5, y: 60}, {...scale, maxX: 6, xUnit: '×'})).toMatch(/^2\.50 ×, 60 % throttle/);
});
