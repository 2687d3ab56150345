/** What Parameters shows of gains. */
import {beforeAll, describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import type {Found} from '../../bench/found';
import type {Flight} from '../../flight/flight';
import type {Crossover} from '../../noise/crossover';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {gainsSheet, type GainsNow} from './gains';
import {withPlannedSettings} from './held-settings';

let found: Found;
beforeAll(async () => {
  const settings = {'gains.roll_p': 60, 'gains.quieter_from_percent': 50};
  found = await new Harness({setup: (b) => ({...b, controller: {...b.controller, settings}})}).survey();
});
const none: GainsNow = {flight: undefined, crossover: undefined};
const q = () => questionOf(juniper, {record: {found}});
const flight = (keptAt: number, settings: Flight['settings']): Flight => ({
  ...{id: `f${keptAt}`, craftId: 'juniper', label: `flight ${keptAt}`, isDemo: false, keptAt, settings},
});

describe('gains', () => {
  it('are told axis by axis, each beside the firmware’s default, with D for each P', () => {
    const sheet = gainsSheet(q(), none)!;
    expect(sheet.rows.map(({name, cells, ratio}) => [name, cells.map(({text}) => text), ratio])).toEqual([
      ['Roll', ['60', '80', '30', '100'], '0.50'],
      ['Pitch', ['47', '84', '34', '105'], '0.72'],
      ['Yaw', ['45', '90', '0', '100'], '0.00'],
    ]);
    expect(sheet.rows[0]!.cells.map(({note}) => note)).toEqual(['default 45', 'default', 'default', 'default']);
    expect(sheet.rows[0]!.cells[0]).toMatchObject({found: 60 / 250, planned: 60 / 250, usual: 45 / 250});
    expect(sheet).toMatchObject({
      whole: 'P, I and D of all axes × 100 %',
      since: expect.stringMatching(/^What changed since a flight is marked/),
    });
    expect(sheet.attenuation.map(({points}) => points)).toEqual([
      [
        [0, 1],
        [0.5, 1],
        [1, 0.4],
      ],
    ]);
    expect(sheet.attenuationText).toBe('Gains over throttle: whole up to 50 %, 40 % of them at full throttle');
  });

  it('stand beside those that are planned, with what acts after the one factor for all', () => {
    const planned = {'gains.roll_d': 40, 'gains.whole_percent': 105, 'gains.quieter_by_percent': 100};
    const craft = withPlannedSettings(juniper, q(), planned);
    const sheet = gainsSheet(questionOf(craft, {record: {found}}), none)!;
    expect(sheet.rows[0]!.cells[2]).toMatchObject({text: '30 → 40', differs: true, note: 'default 30', name: 'D'});
    expect(sheet.rows[0]).toMatchObject({ratio: '0.67', acting: 'acting: 63.0 · 84.0 · 42.0'});
    expect(sheet.whole).toBe('P, I and D of all axes × 100 % → 105 %');
    expect(sheet.attenuation.map(({of, points}) => [of, points.at(-1)])).toEqual([
      ['found', [1, 0.4]],
      ['planned', [1, 0]],
    ]);
  });

  it('are marked where they have changed since the flight that is open', () => {
    const held = found.controller!.settings!.values;
    const flown = flight(2, {...held, 'gains.roll_p': 45, 'gains.yaw_p': 45});
    const sheet = gainsSheet(q(), {...none, flight: flown})!;
    expect(sheet.since).toMatch(/^What changed since flight 2, .*1970.*, is marked\.$/);
    expect(sheet.rows[0]!.cells[0]!.note).toBe('default 45, 45 in that flight');
    expect(sheet.rows[2]!.cells[0]!.note).toBe('default');
    expect(gainsSheet(q(), {...none, flight: flight(3, undefined)})!.since).toContain('flight 3 was kept is not known');
  });

  it('stand beside the crossover of the flight that is open, or why there is none', () => {
    const crossover: Crossover = {
      ...{kind: 'found', axis: 'roll', hz: 34.25, boundHz: 1.2, marginDeg: 48.3, marginBoundDeg: 3.1, windows: 12},
    };
    const open = {...none, flight: flight(4, undefined)};
    expect(gainsSheet(q(), {...open, crossover})!.loop).toMatch(
      /^In flight 4 the loop .*: 34\.3 ± 1\.2 Hz on roll, with 48 ± 3° of margin/,
    );
    const demo = {...open.flight, isDemo: true};
    expect(gainsSheet(q(), {crossover, flight: demo})!.loop).toMatch(/^In flight 4 of the demo /);
    const why = 'the stick made too few quick steps';
    expect(gainsSheet(q(), {...open, crossover: {kind: 'none', why}})!.loop).toContain(why);
    expect(gainsSheet(q(), none)!.loop).toContain('open one on Noise');
  });

  it('are not told before a survey, nor of a firmware that describes none', () => {
    expect(gainsSheet(emptyQuestion(juniper), none)).toBeUndefined();
    const {controller} = found;
    const settings = {entries: [], values: {}};
    const bare = {...found, controller: {...controller!, settings}};
    expect(gainsSheet(questionOf(juniper, {record: {found: bare}}), none)).toBeUndefined();
  });
});
