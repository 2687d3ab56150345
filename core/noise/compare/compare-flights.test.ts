/** Two flights held against each other, and when that proves a craft quieter. */
import {beforeAll, describe, expect, it} from 'vitest';
import {knownFlight, type KnownFlight} from '../../testing/known-flight';
import {compareFlights, type FlightComparison, type Side} from './compare-flights';
import {reportFlight, type FlightReport} from '../flight-report';
import {motorSpeeds} from '../tracking/motor-speeds';
import {judgeFlights, type FlightFacts} from './judge-flights';

const base: KnownFlight = {seed: 11, poles: 14, speeds: [1, 1.04, 0.97, 1.02], loud: [8, 9, 7.5, 8.5]};
const side = (f: KnownFlight): Side => {
  const log = knownFlight(f);
  return {log, motorsHz: motorSpeeds(log, 14).hz};
};
const reported = (f: KnownFlight) => {
  const of = side(f);
  return {...of, report: reportFlight(of.log, {loggedPoles: 14})!.report};
};
const quarter = base.loud.map((l) => l / 4);
let before: ReturnType<typeof reported>;
let after: ReturnType<typeof reported>;
let comparison: FlightComparison;
beforeAll(() => {
  before = reported(base);
  after = reported({...base, seed: 12, loud: quarter});
  comparison = compareFlights(before, after) as FlightComparison;
});

describe('two flights at equal speeds', () => {
  it('a quarter of the amplitude is 12 dB, within the bound, on every axis and harmonic', () => {
    expect(comparison.kind).toBe('compared');
    expect(Math.abs(comparison.atOnce!.db - 12.04)).toBeLessThan(comparison.atOnce!.bound + 0.5);
    expect(comparison.atOnce!.bound).toBeLessThan(2);
    for (const axis of comparison.axes.slice(0, 2)) expect(axis.lines[0]!.db).toBeGreaterThan(9);
    // The noise beside the lines is the same.
    expect(Math.abs(comparison.rest!.db)).toBeLessThan(1);
  });

  it('the same twice is no change, as often as the bound says', () => {
    const outside = Array.from({length: 8}, (_, i) => {
      const [a, b] = [40 + 2 * i, 41 + 2 * i].map((seed) => side({...base, seed, seconds: 14, rate: 1000}));
      const c = compareFlights(a!, b!) as FlightComparison;
      return Math.abs(c.atOnce!.db) > c.atOnce!.bound;
    }).filter(Boolean).length;
    expect(outside).toBeLessThanOrEqual(1);
  });

  it('is refused where no speed is common, and where one log has filtered axes and the other has not', () => {
    const slow = side({...base, swing: 0});
    const fast = side({...base, swing: 0, speeds: base.speeds.map((s) => s * 2), loud: quarter});
    expect(compareFlights(slow, fast)).toMatchObject({kind: 'not comparable'});
    const filtered = {...after, log: {...after.log, filteredGyro: after.log.gyro}};
    expect(compareFlights(before, filtered)).toMatchObject({why: expect.stringContaining('behind its filters')});
  });
});

describe('the proof', () => {
  const facts = (of: {readonly report: FlightReport}, over: Partial<FlightFacts>): FlightFacts => ({
    ...{
      label: 'flight',
      keptAt: 20,
      filters: 'new',
      namesFilters: true,
      isDemo: false,
      report: of.report,
      delayMs: 1.5,
    },
    ...over,
  });
  interface Over {
    readonly before?: Partial<FlightFacts>;
    readonly after?: Partial<FlightFacts>;
    readonly comparison?: ReturnType<typeof compareFlights>;
    readonly plannedPoles?: number;
  }
  const judge = ({before: b, after: a, ...rest}: Over = {}) =>
    judgeFlights({
      before: facts(before, {label: 'flight 1', filters: 'old', keptAt: 5, delayMs: 2.4, ...b}),
      after: facts(after, {label: 'flight 2', ...a}),
      ...{comparison, planned: 'new', writtenAt: 10, plannedPoles: 14},
      ...rest,
    });

  it('holds with figures, bounds, delay and count', () => {
    expect(judge()).toEqual({
      holds: true,
      missing: [],
      text: expect.stringMatching(
        /^flight 2 against flight 1: quieter by 1[12]\.\d ± [01]\.\d dB at 1×, .* beside the motor lines, delay 0\.9 ms less; \d+ moments at equal speeds$/,
      ),
    });
  });

  it('says what rests on a person’s word: a log that does not name its filters', () => {
    expect(judge({after: {namesFilters: false}}).text).toMatch(
      /equal speeds\. The log does not say what it was flown with/,
    );
  });

  it.each([
    ['demo flights', {after: {isDemo: true}}, 'computed for the demo proves nothing'],
    ['nothing read', {after: {filters: undefined}}, 'The controller has not been read'],
    ['other filters than planned', {after: {filters: 'other'}}, 'not flown with the filters that are planned'],
    ['flown before the change', {after: {keptAt: 7}}, 'before the work order wrote the controller'],
    ['no change', {before: {filters: 'new'}}, 'Both flights were flown with the same filters'],
    ['another pole count planned', {plannedPoles: 12}, 'fits 14 poles, not the 12 planned'],
    ['not comparable', {comparison: {kind: 'not comparable', why: 'No speed in common.'}}, 'No speed in common.'],
  ] as [string, Over, string][])('does not hold: %s', (_, over, what) => {
    const verdict = judge(over);
    expect(verdict.holds).toBe(false);
    expect(verdict.missing.join(' ')).toContain(what);
  });

  it('does not hold where it is not surely quieter, or where a motor falls late in the later flight', () => {
    const same = compareFlights(before, before) as FlightComparison;
    expect(judge({comparison: same}).missing[0]).toContain('not surely quieter');
    const late = reported({...base, seed: 13, loud: quarter, lagS: [0.05, 0.05, 0.16, 0.05]});
    expect(judge({after: {report: late.report}}).missing[0]).toContain('Motor 3 takes');
  });
});
