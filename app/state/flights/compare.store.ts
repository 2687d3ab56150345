/** Two flights of the craft in hand held against each other, and the proof that comes of it. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import {chainOf} from '@core/controller/chain-of';
import {asRunning, planOver, type ControllerConfig} from '@core/controller/plan';
import {totalDelayMs} from '@core/filters/delay-ledger';
import type {FlightComparison, NoComparison} from '@core/noise/compare/compare-flights';
import {judgeFlights, type FlightFacts, type NoiseVerdict} from '@core/noise/compare/judge-flights';
import {countOf, isSome} from '@core/proof/proof';
import {plannedFilters} from '@core/tuning/noise-forecast';
import type {FlightSummary} from '@core/noise/flight-summary';
import type {Flight} from '@core/flight/flight';
import {CraftChange} from '../craft-change';
import {FleetStore} from '../fleet.store';
import {FlightStore} from './flight.store';
import {NoiseJobs} from './noise-jobs';
import {NoiseStore} from './noise.store';
import {ProofMomentNow} from '../proof-moment';
import {RecordStore} from '../record.store';

interface Compared {
  readonly craftId: string;
  readonly before: Flight;
  readonly after: Flight;
  readonly comparison: FlightComparison | NoComparison;
  /** What the later flight was flown with, as far as that is known. */
  readonly afterConfig: ControllerConfig | undefined;
  readonly facts: {readonly before: FlightFacts; readonly after: FlightFacts};
}

export const CompareStore = signalStore(
  {providedIn: 'root'},
  withState<{readonly compared: Compared | undefined; readonly busy: boolean}>({compared: undefined, busy: false}),
  withComputed(
    ({compared}, fleet = inject(FleetStore), record = inject(RecordStore), flights = inject(FlightStore)) => {
      /** Only of the craft in hand and the flight that is open. */
      const own = computed(() => {
        const c = compared();
        return c?.craftId === fleet.current()?.id && c?.after.id === flights.current()?.flight.id ? c : undefined;
      });
      return {
        own,
        verdict: computed((): NoiseVerdict | undefined => {
          const c = own();
          const controller = fleet.current()?.plan.controller;
          if (!c || !controller) return undefined;
          const {before, after} = c.facts;
          const writtenAt = record.writtenAt()?.controller;
          // What the plan is silent about may be as it was flown.
          const planned = plannedFilters(planOver(controller, c.afterConfig));
          return judgeFlights({
            before,
            after,
            comparison: c.comparison,
            planned,
            writtenAt,
            plannedPoles: controller.poles,
          });
        }),
      };
    },
  ),
  withMethods((store) => {
    inject(CraftChange).onOther(() => patchState(store, {compared: undefined, busy: false}));
    const jobs = inject(NoiseJobs);
    const flights = inject(FlightStore);
    const record = inject(RecordStore);
    const noise = inject(NoiseStore);
    const moment = inject(ProofMomentNow);

    const factsOf = async (flight: Flight, summary: FlightSummary): Promise<FlightFacts> => {
      const config: ControllerConfig | undefined = summary.config ?? flight.config;
      const {label, keptAt, isDemo} = flight;
      const chain = config && chainOf(asRunning(config));
      const predicted =
        chain &&
        (await jobs.noise.run(
          (remote) =>
            remote.predict(
              {id: flight.id, ranges: []},
              {chain, filterRateHz: config.gyroHz, atHz: noise.crossoverHz()},
            ),
          {place: label},
        ));
      return {
        ...{label, keptAt, isDemo, report: summary.report},
        namesFilters: summary.config !== undefined,
        filters: config && plannedFilters(asRunning(config)),
        delayMs: predicted?.ok ? totalDelayMs(predicted.value.ledger) : undefined,
      };
    };

    const prove = (compared: Compared) => {
      const verdict = store.verdict();
      const on = moment.escs();
      const {comparison, after, before} = compared;
      if (!verdict || comparison.kind !== 'compared' || after.isDemo || before.isDemo || !isSome(on)) return;
      const count = countOf(comparison.moments.reduce((sum, [a, b]) => sum + a + b, 0));
      if (count === undefined) return;
      const known = record
        .proofs()
        .some((p) => p.kind === 'noise' && p.text === verdict.text && p.holds === verdict.holds);
      if (known) return;
      const {holds, text} = verdict;
      record.addProofs([{...moment.of('noise', 'flight'), at: after.keptAt, kind: 'noise', on, count, holds, text}]);
    };

    return {
      /** Holds an earlier flight against the open one. */
      async compareWith(before: Flight): Promise<void> {
        const open = flights.current();
        if (!open || store.busy()) return;
        patchState(store, {busy: true});
        try {
          const earlier = await flights.hold(before);
          if (!earlier) return;
          const answer = await jobs.noise.run((remote) => remote.compare(before.id, open.flight.id), {
            place: before.label,
          });
          if (!answer.ok) return;
          const facts = {before: await factsOf(before, earlier), after: await factsOf(open.flight, open.summary)};
          const compared = {
            ...{craftId: open.flight.craftId, before, after: open.flight, comparison: answer.value, facts},
            afterConfig: open.summary.config ?? open.flight.config,
          };
          patchState(store, {compared});
          prove(compared);
        } finally {
          patchState(store, {busy: false});
        }
      },
    };
  }),
);
