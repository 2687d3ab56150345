import {sameJson} from '@core/canonical-json';
import {computed, inject, type Signal} from '@angular/core';
import {signalStore, withComputed, withMethods} from '@ngrx/signals';
import {judgedCraft, type BenchNow, type CraftQuestion} from '@core/sheets/craft-question';
import {measuredBefore} from '@core/proof/standing';
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
        isPropsOff: bench.propsOff(),
        isRunningOut: bench.runningOut(),
      })),
    };
  }),
  withComputed(() => {
    const fleet = inject(FleetStore);
    const record = inject(RecordStore);
    const bench = inject(BenchStore);
    const shelf = inject(ShelfStore);
    return {
      /** Judged without the bench of now, which moves with every hold; undefined while no craft is open. */
      judged: computed(() => {
        const craft = fleet.current();
        if (!craft) return undefined;
        const [board, releases] = [shelf.boardOf(craft), shelf.catalogue()?.releases];
        return judgedCraft({craft, record: record.record(), now: bench.moment(), board, releases});
      }),
    };
  }),
  withComputed(({benchNow, judged}) => ({
    question: computed((): CraftQuestion | undefined => {
      const craft = judged();
      return craft && {...craft, bench: benchNow()};
    }),
  })),
  withComputed(({judged}) => ({
    /** The proofs of the craft in hand and how they stand. */
    standings: computed(() => judged()?.standings),
    /** What was measured of it once: an order that takes that away measures it again. */
    measured: computed(() => measuredBefore(judged()?.standings ?? {}), {equal: sameJson}),
    /** How far each station is. */
    states: computed(() => judged()?.states),
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
