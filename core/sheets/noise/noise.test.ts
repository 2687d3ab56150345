/** What Noise says of a flight whose truth is known: maps, motor lines, filters, the chain, flights compared, the log as read. */
import {beforeAll, describe, expect, it} from 'vitest';
import {chainOf} from '../../controller/chain-of';
import type {Flight} from '../../flight/flight';
import {bytesOf, readFlight} from '../../flight/read-flight';
import type {Crossover} from '../../noise/crossover';
import {compareFlights} from '../../noise/compare/compare-flights';
import {drawMap, type DrawnMap} from '../../noise/drawn-map';
import {reportFlight, type Reported} from '../../noise/flight-report';
import {summaryOf, type FlightSummary, type OpenFlight} from '../../noise/flight-summary';
import {knownFlight, type KnownFlight} from '../../testing/known-flight';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {foundWith} from '../../testing/with-config';
import {flightModel} from '../../tuning/flight-model';
import {predict, type Prediction} from '../../tuning/prediction';
import {searchChains, type Trade} from '../../tuning/search';
import {juniper} from '@demo/craft/juniper';
import {chainSheet, withFlight, type ChainNow} from './best-chain';
import {compareSheet} from './compare-flights';
import {filterChange, filterForm, harmonicsChange} from './filter-form';
import {filtersSheet, type FiltersNow} from './filters';
import {columnsSheet, rolesAtFirst, saidAtFirst, withRole, withSignTurned, type WaitingTable} from './log-columns';
import {logNotes} from './log-notes';
import {motorLines} from './motor-lines';
import {mapOf, noiseLead, otherFlights, unitsSheet} from './noise';
import {mapsSheet, partOf, withEnd} from './noise-maps';

const known: KnownFlight = {
  ...{seed: 5, poles: 14, speeds: [1, 1.04, 0.97, 1.02], loud: [8, 9, 24, 8.5]},
  ...{resonance: {hz: 212, q: 14}, seconds: 14},
};
const log = knownFlight(known);
const chain = chainOf(juniper.plan.controller);
const flight: Flight = {id: 'own', craftId: 'juniper', label: 'flight 3', isDemo: false, keptAt: 5};
let reported: Reported;
let open: OpenFlight;
let prediction: Prediction;

beforeAll(() => {
  reported = reportFlight(log, {loggedPoles: 14})!;
  open = {flight, summary: summaryOf(log, reported.report, undefined)};
  prediction = predict(flightModel(log, reported.speeds.hz), {chain, filterRateHz: 8000, atHz: 60});
});
const withSummary = (changes: Partial<FlightSummary>): OpenFlight => ({
  ...open,
  summary: {...open.summary, ...changes},
});

describe('the station’s head', () => {
  it('says which flight it is; without one what a log would show', () => {
    expect(noiseLead(undefined)).toContain('A flight log of this craft shows where motor noise lies');
    expect(noiseLead(open)).toMatch(/^flight 3, 14 s at 2\.0 kHz, speeds of 4 motors\. Kept 1 Jan 1970, \d\d:\d\d\.$/);
    const demo = {...withSummary({durationS: 305, motors: 0}), flight: {...flight, isDemo: true}};
    expect(noiseLead(demo)).toBe('flight 3 (computed for the demo), 5 min 5 s at 2.0 kHz, no motor speeds.');
  });

  it('leads from a finding to the map that shows it', () => {
    expect([mapOf('order map'), mapOf('time map'), mapOf('motor lines'), mapOf('none')]).toEqual([
      'order',
      'time',
      undefined,
      undefined,
    ]);
    expect(otherFlights([flight, {...flight, id: 'b'}], open).map((f) => f.id)).toEqual(['b']);
  });

  it('asks for units that could be others, and for the size of a raw step', () => {
    const none = unitsSheet(open);
    expect([none.questions, none.isChoice]).toEqual([[], false]);
    const asked = unitsSheet(
      withSummary({
        questions: [
          {about: 'gyro', taken: 'deg/s', others: ['rad/s'], text: 'Which?'},
          {about: 'speed', taken: 'rpm', others: [], text: 'Named so.'},
          {about: 'throttle', taken: 'raw', others: [], text: 'How large is a step?'},
        ],
      }),
    );
    expect(asked.questions.map((q) => q.options)).toEqual([['deg/s', 'rad/s'], []]);
    expect(asked).toMatchObject({isChoice: true, taken: {gyro: 'deg/s', throttle: 'raw'}});
  });
});

