/** The fleet, the craft in hand and its plan, with undo. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import type {Craft, PlannedValue} from '@core/craft/craft';
import type {FirmwarePlan} from '@core/firmware/plan/firmware-plan';
import type {ControllerPlan} from '@core/controller/plan';
import {demoFleet} from '@demo/craft/fleet';
import {mergeEdits, type MergedEdits} from '@core/craft/merge-edits';
import type {ParameterKey} from '@core/settings/definitions';
import {CLOCK} from '../bench/page-clock';
import {database} from '../store/database';
import {watchTable, type TableWatch} from '../store/watch-table';
import {refusalText, unreadText} from '../store/refusal-text';
import {CraftChange} from './craft-change';
import {StoreMode} from '../store/store-mode';
import {forgetEdit, lateEdit, noteEdit} from '../store/late-edit';
import {withLateStep, type History} from '../store/late-history';

interface FleetState {
  readonly crafts: readonly Craft[];
  readonly currentId: string | undefined;
  readonly loaded: boolean;
  /** The store could not be read: there is nothing to show, and nothing is written, until it can. */
  readonly unread: boolean;
  readonly past: readonly Craft[];
  readonly future: readonly Craft[];
  /** Set when the browser's store refuses: the work goes on in memory. */
  readonly storeFault: string | undefined;
  /** What another tab changed at the same moment, until it was read. */
  readonly notice: string | undefined;
}

/** What an edit does to the way back: from the history as the store has it, so that one that was not read is not lost. */
type HistoryStep = (history: History) => History;

/** An edit on its way to the store, with its steps back and forth where it has any. */
interface Edit {
  readonly craft: Craft;
  readonly steps: readonly HistoryStep[];
}

const maxUndo = 200;
/** A read that failed is tried again after so long, ms. */
const tryAgainMs = 2_000;
const noHistory: History = {past: [], future: []};
const onto =
  (craft: Craft): HistoryStep =>
  ({past}) => ({past: [...past, craft].slice(-maxUndo), future: []});

