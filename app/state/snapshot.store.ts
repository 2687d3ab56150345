/** Snapshots of the craft in hand: taken, kept, brought in, compared, planned again. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import type {ParameterKey} from '@core/settings/definitions';
import type {Problem} from '@core/problem';
import {readSnapshot, snapshotOfFound, withRestored, type RestorePlan, type Snapshot} from '@core/snapshot/snapshot';
import {database} from '../store/database';
import {watchTable, type TableWatch} from '../store/watch-table';
import {CraftChange} from './craft-change';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';
import {StoreNotices} from './store-notices';

interface SnapshotState {
  readonly craftId: string;
  readonly all: readonly Snapshot[];
  readonly problem: Problem | undefined;
  /** Those that the browser's store refused: they last until this tab closes. */
  readonly unkept: readonly Snapshot[];
}

export const SnapshotStore = signalStore(
  {providedIn: 'root'},
  withState<SnapshotState>({craftId: '', all: [], problem: undefined, unkept: []}),
  withComputed((store) => ({
    /** Newest first. */
    listed: computed(() => [...store.all()].sort((a, b) => b.at.localeCompare(a.at))),
  })),
  withMethods((store, fleet = inject(FleetStore), record = inject(RecordStore)) => {
    inject(CraftChange).onOther(() => patchState(store, {craftId: '', all: [], problem: undefined, unkept: []}));
    const notices = inject(StoreNotices);
    let watch: {readonly craftId: string; readonly of: TableWatch} | undefined;
    const keptOf = async (craftId: string) => {
      const kept = await database.snapshots.where({craftId}).toArray();
      return kept.map(({craftId: _, ...snapshot}): Snapshot => snapshot);
    };
    /** An order keeps one too, and so does another tab. */
    const follow = (craftId: string): void => {
      if (watch?.craftId === craftId) return;
      watch?.of.stop();
      const hear = (kept: readonly Snapshot[]) => {
        const isKept = ({id}: Snapshot) => kept.some((s) => s.id === id);
        const unkept = store.unkept().filter((s) => !isKept(s));
        if (store.craftId() === craftId) patchState(store, {all: [...kept, ...unkept], unkept});
      };
      watch = {craftId, of: watchTable(() => keptOf(craftId), hear)};
    };
    const keep = async (snapshot: Snapshot): Promise<void> => {
      const craftId = store.craftId();
      if (store.craftId() === craftId)
        patchState(store, ({all}) => ({all: [...all.filter((s) => s.id !== snapshot.id), snapshot]}));
      await database.snapshots.put({...snapshot, craftId}).catch((error: unknown) =>
        patchState(store, ({unkept}) => ({
          unkept: [...unkept, snapshot],
          problem: {
            code: 'store-failed',
            place: "browser's store",
            meaning: `It refused the snapshot (${error instanceof Error ? error.name : String(error)}); it lasts until this tab closes.`,
            remedy: 'Save it as JSON now, or free space on this computer and keep it again.',
          },
        })),
      );
    };
    return {
      async load(craftId: string): Promise<void> {
        const kept = (await keptOf(craftId).catch(notices.unread('The snapshots of this craft'))) ?? [];
        patchState(store, {craftId, all: kept, unkept: [], problem: undefined});
        follow(craftId);
      },
      /** Keeps what was found last under a name. */
      async take(name: string): Promise<void> {
        const [found, craft] = [record.found(), fleet.current()];
        if (!found || !craft) return;
        const at = new Date(found.at).toISOString();
        await keep(snapshotOfFound(found, {id: crypto.randomUUID(), craft: craft.name, name, at}));
      },
      async bringIn(text: string): Promise<void> {
        const read = readSnapshot(text);
        patchState(store, {problem: read.ok ? undefined : read.problem});
        if (read.ok) await keep({...read.value, id: crypto.randomUUID()});
      },
      async remove(id: string): Promise<void> {
        try {
          await database.snapshots.delete(id);
        } catch (error) {
          // It is still kept, so it is still listed.
          return notices.refused('the snapshot that was to be deleted')(error);
        }
        patchState(store, ({all}) => ({all: all.filter((s) => s.id !== id)}));
      },
      clearProblem: () => patchState(store, {problem: undefined}),
      /** Takes values of a snapshot into the plan, all or the named ones, as one step that undo takes back. */
      plan(restore: RestorePlan, keys?: readonly ParameterKey[]): void {
        fleet.edit((craft) => {
          const parameters = withRestored(craft.plan.parameters, restore, keys);
          return {...craft, plan: {...craft.plan, parameters}};
        });
      },
    };
  }),
);