describe('maps', () => {
  let drawn: DrawnMap;
  beforeAll(async () => {
    drawn = await drawMap(log, reported.speeds.hz, {kind: 'throttle', axis: 'roll', motor: 0});
  });
  const sheet = (over: Partial<Parameters<typeof mapsSheet>[1]> = {}) =>
    mapsSheet(open, {
      part: 'all',
      shown: {...drawn, kind: 'throttle', axis: 'roll', motor: 0},
      harmonics: [1, 2],
      ...over,
    });

  it('offers what the flight has, and lays the planned multiples over the map', () => {
    const s = sheet();
    expect(s.kinds.map((k) => k.value)).toEqual(['throttle', 'time', 'speed', 'order']);
    expect(s.motors).toHaveLength(4);
    expect(s.parts.map((p) => p.value)).toEqual(expect.arrayContaining(['all', 'hover', 'hand']));
    expect(s.map!.lines.map((l) => l.label)).toEqual(['1×', '2×']);
    expect(sheet({harmonics: []}).map!.lines.map((l) => l.label)).toEqual(['1×', '2×', '3×']);
    expect(s.map).toMatchObject({label: 'Noise of gyro roll throttle', names: {yUnit: '% throttle'}});
    expect(s.map!.maxX).toBeLessThanOrEqual(1000);
    expect(sheet({shown: undefined}).map).toBeUndefined();
    const bare = mapsSheet(withSummary({hasThrottle: false, motors: 0}), {
      part: 'all',
      shown: undefined,
      harmonics: [],
    });
    expect([bare.kinds.map((k) => k.value), bare.motors]).toEqual([['time'], []]);
  });

  it('says how sure it is and which lines alias down', () => {
    expect(sheet().notes[0]).toMatch(
      /Hann windows of \d+ samples, 75 % overlap, bins of \d\.\d Hz\. A row is the mean of \d+ windows \(median\): right within −\d/,
    );
    const orders = sheet({shown: {...drawn, curves: [], segment: 0, hop: 0, kind: 'order', axis: 'roll', motor: 0}});
    expect(orders.notes[0]).toContain('Order tracking');
    expect(orders.map).toMatchObject({maxX: 6, lines: []});
    const alias = {order: 2, highestHz: 1200, lowestImageHz: 800, share: 0.1};
    const aliased = mapsSheet(withSummary({report: {...reported.report, aliases: [alias]}}), {
      ...{part: 'all', shown: undefined, harmonics: []},
    });
    expect(aliased.notes).toEqual([
      '2× of the motors runs up to 1200 Hz, beyond half of the log’s 2000 Hz, for 10 % of the flight: there it aliases down, as low as 800 Hz (calculated).',
    ]);
  });

  it('names the loud motor, one resonance however many axes it stands on, and judges the pole count once', () => {
    const {findings, poles} = sheet();
    expect(findings.map((f) => f.title)).toContain('Bent bell or unbalanced propeller, motor 3');
    expect(reported.report.findings.filter((f) => f.kind === 'resonance').length).toBeGreaterThan(1);
    expect(findings.filter((f) => f.title === 'Resonance')).toEqual([
      expect.objectContaining({evidence: 'throttle map', text: expect.stringMatching(/^A resonance at 21\d Hz/)}),
    ]);
    expect(poles).toMatchObject({fits: true, title: '14 poles fit this flight'});
    const wrong = reportFlight(log, {loggedPoles: 12})!.report;
    const told = mapsSheet(withSummary({report: wrong}), {part: 'all', shown: undefined, harmonics: []});
    expect(told.poles).toMatchObject({fits: false, title: 'Logged with 12 poles, these motors have 14'});
    expect(told.poles.text).toContain('Count the magnets of one motor');
    expect(told.findings.map((f) => f.title)).not.toContain('Wrong pole count');
    const unclear = {...reported.report, poles: {...reported.report.poles, kind: 'unclear', why: 'Too even.'} as const};
    expect(mapsSheet(withSummary({report: unclear}), {part: 'all', shown: undefined, harmonics: []}).poles).toEqual({
      fits: undefined,
      title: 'No pole count from this flight',
      text: 'Too even.',
    });
  });

  it('a part chosen by hand begins as the whole flight and keeps a second', () => {
    const whole = partOf('hand', 24) as {fromS: number; toS: number};
    expect(whole).toEqual({fromS: 0, toS: 24});
    expect(partOf('hover', 24)).toBe('hover');
    expect(withEnd(whole, 'fromS', 20)).toEqual({fromS: 20, toS: 24});
    expect(withEnd(whole, 'fromS', 23.5)).toBe(whole);
    expect(sheet({part: whole})).toMatchObject({part: 'hand', byHand: whole});
  });
});

