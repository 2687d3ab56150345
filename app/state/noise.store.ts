/** A flight log and what the planned filters would do to it; computed in a worker. */
import {computed, effect, inject, untracked} from '@angular/core';
import {patchState, signalStore, withComputed, withHooks, withMethods, withState} from '@ngrx/signals';
import * as Comlink from 'comlink';
import type {ControllerPlan} from '@core/craft/craft';
import type {NoiseAnalysis} from '@core/noise/analysis';
import {totalDelayMs, type FilterChain} from '@core/noise/delay-ledger';
import type {Axis} from '@core/noise/flight-log';
import type {Problem} from '@core/problem';
import type {NoiseWorker} from '../workers/noise.worker';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';

export interface Flight {
  readonly id: string;
  readonly label: string;
}

/** Flight logs that ship with the demo; `label` goes to the route. */
export const demoFlights: readonly Flight[] = [
  {id: 'juniper-before', label: 'flight 11'},
  {id: 'juniper-after', label: 'flight 12'},
];

interface NoiseState {
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
      return controller && {poles: controller.poles, planned: chainOf(controller), found: found && chainOf(found)};
    }),
  })),
  withMethods((store, record = inject(RecordStore)) => {
    let worker: {remote: Comlink.Remote<NoiseWorker>; end: () => void} | undefined;
    const remote = () => {
      if (worker) return worker.remote;
      const own = new Worker(new URL('../workers/noise.worker', import.meta.url), {type: 'module'});
      worker = {remote: Comlink.wrap<NoiseWorker>(own), end: () => own.terminate()};
      return worker.remote;
    };
    let asked = 0;

    const analyse = async (): Promise<void> => {
      const question = store.question();
      const flight = store.flight();
      if (!question || !flight || store.busy() === 'reading') return;
      const own = ++asked;
      patchState(store, {busy: 'computing'});
      const analysis = await remote().analyse({...question, axis: store.axis()});
      if (own !== asked) return;
      patchState(store, {analysis, busy: undefined});
      const applied = question.found && JSON.stringify(question.found) === JSON.stringify(question.planned);
      const {ratio} = analysis;
      if (applied && ratio)
        record.setNoise({
          flight: flight.label,
          ratio: ratio.ratio,
          gainDb: analysis.gainDb,
          delayMs: totalDelayMs(analysis.planned),
          holds: Math.abs(ratio.ratio - 1) < 0.03 && analysis.gainDb > 3,
          at: Date.now(),
        });
    };

    /** Reads a log; a newer call takes over from an older one. */
    const read = async (flight: Flight, source: File | string): Promise<void> => {
      const own = ++asked;
      const isStale = () => own !== asked;
      patchState(store, {
        busy: 'reading',
        share: 0,
        problem: undefined,
        flight: undefined,
        analysis: undefined,
      });
      try {
        const onProgress = Comlink.proxy((share: number) => patchState(store, {share}));
        const problem = await remote().read(source, onProgress);
        if (isStale()) return;
        patchState(store, problem ? {problem, busy: undefined} : {flight, busy: undefined});
        if (!problem) await analyse();
      } catch (error) {
        if (isStale()) return;
        const meaning = error instanceof Error ? error.message : String(error);
        patchState(store, {
          busy: undefined,
          problem: {code: 'log', place: flight.label, meaning, remedy: 'Try again.'},
        });
      }
    };
    return {
      analyse,
      openDemo: (flight: Flight) => read(flight, `/api/flight-logs/${flight.id}`),
      openFile: (file: File) => read({id: 'file', label: file.name}, file),
      setAxis: (axis: Axis) => patchState(store, {axis}),
      /** Ends reading or computing at once. */
      cancel(): void {
        asked++;
        worker?.end();
        worker = undefined;
        patchState(store, {busy: undefined, flight: undefined, analysis: undefined});
      },
    };
  }),
  withHooks((store) => ({
    onInit() {
      let timer: ReturnType<typeof setTimeout> | undefined;
      effect(() => {
        store.question();
        store.axis();
        clearTimeout(timer);
        timer = setTimeout(() => untracked(() => void store.analyse()), 120);
      });
    },
  })),
);
