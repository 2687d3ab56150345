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
  /** What the browser's store holds. */
  readonly kept: readonly Snapshot[];
  /** On its way to the store, or refused by it: these last until this tab closes. */
  readonly unkept: readonly Snapshot[];
  readonly problem: Problem | undefined;
}
const none = {kept: [], unkept: [], problem: undefined} as const;

export const SnapshotStore = signalStore(
  {providedIn: 'root'},
  withState<SnapshotState>({craftId: '', ...none}),
  withComputed((store) => ({
    /** Newest first. */
    listed: computed(() => [...store.kept(), ...store.unkept()].sort((a, b) => b.at.localeCompare(a.at))),
  })),
  withMethods((store, fleet = inject(FleetStore), record = inject(RecordStore)) => {
    inject(CraftChange).onOther(() => patchState(store, {craftId: '', ...none}));
    const notices = inject(StoreNotices);
    let watch: {readonly craftId: string; readonly of: TableWatch} | undefined;
    const keptOf = async (craftId: string) => {
      const kept = await database.snapshots.where({craftId}).toArray();
      return kept.map(({craftId: _, ...snapshot}): Snapshot => snapshot);
    };
    /** What was read replaces what was read before; what is still on its way stays. */
    const hear = (craftId: string, kept: readonly Snapshot[]): void => {
      if (store.craftId() !== craftId) return;
      const isKept = ({id}: Snapshot) => kept.some((s) => s.id === id);
      patchState(store, ({unkept}) => ({kept, unkept: unkept.filter((s) => !isKept(s))}));
    };
    /** An order keeps one too, and so does another tab. */
    const follow = (craftId: string): void => {
      if (watch?.craftId === craftId) return;
      watch?.of.stop();
      watch = {
        craftId,
        of: watchTable(
          () => keptOf(craftId),
          (kept) => hear(craftId, kept),
        ),
      };
    };
    /** Whatever is shown so far: the store may not have been read yet. */
    const show = (craftId: string): void => {
      if (store.craftId() !== craftId) patchState(store, {craftId, ...none});
    };
    /** Keeps it with the craft in hand. */
    const keep = async (snapshot: Snapshot): Promise<void> => {
      const craftId = record.craftId();
      show(craftId);
      patchState(store, ({unkept}) => ({unkept: [...unkept, snapshot]}));
      await database.snapshots.put({...snapshot, craftId}).catch((error: unknown) =>
        patchState(store, {
          problem: {
            code: 'store-failed',
            place: "browser's store",
            meaning: `It refused the snapshot (${error instanceof Error ? error.name : String(error)}); it lasts until this tab closes.`,
            remedy: 'Save it as JSON now, or free space on this computer and keep it again.',
          },
        }),
      );
    };
    return {
      async load(craftId: string): Promise<void> {
        show(craftId);
        const kept = (await keptOf(craftId).catch(notices.unread('The snapshots of this craft'))) ?? [];
        hear(craftId, kept);
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
        const others = (all: readonly Snapshot[]) => all.filter((s) => s.id !== id);
        patchState(store, ({kept, unkept}) => ({kept: others(kept), unkept: others(unkept)}));
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
