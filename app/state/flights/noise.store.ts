/** What the Noise station computes of the open flight: its map, the planned filters' forecast, and what is on the craft. */
import {computed, effect, inject, untracked} from '@angular/core';
import {patchState, signalStore, withComputed, withHooks, withMethods, withState} from '@ngrx/signals';
import {chainOf} from '@core/controller/chain-of';
import {asRunning, planOver} from '@core/controller/plan';
import {totalDelayMs} from '@core/filters/delay-ledger';
import type {FlightPart} from '@core/flight/phases';
import type {Axis} from '@core/flight/mapping';
import type {Problem} from '@core/problem';
import {filterRateOf} from '@core/tuning/chain-question';
import {plannedFilters} from '@core/tuning/noise-forecast';
import {predictedGain} from '@core/tuning/predicted-gain';
import type {FilteredWindow} from '@core/tuning/window-filter';
import type {MapKind, ShownMap} from '@core/noise/drawn-map';
import type {Prediction} from '@core/tuning/prediction';
import type {PartOfFlight} from '../../workers/noise.worker';
import {CLOCK} from '../../bench/page-clock';
import {crossoverHzOf} from '@core/noise/crossover';
import {FlightStore} from './flight.store';
import {CraftChange} from '../craft-change';
import {FleetStore} from '../fleet.store';
import {NoiseJobs} from './noise-jobs';
import {RecordStore} from '../record.store';

interface NoiseState {
  readonly axis: Axis;
  readonly kind: MapKind;
  /** Motor that speed and order maps follow, counted from 0. */
  readonly motor: number;
  readonly part: FlightPart;
  readonly shown: ShownMap | undefined;
  readonly planned: Prediction | undefined;
  readonly found: Prediction | undefined;
  readonly window: FilteredWindow | undefined;
  /** Where the window in the time domain begins, s. */
  readonly windowAtS: number;
  readonly problem: Problem | undefined;
}

/** Before anything of a flight is known. */
const nothing: Omit<NoiseState, 'axis' | 'kind' | 'motor'> = {
  ...{part: 'all', shown: undefined, planned: undefined, found: undefined, window: undefined, windowAtS: 1},
  problem: undefined,
};

