import {computed, inject} from '@angular/core';
import {signalStore, withComputed} from '@ngrx/signals';
import {standings, type RouteQuestion} from '@core/route/standings';
import {routeStates} from '@core/route/stations';
import {BenchStore} from './bench.store';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';

/** How far each station of the craft in hand is. */
export const RouteStore = signalStore(
  {providedIn: 'root'},
  withComputed((_, fleet = inject(FleetStore), record = inject(RecordStore), bench = inject(BenchStore)) => ({
    question: computed((): RouteQuestion | undefined => {
      const craft = fleet.current();
      return craft && {craft, record: record.record(), now: bench.moment()};
    }),
  })),
  withComputed((store) => ({
    /** The proofs of the craft in hand and how they stand. */
    standings: computed(() => {
      const question = store.question();
      return question && standings(question);
    }),
  })),
  withComputed((store) => ({
    states: computed(() => {
      const question = store.question();
      return question && routeStates(question, store.standings());
    }),
  })),
);
