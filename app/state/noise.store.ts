/** A flight log and what the planned filters would do to it; computed in a worker. */
import {computed, effect, inject, untracked} from '@angular/core';
import {patchState, signalStore, withComputed, withHooks, withMethods, withState} from '@ngrx/signals';
import {asRunning, type ControllerPlan} from '@core/controller/plan';
import type {NoiseAnalysis} from '@core/noise/analysis';
import {totalDelayMs, type FilterChain} from '@core/noise/delay-ledger';
import type {Axis} from '@core/noise/flight-log';
import {ProblemError, type Problem} from '@core/problem';
import {plannedFilters} from '@core/noise/forecast';
import {WorkerClient} from '../jobs/worker-client';
import {database, stored} from '../store/database';
import type {NoiseWorker} from '../workers/noise.worker';
import {CLOCK} from '../bench/clock';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';

/** A flight log of one craft: kept in this browser, or shipped with the demo for the craft it was computed for. */
export interface Flight {
  readonly id: string;
  readonly craftId: string;
  /** Goes to the sign-off sheet. */
  readonly label: string;
  readonly isDemo: boolean;
}

/** Flights that ship with the demo; they belong to Juniper, were computed for it, and say so. */
const demoFlights: readonly Flight[] = [
  {id: 'juniper-before', craftId: 'juniper', label: 'flight 11', isDemo: true},
  {id: 'juniper-after', craftId: 'juniper', label: 'flight 12', isDemo: true},
];

interface NoiseState {
  /** Craft whose flights these are. */
  readonly craftId: string | undefined;
  readonly flights: readonly Flight[];
  readonly flight: Flight | undefined;
  readonly axis: Axis;
  readonly analysis: NoiseAnalysis | undefined;
  readonly busy: string | undefined;
  readonly share: number;
  readonly problem: Problem | undefined;
}

const chainOf = (c: ControllerPlan): FilterChain => ({
  harmonics: c.replies ? c.notchHarmonics : [],
  q: c.notchQ,
  minHz: c.notchMinHz,
  movingNotches: c.movingNotches,
  gyroLowPassHz: c.gyroLowPassHz,
});