describe('motor lines', () => {
  it('have bounds, bars to one scale and a sign on the odd one; blades are named where they pass', () => {
    const lines = motorLines(reported.report, 'roll', 3)!;
    expect(lines.orders).toEqual(['1×', '2×', '3×, blades']);
    expect(motorLines(reported.report, 'roll', 2)!.orders).toEqual(['1×', '2×, blades', '3×']);
    expect(lines.rows[2]).toMatchObject({motor: '3 ◆', isOdd: true});
    expect(lines.rows[2]!.cells[0]).toMatchObject({width: 100, phase: ''});
    expect(lines.rows[2]!.cells[0]!.text).toMatch(/^2\d\.\d ± \d\.\d$/);
    expect(lines.foot).toMatch(/in blocks of [\d.]+ s/);
    // The signal was made without a phase between the axes.
    expect(motorLines(reported.report, 'pitch', 3)!.rows[2]!.cells[0]!.phase).toMatch(/^∠ -?\d°$/);
  });
  it('are none where the log has no speeds', () =>
    expect(motorLines({...reported.report, orders: []}, 'roll', 3)).toBeUndefined());
});

describe('filters', () => {
  const now = (over: Partial<FiltersNow> = {}): FiltersNow => ({
    ...{axis: 'roll', planned: prediction, found: undefined, gain: {against: 'now', db: 11.2}, plannedChain: chain},
    ...{filterRateHz: 8000, crossover: reported.report.crossover},
    ...over,
  });

  it('say nothing before a flight was computed', () =>
    expect(filtersSheet(emptyQuestion(juniper), now({planned: undefined}))).toBeUndefined());

  it('call what is computed predicted, and no proof', () => {
    const sheet = filtersSheet(emptyQuestion(juniper), now())!;
    expect(sheet.gain).toMatch(
      /^72 % less noise \(11\.2 dB\) than with the filters that fly now, from 80 Hz up .*not a proof/,
    );
    expect(sheet.certainty).toMatch(/bins of 7\.8 Hz, mean of \d+ moments: right within −0\.\d\/\+0\.\d dB/);
    expect(sheet.bands.at(-1)!.name).toBe('500–1000 Hz');
    for (const band of sheet.bands.slice(1)) expect(Number(band.left)).toBeLessThan(Number(band.was));
  });

  it('the delays of the ledger add up; load and what is on the craft are told where they were read', () => {
    const {delay} = filtersSheet(emptyQuestion(juniper), now())!;
    expect(delay.entries.map((e) => e.filter)).toContain('D low-pass');
    const sum = delay.entries.reduce((all, e) => all + e.ms, 0);
    expect(sum).toBeCloseTo(Number.parseFloat(delay.total), 1);
    expect([delay.load, delay.found, delay.surplusMs]).toEqual([undefined, undefined, 0]);
    expect(delay.lag).toMatch(
      /^\d+\.\d° of phase margin at 60 Hz\. That crossover is assumed for this craft: the log has no record of the sticks\. Computed at the gyro's 8\.0 kHz\.$/,
    );
    const slow = chainOf({...juniper.plan.controller, gyroLowPassHz: 100, movingNotches: 3});
    const found = predict(flightModel(log, reported.speeds.hz), {chain: slow, filterRateHz: 8000, atHz: 60});
    const read = filtersSheet(questionOf(juniper), now({found}))!.delay;
    expect(read.load).toMatch(/^\d+ %$/);
    expect(read.surplusMs).toBeGreaterThan(0);
    const eight = filtersSheet(questionOf(withEightMotors(juniper)), now())!.delay;
    expect(Number.parseFloat(eight.load!)).toBeGreaterThan(Number.parseFloat(read.load!));
  });

  it('a delay that cannot be stated is not, and costs no phase', () => {
    const ledger = [{filter: 'moving notches', count: 1, delayMs: undefined, why: 'a notch sits on 60 Hz'}] as const;
    const {delay} = filtersSheet(emptyQuestion(juniper), now({planned: {...prediction, ledger}}))!;
    expect([delay.entries[0]!.text, delay.entries[0]!.why, delay.total, delay.lag]).toEqual([
      'not stated',
      'a notch sits on 60 Hz',
      'not stated',
      '',
    ]);
  });

  it('a crossover that was measured is told with its bounds', () => {
    const crossover: Crossover = {
      ...{kind: 'found', axis: 'pitch', windows: 9},
      ...{hz: 31.4, boundHz: 1.2, marginDeg: 52, marginBoundDeg: 4},
    };
    const {lag, atHz} = filtersSheet(emptyQuestion(juniper), now({crossover}))!.delay;
    expect(atHz).toBe(31.4);
    expect(lag).toContain(
      'crosses a gain of 1: 31.4 ± 1.2 Hz on pitch, with 52 ± 4° of margin as flown, from 9 windows',
    );
  });
});

