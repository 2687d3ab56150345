/** Presets of one's own: kept, listed, removed. */
import {inject} from '@angular/core';
import {patchState, signalStore, withHooks, withMethods, withState} from '@ngrx/signals';
import type {OwnPreset} from '@core/craft/own-presets';
import {database} from '../store/database';
import {FleetStore} from './fleet.store';

const byName = (a: OwnPreset, b: OwnPreset) => a.name.localeCompare(b.name);

export const PresetStore = signalStore(
  {providedIn: 'root'},
  withState<{readonly all: readonly OwnPreset[]; readonly storeFault: string | undefined}>({
    all: [],
    storeFault: undefined,
  }),
  withMethods((store, fleet = inject(FleetStore)) => {
    const fail = (error: unknown) =>
      patchState(store, {
        storeFault: `The browser's store refused: ${String(error)}. Presets last until this tab closes.`,
      });
    return {
      async load(): Promise<void> {
        try {
          const kept = await database.presets.toArray();
          patchState(store, ({all}) => {
            const late = all.filter(({id}) => !kept.some((k) => k.id === id));
            return {all: [...kept, ...late].sort(byName)};
          });
        } catch (error) {
          fail(error);
        }
      },
      /** Keeps the craft in hand as a starting plan. */
      async keep(name: string, note: string): Promise<void> {
        const craft = fleet.current();
        if (!craft) return;
        const preset: OwnPreset = {id: crypto.randomUUID(), name, note, at: Date.now(), craft};
        patchState(store, ({all}) => ({
          all: [...all, preset].sort(byName),
          storeFault: undefined,
        }));
        await database.presets.put(preset).catch(fail);
      },
      async remove(id: string): Promise<void> {
        patchState(store, ({all}) => ({all: all.filter((p) => p.id !== id)}));
        await database.presets.delete(id).catch(fail);
      },
    };
  }),
  withHooks({onInit: (store) => void store.load()}),
);
