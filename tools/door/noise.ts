/** What a flight log says: `bidex noise`. */
import * as z from 'zod';
import {chainOf} from '@core/controller/chain-of';
import {controllerPlanSchema} from '@core/controller/plan';
import {totalDelayMs, delayLedger} from '@core/filters/delay-ledger';
import {axisName, type FlightLog} from '@core/flight/flight-log';
import {axes, unitNames, type Axis, type UnitOf} from '@core/flight/mapping';
import {readFlight} from '@core/flight/read-flight';
import type {MotorOrders} from '@core/noise/tracking/order-tracking';
import {strongestPeaks} from '@core/spectra/peaks';
import {decibels, welch, type Spectrum} from '@core/spectra/welch';
import {compareFlights, comparedOrders, type Change} from '@core/noise/compare/compare-flights';
import {compareVerdict} from '@core/noise/compare/compare-verdict';
import {reportFlight, type FlightReport, type Reported} from '@core/noise/flight-report';
import {flightModel} from '@core/tuning/flight-model';
import {forecast, noiseFromHz, rmsBetween} from '@core/tuning/forecast';
import {fail, failed, logFile, outcome, polesOf, readText, type Answer, type LogFile, type Run} from './command';

export const run: Run = async ({file, options}) => {
  const filter = options.get('--filter');
  const filterText = filter === undefined ? undefined : readText(filter);
  const earlier = options.get('--before');
  const before = earlier === undefined ? undefined : logFile(earlier);
  return outcome(await describeNoise(logFile(file), {options, filterText, before}));
};

const segment = 1024;

/** Filters to lay over the flight: fields of a controller's plan; what is left out is off. */
const filterSchema = z.object({
  notchHarmonics: z.array(z.number().int().min(1).max(5)).default([]),
  notchQ: z.number().min(1).max(20).default(5),
  notchMinHz: z.number().min(20).max(400).default(100),
  movingNotches: z.number().int().min(0).max(5).default(0),
  gyroLowPassHz: z.number().min(50).default(1e9),
  ...controllerPlanSchema.pick({
    ...{
      notchWeights: true,
      notchFadeHz: true,
      speedLowPassHz: true,
      movingQ: true,
      movingMinHz: true,
      movingMaxHz: true,
    },
    ...{gyroLowPass: true, gyroLowPassFullHz: true, dLowPass: true, dLowPassHz: true, dLowPassFullHz: true},
  }).shape,
  /** Rate that the filters run at, Hz; the log's where it is left out. */
  filterRateHz: z.number().positive().optional(),
});

export interface NoiseOptions {
  readonly options: ReadonlyMap<string, string>;
  /** What stands in the file of --filter. */
  readonly filterText?: string | undefined;
  /** The earlier flight of --before. */
  readonly before?: LogFile | undefined;
}

/** Poles that are taken where two flights are compared and nobody says: equal speeds are equal whatever the count. */
const usualPoles = 14;

export async function describeNoise(
  {pieces, sizeBytes}: LogFile,
  {options, filterText, before}: NoiseOptions,
): Promise<Answer> {
  const poles = before && !options.has('--poles') ? usualPoles : polesOf(options.get('--poles'));
  if (poles === undefined) return fail('poles', '--poles is an even number from 2 to 60.');
  const wanted = options.has('--at') ? options.get('--at')!.split(',').map(Number) : [];
  const filter = filterText === undefined ? undefined : filterOf(filterText);
  if (filter && !filter.success) return fail('filter', `--filter: ${z.prettifyError(filter.error)}`);
  const units = unitsOf(options.get('--unit'));
  if (!units) return fail('unit', unitUsage);
  const reading = await readFlight(pieces, {sizeBytes, units});
  if (!reading.ok) return failed(reading.problem);
  const log = reading.value;
  const outside = wanted.find((hz) => !(hz >= 0 && hz <= log.sampleRateHz / 2));
  if (outside !== undefined) return fail('at', `--at takes frequencies from 0 to ${log.sampleRateHz / 2} Hz.`);
  const earlier = before && (await readFlight(before.pieces, {sizeBytes: before.sizeBytes, units}));
  if (earlier && !earlier.ok) return failed({...earlier.problem, place: `--before, ${earlier.problem.place}`});
  return {ok: true, value: valueOf(log, poles, {wanted, filter: filter?.data, before: earlier?.value})};
}