describe('the form of the filters', () => {
  it('shows what the craft has where the plan is silent; edits are of the plan', () => {
    const q = questionOf(juniper, {record: {found: foundWith(juniper, {movingQ: 7, notchWeights: [100, 40]})}});
    const form = filterForm(q);
    const field = (id: string) =>
      form.stages.flatMap((stage) => [...stage.often, ...stage.fields]).find((f) => f.id === id)!;
    expect([field('moving-q').value, field('weight-2').value, field('weight-3').value]).toEqual([7, 40, 100]);
    expect(filterChange(q, field('moving-q'), 7.5)).toEqual({movingQ: 7.5});
    expect(filterChange(q, field('weight-2'), 50)).toEqual({notchWeights: [100, 50, 100]});
    expect(field('min')).toMatchObject({min: 20, max: 400, unit: 'Hz'});
    // From the gyro to the loop, as the signal goes.
    expect(form.stages.map((stage) => stage.filter)).toEqual([
      ...['gyro low-pass', 'motor-speed notches', 'moving notches', 'D low-pass'],
    ]);
    expect(harmonicsChange([3, 1])).toEqual({notchHarmonics: [1, 3]});
  });
  it('a multiple that is planned is offered, though it is none of the usual', () => {
    const {plan} = juniper;
    const with5 = {...juniper, plan: {...plan, controller: {...plan.controller, notchHarmonics: [1, 5]}}};
    const form = filterForm(emptyQuestion(with5));
    expect(form.harmonics.map((h) => h.label)).toEqual(['1×', '2×', '3×', '5×']);
    const strength = form.stages[1]!.fields.find((f) => f.id === 'weight-5')!;
    expect(filterChange(emptyQuestion(with5), strength, 60)).toEqual({notchWeights: [100, 100, 100, 100, 60]});
  });
  it('greys what the firmware does not have; before a survey nobody knows', () => {
    const found = foundWith(juniper, {gyroLowPass: 'lowpass1', dLowPass: undefined, notchFadeHz: undefined});
    const lacking = filterForm(questionOf(juniper, {record: {found}}));
    expect(lacking.isLacking).toBe(true);
    expect(lacking.stages.map((g) => g.kind?.lacks)).toEqual([false, undefined, undefined, true]);
    const fresh = filterForm(emptyQuestion(juniper));
    expect([fresh.isLacking, fresh.stages.some((g) => g.fields.some((f) => f.lacks))]).toEqual([false, false]);
  });
});

