import {computed, inject, type Signal} from '@angular/core';
import {signalStore, withComputed, withMethods} from '@ngrx/signals';
import {craftQuestion, type BenchNow, type CraftQuestion} from '@core/sheets/craft-question';
import {BenchStore} from './bench.store';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';
import {ShelfStore} from './shelf.store';

/** The craft in hand, what is known of it, and the bench of now: put together once per change, for every sheet. */
export const CraftQuestionStore = signalStore(
  {providedIn: 'root'},
  withComputed((_, bench = inject(BenchStore)) => {
    // Every power report is a new object; only what it counts is asked.
    const cycles = computed(() => bench.power()?.cycles);
    return {
      benchNow: computed((): BenchNow => ({
        isConnected: bench.isConnected(),
        isPowered: bench.isPowered(),
        isOccupied: bench.occupied(),
        isOnAdapter: bench.onAdapter(),
        cycles: cycles(),
      })),
    };
  }),
  withComputed(({benchNow}) => {
    const fleet = inject(FleetStore);
    const record = inject(RecordStore);
    const bench = inject(BenchStore);
    const shelf = inject(ShelfStore);
    return {
      /** Undefined while no craft is open. */
      question: computed((): CraftQuestion | undefined => {
        const craft = fleet.current();
        if (!craft) return undefined;
        const board = shelf.boardOf(craft);
        return craftQuestion({craft, record: record.record(), now: bench.moment(), bench: benchNow(), board});
      }),
    };
  }),
  withComputed(({question}) => ({
    /** The proofs of the craft in hand and how they stand. */
    standings: computed(() => question()?.standings),
    /** How far each station is. */
    states: computed(() => question()?.states),
  })),
  withMethods(({question}) => ({
    /** What a sheet says of the craft in hand; undefined while none is open. */
    sheet: <T>(of: (q: CraftQuestion) => T): Signal<T | undefined> =>
      computed(() => {
        const q = question();
        return q && of(q);
      }),
  })),
);
