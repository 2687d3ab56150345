import {computed, inject} from '@angular/core';
import {signalStore, withComputed} from '@ngrx/signals';
import {routeStates} from '@core/work/stations';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';

/** How far each station of the craft in hand is. */
export const RouteStore = signalStore(
  {providedIn: 'root'},
  withComputed((_, fleet = inject(FleetStore), record = inject(RecordStore)) => ({
    states: computed(() => {
      const craft = fleet.current();
      return (
        craft &&
        routeStates({
          craft,
          found: record.found(),
          proofs: record.proofs(),
          sightings: record.sightings(),
          noise: record.noise(),
        })
      );
    }),
  })),
);