const unitUsage = `--unit takes what and its unit, as gyro=rad/s,speed=rpm: ${Object.entries(unitNames)
  .map(([of, names]) => `${of} in ${names.join(', ')}`)
  .join('; ')}.`;

/** Units that were said, by what they are of; undefined where one is none. */
function unitsOf(text: string | undefined): Partial<Record<UnitOf, string>> | undefined {
  const said = (text ?? '').split(',').filter((part) => part !== '');
  const pairs = said.map((part) => part.split('=') as [string, string | undefined]);
  const isUnit = ([of, unit]: (typeof pairs)[number]) =>
    Object.hasOwn(unitNames, of) && (unitNames[of as UnitOf] as readonly string[]).includes(unit ?? '');
  return pairs.every(isUnit) ? Object.fromEntries(pairs) : undefined;
}

interface Wanted {
  readonly wanted: readonly number[];
  readonly filter: z.infer<typeof filterSchema> | undefined;
  readonly before: FlightLog | undefined;
}

/** A value of every axis, by the log's own names. */
const byAxis = <T>(log: FlightLog, value: (axis: Axis) => T): Record<string, T> =>
  Object.fromEntries(axes.map((axis) => [axisName(log, axis), value(axis)]));

function valueOf(log: FlightLog, loggedPoles: number, {wanted, filter, before}: Wanted): unknown {
  const reported = reportFlight(log, {loggedPoles})!;
  const {sampleRateHz, durationS, samples, stretches, drift, otherFlights, notes, dropped} = log;
  return {
    columns: columnsOf(log),
    questions: log.questions,
    ...{sampleRateHz, durationS, rows: samples - filledIn(log)},
    dropped: {
      badValues: dropped.badValues,
      repeatedTimes: dropped.repeatedTimes,
      gaps: dropped.gaps.map(({atS, missing, filled}) => ({atS, missing, filled})),
      badCells: dropped.badCells.slice(0, 20).map(({line, column, text}) => ({line, column: log.names[column], text})),
    },
    stretches: stretches.map(({start, end, atS}) => ({atS, rows: end - start})),
    ...{otherFlights, drift, unit: '(deg/s)^2/Hz', window: 'hann', segment, overlap: segment / 2},
    spectra: byAxis(log, (axis) => {
      const parts = log.stretches;
      return spectrumOf(welch(log.gyro[axis], {sampleRateHz, segment, parts}), wanted);
    }),
    ...reportOf(log, reported.report),
    ...(filter ? {filtered: filteredOf(log, reported, {filter, wanted})} : {}),
    ...(before ? {compared: comparedOf({log, reported}, before, loggedPoles)} : {}),
    notes,
  };
}

interface Flown {
  readonly log: FlightLog;
  readonly reported: Reported;
}

/** The same computation as the Noise station's "Flights compared"; dB are positive where the later flight is quieter. */
function comparedOf({log, reported}: Flown, earlier: FlightLog, loggedPoles: number) {
  const side = (of: FlightLog, {speeds}: Reported) => ({log: of, motorsHz: speeds.hz});
  const comparison = compareFlights(side(earlier, reportFlight(earlier, {loggedPoles})!), side(log, reported));
  const verdict = compareVerdict(comparison);
  if (comparison.kind === 'not comparable') return {...verdict, axes: {}};
  const figures = (change: Change | undefined) => (change ? {dB: change.db, bound: change.bound} : null);
  const linesOf = (lines: readonly (Change | undefined)[]) =>
    Object.fromEntries(comparedOrders.map((order, o) => [order, figures(lines[o])] as const));
  const axesOf = comparison.axes.map(
    ({axis, lines, rest}) => [axisName(log, axis), {lines: linesOf(lines), floor: figures(rest)}] as const,
  );
  return {...verdict, axes: Object.fromEntries(axesOf)};
}

function filterOf(text: string) {
  try {
    return filterSchema.safeParse(JSON.parse(text));
  } catch {
    return filterSchema.safeParse(text);
  }
}

const filledIn = (log: FlightLog) => log.dropped.gaps.reduce((sum, g) => sum + (g.filled ? g.missing : 0), 0);