describe('the best chain', () => {
  let trades: readonly Trade[];
  beforeAll(() => {
    const model = flightModel(log, reported.speeds.hz);
    trades = searchChains({
      ...{flights: [{...model, moments: model.moments.filter((_, i) => i % 12 === 0)}], from: chain, motors: 4},
      ...{filterRateHz: 8000, crossoverHz: 60, mostLoad: 0.5, kinds: ['biquad-lowpass'], follows: false},
      loadOf: (n) => 0.1 + 0.01 * n,
    })!;
  });
  const now = (over: Partial<ChainNow> = {}): ChainNow => ({
    ...{trades, chosen: trades[12], over: ['flight 3'], atHz: 60, open, flights: [flight]},
    ...{planned: prediction, plannedChain: chain, foundPoint: {delayMs: 3, left: 4}},
    ...over,
  });

  it('is proposed with figures beside those on the craft, and reasons from the flight', () => {
    const {proposed, note, titles} = chainSheet(now());
    expect(proposed!.words).toMatch(/^notches .*; second order, Butterworth low-pass \d+\u00a0Hz/);
    expect(proposed!.figures.filter((f) => f.isFound).map((f) => f.value)).toEqual(['3.00 ms', '4.00 deg/s']);
    expect(proposed!.reasons.join(' ')).toMatch(/harmonics? \(.*carries/);
    expect(proposed!.isPlanned).toBe(false);
    expect(note).toContain('searched over flight 3 within a load of 50 %');
    expect(titles).toHaveLength(trades.length);
  });
  it('is the plan where the plan says the same; nothing is proposed before a search, no reasons without a flight', () => {
    expect(chainSheet(now({plannedChain: trades[12]!.chain})).proposed!.isPlanned).toBe(true);
    expect(chainSheet(now({trades: []})).proposed).toBeUndefined();
    expect(chainSheet(now({chosen: undefined})).proposed).toBeUndefined();
    expect(chainSheet(now({open: undefined})).proposed!.reasons).toEqual([]);
    expect(chainSheet(now({foundPoint: undefined})).proposed!.figures).toHaveLength(3);
  });
  it('serves two more flights at most', () => {
    expect(withFlight(['a'], 'b')).toEqual(['a', 'b']);
    expect(withFlight(['a', 'b'], 'c')).toEqual(['b', 'c']);
    expect(withFlight(['a', 'b'], 'a')).toEqual(['b']);
  });
});

describe('flights compared', () => {
  it('a change with its bound, quieter for sure or not; what a person measured on both', () => {
    // The same motors at the same speeds, with a quarter of the amplitude.
    const quiet = knownFlight({...known, loud: [2, 2, 6, 2]});
    const motorsHz = reported.speeds.hz;
    const comparison = compareFlights({log, motorsHz}, {log: quiet, motorsHz});
    if (comparison.kind !== 'compared') throw new Error(comparison.why);
    const before = {...flight, id: 'b', label: 'flight 2', noted: {minutes: 4}};
    const after = {...flight, noted: {minutes: 5}};
    const verdict = {holds: false, text: 'measured', missing: ['Fly again']};
    const sheet = compareSheet({open, flights: [before, after], compared: {before, after, comparison}, verdict});
    expect([sheet.title, sheet.refused, sheet.others.map((f) => f.id)]).toEqual(['flight 3 against', '', ['b']]);
    const all = sheet.result!.rows.at(-1)!;
    expect(all.cells[0]).toMatchObject({way: 'down', text: expect.stringMatching(/^−1\d\.\d ± \d\.\d$/)});
    expect(sheet.result!.noted).toEqual([{name: 'Flight time, min', before: '4.0', after: '5.0', change: '+1.0'}]);
    // The other way round it is louder.
    const turned = {...comparison, atOnce: {db: -12.1, bound: 0.8}, rest: undefined};
    const louder = compareSheet({open, flights: [], compared: {before, after, comparison: turned}, verdict});
    expect(louder.result!.rows.at(-1)!.cells.map(({text, way}) => text + way)).toEqual([
      ...['+12.1 ± 0.8up', '', '', 'no estimate'],
    ]);
    expect(louder.result!.noted).toEqual([]);
  });
  it('two that cannot be compared say why', () => {
    const comparison = {kind: 'not comparable', why: 'Other speeds.'} as const;
    const compared = {before: flight, after: flight, comparison};
    const sheet = compareSheet({open, flights: [flight], compared, verdict: undefined});
    expect([sheet.refused, sheet.result]).toEqual(['Other speeds.', undefined]);
  });
});

describe('the log as it was read', () => {
  it('tells rate, columns and what was left out, line by line, at most a dozen of each', () => {
    expect(logNotes(open)).toMatchObject({troubles: '', isOwn: true, note: ''});
    expect(logNotes(open).lines.join()).not.toContain('Flown with');
    const config = {...foundWith(juniper, {gyroLowPassHz: 300}).controller!.config};
    expect(logNotes({...open, flight: {...flight, config}}).lines).toContainEqual(
      expect.stringMatching(
        /^Flown with notches 1× .*300\u00a0Hz; as the controller was read when this log was kept\.$/,
      ),
    );
    expect(logNotes(withSummary({config})).lines.join()).toContain('; as the log says.');
    const bad = {line: 8, column: 1, text: 'x'};
    const gap = {atS: 3, missing: 1, filled: true};
    const notes = logNotes({
      flight: {...flight, isDemo: true, noted: {escC: 61}},
      summary: {
        ...open.summary,
        ...{names: ['time', 'gx', 'gy', 'gz', 'rpm'], drift: 0.012, chargeMah: 812.4, notes: ['flown with x', 'windy']},
        mapping: {...open.summary.mapping, time: 0, gyro: [1, 2, 3], speeds: [4], speedUnit: 'eRPM', speedScale: 100},
        dropped: {
          ...open.summary.dropped,
          ...{badValues: 14, badCells: Array.from({length: 14}, () => bad), repeatedTimes: 1},
          gaps: [gap, {...gap, missing: 5, filled: false}],
        },
        otherFlights: [{fromLine: 9000, rows: 1200}],
      },
    });
    expect(notes.troubles).toBe('14 bad rows, 1 repeated time, 1 short gap filled, 1 more flight in the file');
    expect(notes.isOwn).toBe(false);
    expect(notes.fields.find((f) => f.field === 'escC')).toMatchObject({value: 61, min: -40, max: 250});
    const text = notes.lines.join('\n');
    expect(text).toContain('Time is time in s; gyro gx, gy, gz in deg/s; speeds rpm in eRPM × 100.');
    expect(text).toContain("812 mAh went through the log's current sensor.");
    expect(text.match(/Line 8, gx: "x" is not a number; the row was skipped\./g)).toHaveLength(12);
    expect(text).toContain('2 more bad rows were skipped.');
    expect(text).toContain('At 3.00 s 1 row is missing; filled along a straight line.');
    expect(text).toContain('At 3.00 s 5 rows are missing; the flight is parted there.');
    expect(text).toContain('Another flight begins at line 9000 with 1,200 rows');
    expect(text).toContain('The clock drifts by up to 1.2 % over the flight');
    expect(notes.lines.at(-1)).toBe('windy');
  });
});

describe('columns of an unknown layout', () => {
  it('are named one by one, and read as a person says', async () => {
    const text = `a;b;c;d;e\n${Array.from({length: 1500}, (_, i) => `${i};1,5;2;3;42000`).join('\n')}`;
    const reading = await readFlight(bytesOf(text));
    if (reading.ok || !reading.problem.unmapped) throw new Error('mapped');
    const waiting: WaitingTable = {file: {name: 'strange.csv'}, table: reading.problem.unmapped};
    let roles = rolesAtFirst(waiting);
    const first = columnsSheet({waiting, roles, changes: {}});
    expect(first).toMatchObject({title: 'What the columns of strange.csv hold', reading: undefined});
    expect(first.missing).toContain('gyro roll, gyro pitch, gyro yaw');
    expect(first.rows[0]).toMatchObject({name: 'a', first: '0  1  2  3', range: '0 … 1499'});
    roles = withRole(roles, 0, 'time');
    for (const [column, axis] of [1, 2, 3].entries()) roles = withRole(roles, axis, `gyro ${column}`);
    roles = withRole(roles, 4, 'speed');
    const {reading: read, missing} = columnsSheet({waiting, roles, changes: {timeUnit: 'ms', speedUnit: 'rpm'}});
    expect(missing).toBe('');
    expect(read!.mapping).toMatchObject({time: 0, timeUnit: 'ms', gyro: [1, 2, 3], speeds: [4], speedUnit: 'rpm'});
    expect(read!.units.map((u) => u.name)).toEqual(['Time in', 'Gyro in', 'Speeds in']);
    expect(withSignTurned(read!.mapping, 2)).toEqual({gyroSigns: [1, 1, -1]});
    // One column is roll: what was roll before is nothing now, while any number may be speeds.
    expect(withRole(roles, 4, 'gyro 0')).toEqual(['time', 'nothing', 'gyro 1', 'gyro 2', 'gyro 0']);
    expect(withRole(roles, 3, 'speed')).toEqual(['time', 'gyro 0', 'gyro 1', 'speed', 'speed']);
    // A kept log is asked again with what was said of it.
    const kept = {...waiting, kept: {mapping: read!.mapping}};
    expect([rolesAtFirst(kept), saidAtFirst(kept).timeUnit]).toEqual([roles, 'ms']);
    expect(saidAtFirst(waiting)).toEqual({});
  });
});
