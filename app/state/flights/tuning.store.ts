/** The best chain for the craft in hand: searched over its flights, proposed, planned. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import {fieldsOf} from '@core/controller/chain-of';
import {planOver} from '@core/controller/plan';
import {chainQuestion} from '@core/tuning/chain-question';
import type {FlightModel} from '@core/tuning/flight-model';
import {noiseFromHz, rmsOfAxes} from '@core/tuning/forecast';
import {proposal, type TradePoint} from '@core/tuning/proposal';
import type {Trade} from '@core/tuning/search';
import {totalDelayMs} from '@core/filters/delay-ledger';
import type {Problem} from '@core/problem';
import type {Prediction} from '@core/tuning/prediction';
import type {Flight} from '@core/flight/flight';
import {CraftChange} from '../craft-change';
import {FleetStore} from '../fleet.store';
import {FlightStore} from './flight.store';
import {NoiseJobs} from './noise-jobs';
import {NoiseStore} from './noise.store';
import {RecordStore} from '../record.store';

interface TuningState {
  readonly craftId: string | undefined;
  /** Flights it was searched over, by label. */
  readonly over: readonly string[];
  readonly trades: readonly Trade[];
  /** Frequency that their delays are for, Hz. */
  readonly atHz: number;
  readonly chosen: Trade | undefined;
  readonly share: number | undefined;
  readonly problem: Problem | undefined;
}

const point = (p: Prediction | undefined): TradePoint | undefined => {
  const delayMs = p && totalDelayMs(p.ledger);
  return p && delayMs !== undefined
    ? {delayMs, left: rmsOfAxes(p.forecast.left, p.forecast.stepHz, noiseFromHz)}
    : undefined;
};

const nothing: TuningState = {
  ...{craftId: undefined, over: [], trades: [], atHz: 0},
  ...{chosen: undefined, share: undefined, problem: undefined},
};

export const TuningStore = signalStore(
  {providedIn: 'root'},
  withState<TuningState>(nothing),
  withComputed((store, noise = inject(NoiseStore), fleet = inject(FleetStore)) => ({
    /** Trades of the craft in hand: those of another one say nothing. */
    own: computed(() => (store.craftId() === fleet.current()?.id ? store.trades() : [])),
    plannedPoint: computed(() => point(noise.planned())),
    foundPoint: computed(() => point(noise.found())),
  })),
  withMethods((store) => {
    const jobs = inject(NoiseJobs);
    const noise = inject(NoiseStore);
    const fleet = inject(FleetStore);
    const flights = inject(FlightStore);
    const record = inject(RecordStore);
    /** Fields that the craft's controller was found to have, with those of the plan. */
    const held = () => planOver(fleet.current()!.plan.controller, record.found()?.controller?.config);
    let searches = 0;
    inject(CraftChange).onOther(() => {
      searches++;
      jobs.search.cancel();
      patchState(store, nothing);
    });
    return {
      /** Searches over the open flight, and over others of this craft: a chain has to serve the worst of them. */
      async search(others: readonly Flight[] = []): Promise<void> {
        const part = noise.asked();
        const craft = fleet.current();
        if (!part || !craft || store.share() !== undefined) return;
        patchState(store, {share: 0, problem: undefined});
        const own = ++searches;
        const models: FlightModel[] = [];
        for (const flight of [undefined, ...others]) {
          if (flight && !(await flights.hold(flight))) continue;
          const wanted = flight ? {id: flight.id, ranges: []} : part;
          const model = await jobs.noise.run((remote) => remote.model(wanted), {place: 'search'});
          if (own !== searches) return;
          if (!model.ok) return patchState(store, {share: undefined, problem: model.problem});
          models.push(model.value);
        }
        const job = chainQuestion({
          flights: models,
          planned: craft.plan.controller,
          config: record.found()?.controller?.config,
          motors: craft.arms.length,
          clockMhz: record.found()?.controller?.identity.clockMhz,
          filterRateHz: noise.filterRateHz(),
          crossoverHz: noise.crossoverHz(),
        });
        const answer = await jobs.search.run((remote, onProgress) => remote.search(job, onProgress), {
          place: 'search',
          onProgress: (share) => patchState(store, {share}),
        });
        if (own !== searches) return;
        patchState(store, {share: undefined});
        if (!answer.ok)
          return patchState(store, {problem: answer.problem.code === 'cancelled' ? undefined : answer.problem});
        const trades = answer.value;
        const over = [flights.current()?.flight.label ?? '', ...others.map((f) => f.label)];
        patchState(store, {
          craftId: craft.id,
          trades,
          atHz: job.crossoverHz,
          over,
          chosen: proposal(trades, store.foundPoint()),
        });
      },
      choose: (chosen: Trade | undefined) => patchState(store, {chosen}),
      /** Writes the chosen chain into the plan. */
      plan(): void {
        const chosen = store.chosen();
        if (chosen) fleet.setController(fieldsOf(chosen.chain, held()));
      },
      cancel: () => jobs.search.cancel(),
    };
  }),
);
