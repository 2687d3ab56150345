/** The other craft, as each was found last: what a plan can take values and lines from. */
import {inject} from '@angular/core';
import {patchState, signalStore, withMethods, withState} from '@ngrx/signals';
import type {OtherCraft} from '@core/sheets/other-craft';
import {database} from '../store/database';
import {FleetStore} from './fleet.store';
import {StoreNotices} from './store-notices';

export const OtherCraftStore = signalStore(
  {providedIn: 'root'},
  withState<{readonly crafts: readonly OtherCraft[]}>({crafts: []}),
  withMethods((store, fleet = inject(FleetStore), notices = inject(StoreNotices)) => ({
    /** @param own the craft in hand, which is not among them. */
    async load(own: string): Promise<void> {
      const records = (await database.records.toArray().catch(notices.unread('What other craft hold'))) ?? [];
      const crafts = records.flatMap(({craftId, found}): OtherCraft[] => {
        const craft = fleet.crafts().find(({id}) => id === craftId);
        return craft && found && craftId !== own ? [{id: craftId, name: craft.name, found}] : [];
      });
      patchState(store, {crafts});
    },
  })),
);