export const FleetStore = signalStore(
  {providedIn: 'root'},
  withState<FleetState>({
    crafts: [],
    currentId: undefined,
    loaded: false,
    unread: false,
    past: [],
    future: [],
    storeFault: undefined,
    notice: undefined,
  }),
  withComputed((store) => ({
    current: computed(() => store.crafts().find((c) => c.id === store.currentId())),
    canUndo: computed(() => store.past().length > 0),
    canRedo: computed(() => store.future().length > 0),
  })),
  withMethods((store, clock = inject(CLOCK), mode = inject(StoreMode)) => {
    const craftChange = inject(CraftChange);
    let watch: TableWatch | undefined;
    const written = <T>(work: PromiseLike<T>): Promise<T> => watch?.during(work) ?? Promise.resolve(work);
    /** Each craft as this tab and the store last agreed on it. */
    const agreed = new Map<string, Craft>();
    const agree = (crafts: readonly Craft[]) => crafts.forEach((c) => agreed.set(c.id, c));
    const refuse = (error: unknown) => patchState(store, {storeFault: refusalText(error, 'the plan')});

    /** Puts a craft into the store; what another tab put there meanwhile is merged, never lost unseen. */
    const put = async ({craft, steps}: Edit): Promise<MergedEdits<Craft>> => {
      const base = agreed.get(craft.id);
      const {kept, merged} = await database.transaction('rw', database.craft, database.histories, async () => {
        const kept = await database.craft.get(craft.id);
        const merged = base && kept ? mergeEdits(base, craft, kept) : {value: craft, conflicts: [], tookOver: false};
        await database.craft.put(merged.value);
        // The way back comes to the store with the edit, or neither does; another tab's craft goes onto it.
        const all = [...steps, ...(merged.conflicts.length && kept ? [onto(kept)] : [])];
        if (all.length) {
          const before = (await database.histories.get(craft.id)) ?? noHistory;
          const {past, future} = all.reduce<History>((history, step) => step(history), before);
          await database.histories.put({craftId: craft.id, past, future});
        }
        return {kept, merged};
      });
      if (merged.conflicts.length && kept) beside(kept, merged.conflicts);
      return merged;
    };
    const history = (): History => ({past: store.past(), future: store.future()});
    /** The other tab's craft is on the undo stack, and a sentence says so. */
    const beside = (theirs: Craft, conflicts: readonly string[]) => {
      if (store.currentId() === theirs.id) patchState(store, onto(theirs)(history()));
      patchState(store, {
        notice: `Another tab changed ${conflicts.join(', ')} of ${theirs.name} at the same moment. Yours is kept; undo brings the other back.`,
      });
    };
    /** The newest edit of each craft on its way to the store; one at a time, so that no edit meets the one before it. */
    const waiting = new Map<string, Edit>();
    let queue: Promise<void> = Promise.resolve();
    /** Edits that are not in the store yet: until they are, what the store says is of before them. */
    let underWay = 0;
    const keep = (craft: Craft, step?: HistoryStep) => {
      if (mode.inMemory()) return;
      noteEdit(craft);
      const steps = waiting.get(craft.id)?.steps ?? [];
      waiting.set(craft.id, {craft, steps: step ? [...steps, step] : steps});
      underWay++;
      queue = queue.then(() => putNewest(craft.id)).finally(() => underWay--);
      void written(queue.then(readAgain));
    };
    /** Once all edits are kept, what another tab put there meanwhile is taken over. */
    const readAgain = async (): Promise<void> => {
      if (underWay) return;
      try {
        const kept = await database.craft.toArray();
        if (!underWay) hear(kept);
      } catch (error) {
        refuse(error);
      }
    };
    const putNewest = async (id: string): Promise<void> => {
      const edit = waiting.get(id);
      if (!edit) return;
      waiting.delete(id);
      const {craft} = edit;
      try {
        const {value, tookOver} = await put(edit);
        forgetEdit(JSON.stringify(craft));
        agreed.set(id, value);
        patchState(store, {storeFault: undefined});
        if (tookOver) takeOver(craft, value);
      } catch (error) {
        refuse(error);
      }
    };
    /** What came from the other tab goes into the craft in hand, under whatever was edited since. */
    const takeOver = (craft: Craft, value: Craft) => {
      const onto = (c: Craft) => (c === craft ? value : mergeEdits(craft, c, value).value);
      patchState(store, ({crafts}) => ({crafts: crafts.map((c) => (c.id === value.id ? onto(c) : c))}));
      const later = waiting.get(value.id);
      if (later) waiting.set(value.id, {...later, craft: onto(later.craft)});
    };
    /** @param step what it does to the way back, here and in the store. */
    const replace = (craft: Craft, step: HistoryStep) => {
      patchState(store, ({crafts}) => ({
        crafts: crafts.map((c) => (c.id === craft.id ? craft : c)),
        ...step(history()),
      }));
      keep(craft, step);
    };
    /** Takes over what another tab kept: its craft, and what it can take back of the one in hand. */
    const hear = (kept: readonly Craft[]) => {
      // What lives in memory only must not be put back to what the store still has; an empty table is one that is being
      // filled anew.
      if (underWay || store.storeFault() || !kept.length) return;
      if (JSON.stringify(inDemoOrder(kept)) === JSON.stringify(inDemoOrder(store.crafts()))) return;
      const id = store.currentId();
      const [before, now] = [store.current(), kept.find((c) => c.id === id)];
      agree(kept);
      patchState(store, {crafts: inDemoOrder(kept)});
      if (id !== undefined && JSON.stringify(before) !== JSON.stringify(now)) void readHistory(id);
    };
    /** The way back as the store has it. Where it cannot be read, steps made here still come onto it in the store. */
    const readHistory = async (id: string) => {
      if (mode.inMemory()) return;
      try {
        const kept = await database.histories.get(id);
        if (kept && store.currentId() === id && !underWay) patchState(store, {past: kept.past, future: kept.future});
      } catch (error) {
        patchState(store, {storeFault: unreadText(error, 'The way back of this plan')});
        clock.after(tryAgainMs, () => void (store.currentId() === id && readHistory(id)));
      }
    };
    /** An edit that never came to the store, with its way back. */
    const bringIn = (late: Craft) =>
      database.transaction('rw', database.craft, database.histories, async () => {
        const kept = await database.craft.get(late.id);
        await database.craft.put(late);
        if (!kept) return;
        const history = (await database.histories.get(late.id)) ?? noHistory;
        const {past, future} = withLateStep(history, kept, late);
        await database.histories.put({craftId: late.id, past: past.slice(-maxUndo), future});
      });
    const change = (edit: (craft: Craft) => Craft) => {
      const before = store.current();
      if (!before) return;
      const after = edit(before);
      if (JSON.stringify(after) === JSON.stringify(before)) return;
      replace(after, onto(before));
    };
    return {
      /** Reads the fleet; a first visit finds the craft of the demo. */
      async load(): Promise<void> {
        if (store.loaded() || mode.inMemory()) return;
        try {
          // An edit that a reload overtook on its way to the store comes first.
          const late = lateEdit();
          if (late) await bringIn(late.craft);
          late?.forget();
          const kept = await database.craft.toArray();
          agree(kept.length ? kept : demoFleet);
          patchState(store, {
            crafts: kept.length ? inDemoOrder(kept) : demoFleet,
            loaded: true,
            unread: false,
            storeFault: undefined,
          });
          // What was read and holds nothing is a first visit.
          if (!kept.length) await database.craft.bulkPut([...demoFleet]);
          watch = watchTable(() => database.craft.toArray(), hear);
        } catch (error) {
          if (store.loaded()) return refuse(error);
          patchState(store, {unread: true, storeFault: unreadText(error, 'Your craft')});
          clock.after(tryAgainMs, () => void this.load());
        }
      },
      /** A person goes on with the craft of the demo, of which nothing is kept: the store cannot be read. */
      goOnInMemory(): void {
        if (store.loaded()) return;
        mode.goOnInMemory();
        patchState(store, {crafts: demoFleet, loaded: true, unread: false, storeFault: memoryText});
      },
      open(id: string | undefined): void {
        if (id === store.currentId()) return;
        patchState(store, {currentId: id, past: [], future: []});
        craftChange.tell();
        if (id === undefined) return;
        void readHistory(id);
      },
      edit: change,
      dismissNotice: () => patchState(store, {notice: undefined}),
      /** Takes a new craft into the fleet and keeps it. */
      add(craft: Craft): void {
        patchState(store, ({crafts}) => ({crafts: [...crafts, craft]}));
        keep(craft);
      },
      /** Puts a craft away or takes it back; everything of it is kept. */
      setArchived(id: string, archived: boolean): void {
        const craft = store.crafts().find((c) => c.id === id);
        if (!craft) return;
        const changed = {...craft, archived};
        patchState(store, ({crafts}) => ({crafts: crafts.map((c) => (c.id === id ? changed : c))}));
        keep(changed);
      },
      setParameter(key: ParameterKey, value: PlannedValue): void {
        change((c) => ({...c, plan: {...c.plan, parameters: {...c.plan.parameters, [key]: value}}}));
      },
      /** Takes a parameter out of the plan: every ESC keeps what it holds. */
      clearParameter(key: ParameterKey): void {
        change((c) => {
          const parameters = Object.fromEntries(Object.entries(c.plan.parameters).filter(([name]) => name !== key));
          return {...c, plan: {...c.plan, parameters}};
        });
      },
      setController(changes: Partial<ControllerPlan>): void {
        change((c) => ({...c, plan: {...c.plan, controller: {...c.plan.controller, ...changes}}}));
      },
      setFirmware(firmware: FirmwarePlan): void {
        change((c) => ({...c, plan: {...c.plan, firmware}}));
      },
      undo(): void {
        const [before, now] = [store.past().at(-1), store.current()];
        if (!before || !now) return;
        replace(before, ({past, future}) => ({past: past.slice(0, -1), future: [now, ...future]}));
      },
      redo(): void {
        const [after, now] = [store.future()[0], store.current()];
        if (!after || !now) return;
        replace(after, ({past, future}) => ({past: [...past, now], future: future.slice(1)}));
      },
    };
  }),
);

const memoryText =
  'The store of this browser cannot be read, and you go on without it: what you do here lasts until this tab closes. To keep things, allow site data for this address or leave private browsing, then load the page again.';

/** The store returns craft by id; the demo's own order comes first, then the others by name. */
function inDemoOrder(crafts: readonly Craft[]): Craft[] {
  const place = (c: Craft) => demoFleet.findIndex((d) => d.id === c.id);
  const rank = (c: Craft) => (place(c) < 0 ? demoFleet.length : place(c));
  return [...crafts].sort((a, b) => rank(a) - rank(b) || a.name.localeCompare(b.name));
}