function columnsOf({mapping, names}: FlightLog) {
  const name = (column: number | undefined) => (column === undefined ? null : names[column]!);
  const {time, gyro, filteredGyro, throttle, speeds, commands, replyErrors, volts, amps} = mapping;
  const {timeUnit, gyroUnit, throttleUnit, speedUnit, speedScale} = mapping;
  return {
    time: name(time),
    gyro: gyro.map(name),
    throttle: name(throttle),
    speeds: speeds.map(name),
    ...{speedUnit, timeUnit, gyroUnit, throttleUnit, speedScale},
    filteredGyro: filteredGyro?.map(name) ?? null,
    commands: commands.map(name),
    replyErrors: replyErrors.map(name),
    volts: name(volts),
    amps: name(amps),
  };
}

function reportOf(log: FlightLog, r: FlightReport) {
  const of = (orders: MotorOrders['orders'], figure: 'amplitude' | 'bound' | 'atHz' | 'blockS') =>
    byAxis(log, (axis) => Object.fromEntries([...orders].map(([order, o]) => [order, o ? o[axis][figure] : null])));
  return {
    poles: {
      logged: r.loggedPoles,
      fitted: r.poles.kind === 'found' ? r.poles.poles : null,
      candidates: r.poles.candidates,
      ...(r.poles.kind === 'found' ? {ratio: r.poles.ratio, marginDb: r.poles.marginDb} : {why: r.poles.why}),
    },
    motors: r.orders.map(({orders}, m) => ({
      ...{amplitudes: of(orders, 'amplitude'), bounds: of(orders, 'bound')},
      // The speed that each amplitude is told for, and the length of the blocks it was fitted in.
      ...{atHz: of(orders, 'atHz'), blockS: of(orders, 'blockS')},
      coastDownS: r.coast[m]?.seconds ?? null,
    })),
    amplitudesWithPoles: r.usedPoles,
    looseMotors: r.findings.flatMap(({kind, motor, text}) => (kind === 'loose' ? [{motor: motor! + 1, text}] : [])),
    resonances: r.resonances.map(({axis, hz, q, prominenceDb}) => ({axis: axisName(log, axis), hz, q, prominenceDb})),
    findings: r.findings
      .filter((f) => f.kind !== 'loose')
      .map(({kind, motor, axis, text}) => ({
        // A tone is a resonance to a program: its text says what it is.
        kind: kind === 'electrical' ? 'resonance' : kind,
        ...(motor === undefined ? {} : {motor: motor + 1}),
        ...(axis === undefined ? {} : {axis: axisName(log, axis)}),
        text,
      })),
  };
}

/** Density at the bins next to `wanted`, Hz, and the strongest peaks. */
function spectrumOf(spectrum: Spectrum, wanted: readonly number[]) {
  const at = wanted.map((hz) => {
    const bin = Math.round(hz / spectrum.stepHz);
    const density = spectrum.density[bin]!;
    return {hz, binHz: bin * spectrum.stepHz, density, db: decibels(density)};
  });
  return {at, peaks: strongestPeaks(spectrum, {count: 8})};
}

interface FilterQuestion {
  readonly filter: z.infer<typeof filterSchema>;
  readonly wanted: readonly number[];
}

/** What the filters would leave of this flight: predicted. */
function filteredOf(log: FlightLog, {speeds}: Reported, {filter, wanted}: FilterQuestion) {
  const rateHz = filter.filterRateHz ?? log.sampleRateHz;
  const chain = chainOf({...filter, replies: true});
  const predicted = forecast(flightModel(log, speeds.hz), chain, rateHz);
  const ledger = delayLedger(chain, predicted.moments, {rateHz, atHz: 60});
  const {stepHz, left, asFlown} = predicted;
  return {
    predicted: true,
    filterRateHz: rateHz,
    delayAt60HzMs: totalDelayMs(ledger) ?? null,
    ledger,
    spectra: Object.fromEntries(
      axes.map((axis, a) => [
        axisName(log, axis),
        {
          ...spectrumOf({stepHz, density: left[a]!, segments: predicted.moments.length}, wanted),
          rmsFromHz: noiseFromHz,
          rmsBefore: rmsBetween(asFlown[a]!, stepHz, noiseFromHz),
          rmsAfter: rmsBetween(left[a]!, stepHz, noiseFromHz),
        },
      ]),
    ),
  };
}