export const NoiseStore = signalStore(
  {providedIn: 'root'},
  withState<NoiseState>({
    craftId: undefined,
    flights: [],
    flight: undefined,
    axis: 'roll',
    analysis: undefined,
    busy: undefined,
    share: 0,
    problem: undefined,
  }),
  withComputed((_, fleet = inject(FleetStore), record = inject(RecordStore)) => ({
    question: computed(() => {
      const controller = fleet.current()?.plan.controller;
      const found = record.found()?.controller?.config;
      return (
        controller && {
          poles: controller.poles,
          planned: chainOf(controller),
          found: found && chainOf(asRunning(found)),
          // Filters run at the gyro's rate where it was found, else at that of the planned loop: never at the log's.
          filterRateHz: found?.gyroHz ?? controller.loopHz,
        }
      );
    }),
  })),
  withMethods((store, record = inject(RecordStore), fleet = inject(FleetStore)) => {
    const worker = new WorkerClient<NoiseWorker>(
      () => new Worker(new URL('../workers/noise.worker', import.meta.url), {type: 'module'}),
    );
    let asked = 0;
    const ofCraft = async (craftId: string): Promise<readonly Flight[]> => {
      const kept = await stored(database.logs.where({craftId}).sortBy('addedAt'));
      const own = kept.map(({id, name}): Flight => ({id, craftId, label: name, isDemo: false}));
      return [...demoFlights.filter((f) => f.craftId === craftId), ...own];
    };

    const analyse = async (): Promise<void> => {
      const question = store.question();
      const flight = store.flight();
      if (!question || !flight || store.busy() === 'reading') return;
      const own = ++asked;
      patchState(store, {busy: 'computing'});
      const analysed = await worker.run((remote) => remote.analyse({...question, axis: store.axis()}), {
        place: flight.label,
      });
      if (own !== asked) return;
      if (!analysed.ok) return patchState(store, {problem: analysed.problem, busy: undefined});
      const analysis = analysed.value;
      patchState(store, {analysis, busy: undefined});
      // A verdict belongs to the craft it was recorded on.
      if (record.craftId() !== flight.craftId) return;
      record.setNoise({
        flight: flight.label,
        ratio: analysis.poles.kind === 'found' ? analysis.poles.ratio : undefined,
        gainDb: analysis.gainDb,
        delayMs: totalDelayMs(analysis.planned),
        planned: plannedFilters(fleet.current()!.plan.controller),
        at: Date.now(),
      });
    };

    /** Reads a log; a newer call takes over from an older one. */
    const read = async (
      flight: Flight,
      source: Blob | string,
      keep: () => Promise<void> = () => Promise.resolve(),
    ): Promise<boolean> => {
      const own = ++asked;
      const isStale = () => own !== asked;
      patchState(store, {
        busy: 'reading',
        share: 0,
        problem: undefined,
        flight: undefined,
        analysis: undefined,
      });
      const read = await worker.run((remote, onProgress) => remote.read(source, onProgress), {
        place: flight.label,
        onProgress: (share) => {
          if (!isStale()) patchState(store, {share});
        },
      });
      if (isStale()) return false;
      if (!read.ok) {
        patchState(store, {problem: read.problem, busy: undefined});
        return false;
      }
      // What is shown is kept already.
      try {
        await keep();
      } catch (error) {
        const meaning = error instanceof Error ? error.message : String(error);
        const problem = {code: 'log', place: flight.label, meaning, remedy: 'Try again.'};
        if (!isStale()) patchState(store, {problem, busy: undefined});
        return false;
      }
      if (isStale()) return false;
      patchState(store, {flight, busy: undefined});
      await analyse();
      return true;
    };
    const open = async (flight: Flight): Promise<void> => {
      if (flight.isDemo) return void (await read(flight, `/api/flight-logs/${flight.id}`));
      const kept = await stored(database.logs.get(flight.id));
      if (kept) await read(flight, new Blob([kept.file as Uint8Array<ArrayBuffer>]));
    };
    const tell = (error: unknown) => {
      if (!(error instanceof ProblemError)) throw error;
      patchState(store, {problem: error.problem});
    };
    return {
      analyse,
      open: (flight: Flight) => open(flight).catch(tell),
      /** Shows the flights of a craft, and the first of them. */
      async openCraft(craftId: string): Promise<void> {
        if (store.craftId() === craftId) return;
        asked++;
        const nothing = {flight: undefined, analysis: undefined, problem: undefined, busy: undefined};
        patchState(store, {...nothing, craftId, flights: demoFlights.filter((f) => f.craftId === craftId)});
        try {
          const flights = await ofCraft(craftId);
          if (store.craftId() !== craftId) return;
          patchState(store, {flights});
        } catch (error) {
          tell(error);
        }
        const first = store.flights()[0];
        if (first) await open(first).catch(tell);
      },
      /** Opens a file and keeps it with the craft in hand. */
      async openFile(file: File): Promise<void> {
        const craftId = store.craftId();
        if (craftId === undefined) return;
        const flight = {id: crypto.randomUUID(), craftId, label: file.name, isDemo: false};
        const keep = async () => {
          const bytes = new Uint8Array(await file.arrayBuffer());
          try {
            await stored(
              database.logs.put({id: flight.id, craftId, name: file.name, addedAt: Date.now(), file: bytes}),
            );
          } catch (error) {
            tell(error);
          }
          if (store.craftId() === craftId) patchState(store, ({flights}) => ({flights: [...flights, flight]}));
        };
        await read(flight, file, keep);
      },
      /** Takes a log of one's own away for good. */
      async remove(flight: Flight): Promise<void> {
        try {
          await stored(database.logs.delete(flight.id));
        } catch (error) {
          return tell(error);
        }
        patchState(store, ({flights}) => ({flights: flights.filter((f) => f.id !== flight.id)}));
        if (store.flight()?.id === flight.id) patchState(store, {flight: undefined, analysis: undefined});
        if (record.craftId() === flight.craftId && record.noise()?.flight === flight.label) record.setNoise(undefined);
      },
      setAxis: (axis: Axis) => patchState(store, {axis}),
      /** Ends reading or computing at once. */
      cancel(): void {
        asked++;
        worker.cancel();
        patchState(store, {busy: undefined, flight: undefined, analysis: undefined});
      },
    };
  }),
  withHooks((store, clock = inject(CLOCK)) => ({
    onInit() {
      let cancel: (() => void) | undefined;
      effect(() => {
        store.question();
        store.axis();
        cancel?.();
        cancel = clock.after(120, () => untracked(() => void store.analyse()));
      });
    },
  })),
);