export const NoiseStore = signalStore(
  {providedIn: 'root'},
  withState<NoiseState>({
    axis: 'roll',
    kind: 'throttle',
    motor: 0,
    ...nothing,
  }),
  withComputed((store, fleet = inject(FleetStore), record = inject(RecordStore), flights = inject(FlightStore)) => ({
    plannedChain: computed(() => {
      const controller = fleet.current()?.plan.controller;
      return controller && chainOf(planOver(controller, record.found()?.controller?.config));
    }),
    foundChain: computed(() => {
      const found = record.found()?.controller?.config;
      return found && chainOf(asRunning(found));
    }),
    /** Where nothing says the gyro's rate, that of the planned loop: never the log's. */
    filterRateHz: computed(() =>
      filterRateOf(
        record.found()?.controller?.config,
        flights.current()?.summary.config,
        fleet.current()?.plan.controller.loopHz,
      ),
    ),
    /** Frequency at which a delay costs phase margin, Hz: of the craft's own loop where this flight tells it. */
    crossoverHz: computed(() => crossoverHzOf(flights.current()?.summary.report.crossover)),
    /** What the worker is asked about; undefined while no flight is open. */
    asked: computed((): PartOfFlight | undefined => {
      const open = flights.current();
      const part = store.part();
      if (!open) return undefined;
      const ranges = part === 'all' ? [] : typeof part === 'string' ? open.summary.phases[part] : [part];
      return {id: open.flight.id, ranges};
    }),
    /** What the planned filters would change on this flight, against those that fly now. */
    gain: computed(() => {
      const [planned, found] = [store.planned()?.forecast, store.found()?.forecast];
      return planned && predictedGain(planned, found);
    }),
  })),
  withMethods((store) => {
    const jobs = inject(NoiseJobs);
    const flights = inject(FlightStore);
    const fleet = inject(FleetStore);
    const record = inject(RecordStore);
    let maps = 0;
    let predictions = 0;
    let windows = 0;
    const place = () => flights.current()?.flight.label ?? '';
    inject(CraftChange).onOther(() => {
      maps++;
      predictions++;
      windows++;
      patchState(store, nothing);
    });

    const keepForecast = (planned: Prediction) => {
      const open = flights.current();
      const gain = store.gain();
      // A verdict belongs to the craft it was recorded on.
      if (!open || !gain || record.craftId() !== open.flight.craftId) return;
      const {poles} = open.summary.report;
      record.setNoise({
        flight: open.flight.label,
        ratio: poles.kind === 'found' ? poles.ratio : undefined,
        ...{gainDb: gain.db, against: gain.against},
        delayMs: totalDelayMs(planned.ledger),
        planned: plannedFilters(fleet.current()!.plan.controller),
        at: Date.now(),
      });
    };
    return {
      async draw(): Promise<void> {
        const part = store.asked();
        const own = ++maps;
        if (!part) return patchState(store, {shown: undefined});
        const [kind, axis, motor] = [store.kind(), store.axis(), store.motor()];
        const answer = await jobs.noise.run((remote) => remote.map(part, kind, axis, motor), {place: place()});
        if (own !== maps) return;
        if (!answer.ok) return patchState(store, {problem: answer.problem});
        patchState(store, {shown: {...answer.value, kind, axis, motor}, problem: undefined});
      },
      async predict(): Promise<void> {
        const part = store.asked();
        const chain = store.plannedChain();
        const own = ++predictions;
        if (!part || !chain) return patchState(store, {planned: undefined, found: undefined});
        const found = store.foundChain();
        const question = {filterRateHz: store.filterRateHz(), atHz: store.crossoverHz()};
        const ask = (of: typeof chain) =>
          jobs.noise.run((remote) => remote.predict(part, {...question, chain: of}), {place: place()});
        const [planned, onCraft] = await Promise.all([ask(chain), found && ask(found)]);
        if (own !== predictions) return;
        if (!planned.ok) return patchState(store, {problem: planned.problem});
        patchState(store, {planned: planned.value, found: onCraft?.ok ? onCraft.value : undefined});
        keepForecast(planned.value);
      },
      async cut(): Promise<void> {
        const part = store.asked();
        const chain = store.plannedChain();
        const own = ++windows;
        if (!part || !chain) return patchState(store, {window: undefined});
        const q = {fromS: store.windowAtS(), seconds: 0.25, filterRateHz: store.filterRateHz()};
        const answer = await jobs.noise.run((remote) => remote.window(part.id, chain, q), {place: place()});
        if (own === windows) patchState(store, {window: answer.ok ? answer.value : undefined});
      },
      setAxis: (axis: Axis) => patchState(store, {axis}),
      setKind: (kind: MapKind) => patchState(store, {kind}),
      setMotor: (motor: number) => patchState(store, {motor}),
      setPart: (part: FlightPart) => patchState(store, {part}),
      setWindow: (windowAtS: number) => patchState(store, {windowAtS}),
    };
  }),
  withHooks((store, flights = inject(FlightStore), clock = inject(CLOCK)) => ({
    onInit() {
      // A flight of another craft begins as a whole, at motor 1.
      const id = computed(() => flights.current()?.flight.id);
      effect(() => {
        if (id() === undefined) return;
        untracked(() => {
          store.setPart('all');
          store.setMotor(0);
        });
      });
      // A row of edits asks once.
      const later = (work: () => Promise<void>, ms: number) => {
        let cancel: (() => void) | undefined;
        return () => {
          cancel?.();
          cancel = clock.after(ms, () => untracked(() => void work()));
        };
      };
      const [draw, predict, cut] = [later(store.draw, 0), later(store.predict, 60), later(store.cut, 60)];
      const on = (signals: readonly (() => unknown)[], then: () => void) =>
        effect(() => {
          for (const read of signals) read();
          then();
        });
      on([store.asked, store.kind, store.axis, store.motor], draw);
      on([store.asked, store.plannedChain, store.foundChain, store.filterRateHz, store.crossoverHz], predict);
      on([store.asked, store.plannedChain, store.filterRateHz, store.windowAtS], cut);
    },
  })),
);
