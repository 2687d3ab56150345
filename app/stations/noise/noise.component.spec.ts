/** Noise: what is shown of a flight, what is called predicted, and what a craft without a flight is told. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {afterEach, beforeAll, describe, expect, it} from 'vitest';
import type {Problem} from '@core/problem';
import {chainOf} from '@core/controller/chain-of';
import {bytesOf, readFlight} from '@core/flight/read-flight';
import {compareFlights} from '@core/noise/compare/compare-flights';
import {reportFlight} from '@core/noise/flight-report';
import {emptyQuestion} from '@core/testing/question-of';
import {knownFlight, type KnownFlight} from '@core/testing/known-flight';
import {sumRows} from '@core/spectra/noise-map';
import {flightModel} from '@core/tuning/flight-model';
import {searchChains, type Trade} from '@core/tuning/search';
import {filterWindow} from '@core/tuning/window-filter';
import {juniper} from '@demo/craft/juniper';
import {MapComponent} from '../../charts/map.component';
import {colourAt} from '../../charts/map-colours';
import {CompareStore} from '../../state/flights/compare.store';
import type {Flight} from '@core/flight/flight';
import {FleetStore} from '../../state/fleet.store';
import {FlightStore, type WaitingFile} from '../../state/flights/flight.store';
import {NoiseStore} from '../../state/flights/noise.store';
import {RecordStore} from '../../state/record.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {StandInStore} from '../../state/stand-in.store';
import {TuningStore} from '../../state/flights/tuning.store';
import {button, buttons, fakeQuestion, textOf} from '../../testing/fakes';
import {withoutCharts} from '../../testing/chart-stub.component';
import {summaryOf, type OpenFlight} from '@core/noise/flight-summary';
import {drawMap, mapKinds, type DrawnMap, type Helper, type MapKind, type ShownMap} from '@core/noise/drawn-map';
import {predict, type Prediction} from '@core/tuning/prediction';
import {FiltersViewComponent} from './filters/filters-view.component';
import {CompareFlightsComponent} from './compare-flights.component';
import {NoiseComponent} from './noise.component';
import {plot} from './filters/trade-plot';

const known: KnownFlight = {
  seed: 5,
  poles: 14,
  speeds: [1, 1.04, 0.97, 1.02],
  loud: [8, 9, 24, 8.5],
  resonance: {hz: 212, q: 14},
};
const log = knownFlight(known);
const reported = reportFlight(log, {loggedPoles: 14})!;
const chain = chainOf(juniper.plan.controller);
const model = flightModel(log, reported.speeds.hz);
const trades = searchChains({
  ...{
    flights: [{...model, moments: model.moments.filter((_, i) => i % 8 === 0)}],
    from: chain,
    filterRateHz: 8000,
    crossoverHz: 60,
    motors: 4,
    mostLoad: 0.5,
  },
  ...{kinds: ['biquad-lowpass'], follows: false},
  loadOf: (n) => 0.1 + 0.01 * n,
})!;

const predictionOf = (of: typeof chain): Prediction => predict(model, {chain: of, filterRateHz: 8000, atHz: 60});
const flight: Flight = {id: 'own', craftId: 'juniper', label: 'flight 3', isDemo: false, keptAt: 5};
const openOf = (over: Partial<Flight> = {}, loggedPoles = 14): OpenFlight => ({
  flight: {...flight, ...over},
  summary: summaryOf(log, loggedPoles === 14 ? reported.report : reportFlight(log, {loggedPoles})!.report, undefined),
});
const draw = (kind: MapKind, helper?: Helper) =>
  drawMap(log, reported.speeds.hz, {kind, axis: 'roll', motor: 0}, helper);
const drawn = new Map<MapKind, DrawnMap>();
beforeAll(async () => {
  for (const kind of mapKinds) drawn.set(kind, await draw(kind));
});
const shownOf = (kind: MapKind): ShownMap => ({
  ...drawn.get(kind)!,
  ...{kind, motor: 0, axis: 'roll'},
});
// jsdom has no layout: nothing is ever resized.
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};
afterEach(() => TestBed.resetTestingModule());

interface Setting {
  readonly open?: OpenFlight | undefined;
  readonly waiting?: WaitingFile;
  readonly comparison?: ReturnType<typeof compareFlights>;
  readonly chosen?: Trade;
}

function station({open, waiting, comparison, chosen}: Setting = {}) {
  const calls: string[] = [];
  const set: unknown[] = [];
  const planned = open ? predictionOf(chain) : undefined;
  const found = open
    ? predictionOf(chainOf({...juniper.plan.controller, gyroLowPassHz: 150, movingNotches: 3}))
    : undefined;
  const say = (what: string) => () => void calls.push(what);
  const flights = {
    craftId: signal('juniper'),
    flights: signal(open ? [open.flight, {...flight, id: 'b', label: 'flight 2'}] : []),
    current: signal(open),
    waiting: signal(waiting),
    busy: signal<'reading' | 'flying' | undefined>(undefined),
    share: signal(0),
    problem: signal<Problem | undefined>(undefined),
    openCraft: (id: string) => Promise.resolve(calls.push(`open ${id}`)),
    open: (f: Flight) => Promise.resolve(calls.push(f.id)),
    remove: (f: Flight) => Promise.resolve(calls.push(`remove ${f.id}`)),
    note: (f: Flight, {notes, noted}: Pick<Flight, 'notes' | 'noted'>) =>
      Promise.resolve(calls.push(`note ${f.id} ${notes} ${JSON.stringify(noted)}`)),
    mapAs: (m: unknown) => Promise.resolve(set.push(m)),
    dropWaiting: say('drop'),
    fly: () => Promise.resolve(calls.push('fly')),
    cancel: say('cancel'),
  };
  const noise = {
    axis: signal('roll'),
    kind: signal<MapKind>('throttle'),
    motor: signal(0),
    part: signal('all'),
    shown: signal<ShownMap | undefined>(open ? shownOf('throttle') : undefined),
    planned: signal(planned),
    found: signal(found),
    window: signal(open && filterWindow(log, reported.speeds.hz, chain, {fromS: 2, seconds: 0.25, filterRateHz: 8000})),
    windowAtS: signal(2),
    plannedChain: signal(chain),
    filterRateHz: signal(8000),
    crossoverHz: signal(60),
    gain: signal(open ? {against: 'now', db: 11.2} : undefined),
    setKind: (kind: MapKind) => calls.push(`kind ${kind}`),
    setAxis: (axis: string) => calls.push(axis),
    setMotor: (m: number) => calls.push(`motor ${m}`),
    setPart: (p: string) => calls.push(`part ${p}`),
    setWindow: (s: number) => calls.push(`window ${s}`),
  };
  const tuning = {
    own: signal(chosen ? trades : []),
    over: signal(['flight 3']),
    atHz: signal(60),
    chosen: signal(chosen),
    share: signal<number | undefined>(undefined),
    problem: signal<Problem | undefined>(undefined),
    plannedPoint: signal({delayMs: 2, left: 3}),
    foundPoint: signal({delayMs: 3, left: 4}),
    search: () => Promise.resolve(calls.push('search')),
    choose: (t: Trade) => calls.push(`choose ${trades.indexOf(t)}`),
    plan: say('plan'),
    cancel: say('cancel search'),
  };
  const compare = {
    own: signal(comparison && {before: {...flight, id: 'b', label: 'flight 2'}, after: flight, comparison}),
    verdict: signal(comparison && {holds: false, text: 'measured', missing: ['Fly again']}),
    busy: signal(false),
    compareWith: (f: Flight) => Promise.resolve(calls.push(`against ${f.label}`)),
  };
  TestBed.configureTestingModule({
    providers: [
      {provide: FlightStore, useValue: flights},
      {provide: NoiseStore, useValue: noise},
      {provide: TuningStore, useValue: tuning},
      {provide: CompareStore, useValue: compare},
      {provide: FleetStore, useValue: {current: signal(juniper), setController: (c: unknown) => set.push(c)}},
      {provide: RecordStore, useValue: {found: signal(undefined)}},
      {provide: CraftQuestionStore, useValue: fakeQuestion(emptyQuestion(juniper))},
      {provide: StandInStore, useValue: {isPresent: signal(true)}},
    ],
  });
  withoutCharts(FiltersViewComponent);
  withoutCharts(CompareFlightsComponent);
  const fixture = TestBed.createComponent(NoiseComponent);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const turn = (view: string) => {
    const views = [...host.querySelectorAll<HTMLElement>('.views p-togglebutton')];
    views.find((v) => textOf(v) === view)!.click();
    fixture.detectChanges();
  };
  return {flights, noise, tuning, calls, set, fixture, host, turn, text: () => textOf(host)};
}

describe('noise', () => {
  it('opens the flights of its craft; without one it says how to make one, and nothing about filters', () => {
    const {calls, text} = station();
    expect(calls).toEqual(['open juniper']);
    expect(text()).toContain('No flight of Juniper yet');
    expect(text()).toContain('what cannot be known is asked');
    expect(text()).not.toContain('Predicted');
    expect(text()).not.toContain('Delay at');
  });

  it('says which flight it is, what it tells, and names the motor that shakes', () => {
    const {text, host, calls} = station({open: openOf()});
    expect(text()).toContain('flight 3, 24 s at 2.0 kHz, speeds of 4 motors.');
    expect(text()).toContain('14 poles fit this flight');
    expect(text()).not.toContain('Check the units');
    expect(text()).toContain('Bent bell or unbalanced propeller, motor 3');
    expect(text()).toMatch(/Motor lines on roll.*3 ◆2\d\.\d ± \d\.\d/);
    // One resonance, though it stands on three axes.
    expect(text().match(/Resonance/g)).toHaveLength(1);
    button(host, 'Show it in the throttle map').click();
    expect(calls).toContain('kind throttle');
  });

  it('a wrong pole count is told with the right one', () => {
    const {text} = station({open: openOf({}, 12)});
    expect(text()).toContain('Logged with 12 poles, these motors have 14');
    expect(text()).toContain('every notch sits beside its noise');
  });

  it('calls what is computed predicted, and no proof; the ledger adds up beside what is on the craft', () => {
    const {text, host, turn} = station({open: openOf()});
    turn('Filters and delay');
    expect(text()).toContain(
      'Predicted for this flight72 % less noise (11.2 dB) than with the filters that fly now, from 80 Hz up',
    );
    expect(text()).toContain('This is not a proof');
    const delays = [...host.querySelectorAll('bx-filter-form h3 .n')].map((e) => parseFloat(textOf(e)));
    const together = parseFloat(textOf(host.querySelector('.ledger .n.t')!));
    // All but that of the derivative add up.
    expect(delays.slice(0, -1).reduce((sum, v) => sum + v, 0)).toBeCloseTo(together, 1);
    expect(parseFloat(textOf(host.querySelector('.ledger .n.quiet')!))).toBeGreaterThan(together);
    expect(text()).toMatch(
      /\d+\.\d° of phase margin at 60 Hz\. That crossover is assumed for this craft: the log has no record/,
    );
    expect(text()).toMatch(/bins of 7\.8 Hz, mean of \d+ moments: right within −0\.\d\/\+0\.\d dB/);
    expect(text()).toContain('500–1000 Hz');
  });

  it('the best chain is searched, chosen by key, and planned', () => {
    const {host, turn, calls, text} = station({open: openOf(), chosen: trades[12]!});
    turn('Best chain');
    expect(text()).toMatch(/Proposednotches .*; second order, Butterworth low-pass \d+ Hz/);
    expect(text()).toMatch(/harmonics? \(.*carries/);
    host.querySelector('bx-best-chain svg')!.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowRight'}));
    button(host, 'Plan this chain').click();
    button(host, 'Search again').click();
    // To the next dot that is far enough to be told apart.
    expect(Number(/^choose (\d+)$/.exec(calls[1]!)![1])).toBeGreaterThan(12);
    expect(calls.slice(2)).toEqual(['plan', 'search']);
  });

  it('flights compared: the change with bounds, and what is missing for a proof', () => {
    const quiet = knownFlight({...known, seed: 6, loud: [2, 2, 6, 2]});
    const other = reportFlight(quiet, {loggedPoles: 14})!;
    const comparison = compareFlights({log, motorsHz: reported.speeds.hz}, {log: quiet, motorsHz: other.speeds.hz});
    const {turn, text, host} = station({open: openOf(), comparison});
    turn('Flights compared');
    expect(text()).toContain('flight 3 against');
    expect(text()).toMatch(/all axes−1\d\.\d ± \d\.\d/);
    expect(text()).toContain('No proof yetmeasured.Fly again');
    expect(host.querySelectorAll('td.down').length).toBeGreaterThan(3);
  });

  it('shows what is being read, and can be cancelled; a problem keeps its place and remedy', () => {
    const {flights, fixture, host, calls, text} = station({open: openOf()});
    flights.busy.set('reading');
    flights.share.set(0.4);
    flights.problem.set({code: 'bad-log', place: 'line 7', meaning: 'No number.', remedy: 'Mend the line.'});
    fixture.detectChanges();
    expect(text()).toContain('Reading the flight log');
    expect(text()).toContain('line 7');
    expect(text()).toContain('Mend the line.');
    expect(host.querySelector('[role=progressbar]')!.getAttribute('aria-valuenow')).toBe('40');
    button(host, 'Cancel').click();
    expect(calls).toContain('cancel');
  });

  it('a log of one’s own can be noted and removed, a demo flight cannot', () => {
    const own = station({open: openOf({noted: {minutes: 4}})});
    button(own.host, 'Remove this log').click();
    const field = own.host.querySelector('textarea')!;
    field.value = '4 min, 80 %';
    field.dispatchEvent(new Event('change'));
    expect(own.calls.slice(1)).toEqual(['remove own', 'note own 4 min, 80 % {"minutes":4}']);
    TestBed.resetTestingModule();
    const demo = station({open: openOf({isDemo: true})});
    expect(demo.text()).toContain('computed for the demo');
    expect(buttons(demo.host).map(textOf)).not.toContain('Remove this log');
  });
});

describe('a log of an unknown layout', () => {
  it('is asked about column by column, and read as a person says', async () => {
    const text = `a;b;c;d;e\n${Array.from({length: 1500}, (_, i) => `${i};1,5;2;3;42000`).join('\n')}`;
    const reading = await readFlight(bytesOf(text));
    if (reading.ok || !reading.problem.unmapped) throw new Error('mapped');
    const waiting = {file: new File([text], 'strange.csv'), table: reading.problem.unmapped};
    const {host, set, fixture, text: shown} = station({waiting});
    expect(shown()).toContain('What the columns of strange.csv hold');
    expect(shown()).toContain('Still to be namedgyro roll, gyro pitch, gyro yaw');
    expect(shown()).toContain('0 … 1499');
    const mapper = fixture.debugElement.query((e) => e.name === 'bx-column-mapper').componentInstance as {
      take(column: number, choice: string): void;
      change(c: object): void;
      turn(mapping: unknown, axis: number): void;
      sheet(): {reading?: {mapping: unknown}};
    };
    [1, 2, 3].forEach((column, a) => mapper.take(column, `gyro ${a}`));
    mapper.take(4, 'speed');
    mapper.change({timeUnit: 'ms', speedUnit: 'rpm'});
    mapper.turn(mapper.sheet().reading!.mapping, 2);
    fixture.detectChanges();
    button(host, 'Read the log this way').click();
    expect(set).toEqual([
      expect.objectContaining({
        time: 0,
        timeUnit: 'ms',
        gyro: [1, 2, 3],
        gyroSigns: [1, 1, -1],
        speeds: [4],
        speedUnit: 'rpm',
      }),
    ]);
  });
});

describe('pictures', () => {
  it('every map has rows, columns, and a line for each motor where it is over frequency', () => {
    for (const kind of mapKinds) {
      const {map, curves} = drawn.get(kind)!;
      expect(map.rows, kind).toBeGreaterThanOrEqual(20);
      expect(
        map.density.some((v) => v > 0),
        kind,
      ).toBe(true);
      expect(curves.length, kind).toBe(kind === 'order' ? 0 : 4);
    }
    // Over throttle motor 1 turns faster the higher the row.
    const {curves} = drawn.get('throttle')!;
    const known = [...curves[0]!.hz].filter((v) => !Number.isNaN(v));
    expect(known.at(-1)).toBeGreaterThan(1.5 * known[0]!);
  });

  it('a map summed in two places is the map summed in one', async () => {
    let helped = 0;
    const both = await draw('time', (signal, job) => {
      helped += job.starts.length;
      return Promise.resolve(sumRows([signal], job));
    });
    const alone = drawn.get('time')!;
    expect(helped * 2).toBeCloseTo(
      alone.map.counts.reduce((a, b) => a + b),
      -1,
    );
    expect(both.map.counts).toEqual(alone.map.counts);
    both.map.density.forEach((v, i) => expect(Math.abs(v / alone.map.density[i]! - 1)).toBeLessThan(1e-9));
  });

  it('louder is darker all the way, so that a map reads without colour', () => {
    const light = ([r, g, b]: readonly number[]) => 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
    for (let db = -30; db < 30; db++)
      expect(light(colourAt(db + 1)), `${db} dB`).toBeLessThanOrEqual(light(colourAt(db)));
    expect(light(colourAt(-40)) - light(colourAt(40))).toBeGreaterThan(200);
  });

  it('a map tells the value under its cursor, moved by keys', () => {
    const {fixture, host} = station({open: openOf()});
    const map = fixture.debugElement.query((e) => e.componentInstance instanceof MapComponent)
      .nativeElement as HTMLElement;
    const canvas = map.querySelector('canvas')!;
    for (let i = 0; i < 3; i++) canvas.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowDown', shiftKey: true}));
    fixture.detectChanges();
    expect(textOf(host.querySelector('.reading')!)).toMatch(
      /^\d+ Hz, \d+ % throttle: (-?\d+\.\d dB, \d+ segments|not flown)$/,
    );
  });

  it('the trade-off lies between its axes, the quieter the lower', () => {
    const {dots, marks, xTicks, yTicks} = plot(trades, {
      found: {delayMs: 3, left: 5},
      planned: undefined,
      chosen: trades[2],
    });
    expect(dots.filter((d) => d.isChosen)).toHaveLength(1);
    expect(dots.length).toBeLessThan(trades.length);
    expect(dots.every((d, i) => i === 0 || Math.hypot(d.x - dots[i - 1]!.x, d.y - dots[i - 1]!.y) >= 13)).toBe(true);
    for (let i = 1; i < dots.length; i++) {
      expect(dots[i]!.y).toBeGreaterThan(dots[i - 1]!.y);
      expect(dots[i]!.x).toBeGreaterThanOrEqual(dots[i - 1]!.x);
    }
    expect(marks.map((m) => m.name)).toEqual(['on the craft']);
    expect(xTicks.length > 1 && yTicks.length > 1).toBe(true);
  });
});
