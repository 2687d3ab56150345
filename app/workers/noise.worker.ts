/** Reads flight logs and computes everything of them away from the screen's thread. Keeps the last few flights. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import type {FilterChain} from '@core/filters/chain';
import {flownWith} from '@core/flight/flown-with';
import type {FlightLog} from '@core/flight/flight-log';
import {withRanges, type TimeRange} from '@core/flight/phases';
import type {Axis, Mapping} from '@core/flight/mapping';
import {readFlight, type UnmappedTable} from '@core/flight/read-flight';
import {compareFlights, type FlightComparison, type NoComparison} from '@core/noise/compare/compare-flights';
import {reportFlight, type Reported} from '@core/noise/flight-report';
import {failure, success, type Problem, type Result} from '@core/problem';
import {flightModel, type FlightModel} from '@core/tuning/flight-model';
import {filterWindow, type FilteredWindow} from '@core/tuning/window-filter';
import {predict, type ChainPlace, type Prediction} from '@core/tuning/prediction';
import {summaryOf, type FlightSummary} from '@core/noise/flight-summary';
import {drawMap, type DrawnMap, type Helper, type MapKind} from '@core/noise/drawn-map';
import type {MapWorker} from './map.worker';
import {piecesOf} from './log-pieces';

export type ReadProblem = Problem & {readonly unmapped?: UnmappedTable};

interface Held extends Reported {
  readonly summary: FlightSummary;
  readonly log: FlightLog;
  /** Of the ranges asked for last. */
  ranged: {readonly key: string; readonly log: FlightLog; readonly model: FlightModel} | undefined;
}

/** The worker that sums half of a map, once its port has come. */
let helper: Helper | undefined;
addEventListener('message', ({data}: MessageEvent<{readonly helper?: MessagePort} | undefined>) => {
  if (!data?.helper) return;
  const remote = Comlink.wrap<MapWorker>(data.helper);
  helper = (signal, job) => remote.sums(Comlink.transfer(signal, [signal.buffer]), job);
});

const held = new Map<string, Held>();
/** Flights that are held at once: two to compare, and the one before. */
const maxHeld = 3;

function heldFlight(id: string): Held {
  const flight = held.get(id);
  if (!flight) throw new Error(`Flight ${id} is not open`);
  return flight;
}

export interface OpenQuestion {
  readonly mapping?: Mapping | undefined;
  /** Count the controller had in flight, where the log does not say it. */
  readonly loggedPoles: number;
  readonly blades: number;
}

export interface PartOfFlight {
  readonly id: string;
  /** Empty for all of it. */
  readonly ranges: readonly TimeRange[];
}

function ranged({id, ranges}: PartOfFlight): {log: FlightLog; model: FlightModel; flight: Held} {
  const flight = heldFlight(id);
  const key = JSON.stringify(ranges);
  if (flight.ranged?.key !== key) {
    const log = ranges.length ? withRanges(flight.log, ranges) : flight.log;
    flight.ranged = {key, log, model: flightModel(log, flight.speeds.hz)};
  }
  return {...flight.ranged, flight};
}

const noiseWorker = {
  /** Reads a log from a file or an address of our server, and keeps it under `id`. */
  async read(
    id: string,
    source: Blob | string,
    question: OpenQuestion,
    onProgress: (share: number) => void,
  ): Promise<Result<FlightSummary, ReadProblem>> {
    const pieces = await piecesOf(source);
    if ('code' in pieces) return failure(pieces);
    const reading = await readFlight(pieces.stream, {
      mapping: question.mapping,
      sizeBytes: pieces.sizeBytes,
      onProgress: (share) => {
        onProgress(share * 0.6);
        return true;
      },
    });
    if (!reading.ok) return reading;
    const log = reading.value;
    const config = flownWith(log.notes);
    const orders = [...new Set([1, 2, 3, question.blades])].sort((a, b) => a - b);
    const reported = reportFlight(log, {
      loggedPoles: config?.poles ?? question.loggedPoles,
      orders,
      onProgress: (share) => {
        onProgress(0.6 + share * 0.4);
        return true;
      },
    })!;
    held.delete(id);
    const summary = summaryOf(log, reported.report, config);
    held.set(id, {log, ...reported, summary, ranged: undefined});
    for (const old of [...held.keys()].slice(0, -maxHeld)) held.delete(old);
    return success(summary);
  },
  /** What it knows of a flight that it holds, as that was asked for; undefined where it has to be read. */
  known(id: string, {loggedPoles}: OpenQuestion): Result<FlightSummary | undefined> {
    const summary = held.get(id)?.summary;
    return success(summary?.report.loggedPoles === (summary?.config?.poles ?? loggedPoles) ? summary : undefined);
  },
  async map(part: PartOfFlight, kind: MapKind, axis: Axis, motor: number): Promise<Result<DrawnMap>> {
    const {log, flight} = ranged(part);
    return success(await drawMap(log, flight.speeds.hz, {kind, axis, motor}, helper));
  },
  predict: (part: PartOfFlight, chain: ChainPlace): Result<Prediction> => success(predict(ranged(part).model, chain)),
  window(
    id: string,
    chain: FilterChain,
    q: {fromS: number; seconds: number; filterRateHz: number},
  ): Result<FilteredWindow> {
    const {log, speeds} = heldFlight(id);
    const window = filterWindow(log, speeds.hz, chain, q);
    const place = `${q.fromS.toFixed(1)} s`;
    const meaning = 'The flight has no unbroken part of this length there.';
    return window ? success(window) : failure({code: 'no-window', place, meaning, remedy: 'Choose another moment.'});
  },
  /** A flight boiled down to what filters act on, for the search. */
  model: (part: PartOfFlight): Result<FlightModel> => success(ranged(part).model),
  compare(before: string, after: string): Result<FlightComparison | NoComparison> {
    const side = (id: string) => ({log: heldFlight(id).log, motorsHz: heldFlight(id).speeds.hz});
    return success(compareFlights(side(before), side(after)));
  },
};
export type NoiseWorker = typeof noiseWorker;

Comlink.expose(noiseWorker);
