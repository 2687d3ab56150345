/** The fleet, the craft in hand and its plan, with undo. */
import {sameJson} from '@core/canonical-json';
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withProps, withState} from '@ngrx/signals';
import type {Craft, PlannedValue} from '@core/craft/craft';
import {withOwnFirmware} from '@core/craft/motor-firmware';
import type {FirmwarePlan} from '@core/firmware/plan/firmware-plan';
import type {ControllerPlan} from '@core/controller/plan';
import {withChangedKnown} from '@core/craft/guesses';
import {demoFleet} from '@demo/craft/fleet';
import type {ParameterKey} from '@core/settings/definitions';
import {CLOCK} from '../bench/page-clock';
import {database} from '../store/database';
import {onto, putCraft, putLateCraft, type HistoryStep} from '../store/craft-table';
import {KeptCollection} from '../store/kept-collection';
import {refusalText, unreadText} from '../store/refusal-text';
import {CraftChange} from './craft-change';
import {StoreMode} from '../store/store-mode';
import {forgetEdit, lateEdit, noteEdit} from '../store/late-edit';
import type {History} from '../store/late-history';

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

/** A read that failed is tried again after so long, ms. */
const tryAgainMs = 2_000;

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
  withMethods((store) => ({
    _refuse: (error: unknown) => patchState(store, {storeFault: refusalText(error, 'the plan')}),
    _history: (): History => ({past: store.past(), future: store.future()}),
  })),
  withMethods((store) => ({
    /** The other tab's craft is on the undo stack, and a sentence says so. */
    _beside(theirs: Craft, conflicts: readonly string[]): void {
      if (store.currentId() === theirs.id) patchState(store, onto(theirs)(store._history()));
      patchState(store, {
        notice: `Another tab changed ${conflicts.join(', ')} of ${theirs.name} at the same moment. Yours is kept; undo brings the other back.`,
      });
    },
    /** Whether what another tab kept is to be taken over here. */
    _isNews: (kept: readonly Craft[]): boolean =>
      // What lives in memory only must not be put back to what the store still has; an empty table is one that is being
      // filled anew.
      !store.storeFault() && kept.length > 0 && !sameJson(inDemoOrder(kept), inDemoOrder(store.crafts())),
  })),
  withProps((store, clock = inject(CLOCK), mode = inject(StoreMode)) => {
    /** The way back as the store has it. Where it cannot be read, steps made here still come onto it in the store. */
    const readHistory = async (id: string): Promise<void> => {
      if (mode.inMemory()) return;
      try {
        const history = await database.histories.get(id);
        if (history && store.currentId() === id && kept.isSettled)
          patchState(store, {past: history.past, future: history.future});
      } catch (error) {
        patchState(store, {storeFault: unreadText(error, 'The way back of this plan')});
        clock.after(tryAgainMs, () => void (store.currentId() === id && readHistory(id)));
      }
    };
    const kept: KeptCollection<Craft, HistoryStep> = new KeptCollection<Craft, HistoryStep>({
      put: async (edit, agreed) => {
        const put = await putCraft(edit, agreed);
        if (put.conflicts.length && put.theirs) store._beside(put.theirs, put.conflicts);
        return put;
      },
      read: () => database.craft.toArray(),
      onNews: (rows) => {
        if (!store._isNews(rows)) return;
        const id = store.currentId();
        const [before, now] = [store.current(), rows.find((c) => c.id === id)];
        kept.agree(rows);
        patchState(store, {crafts: inDemoOrder(rows)});
        if (id !== undefined && !sameJson(before, now)) void readHistory(id);
      },
      onKept: (edited, {value, tookOver}, merge) => {
        forgetEdit(JSON.stringify(edited));
        patchState(store, {storeFault: undefined});
        if (tookOver)
          patchState(store, ({crafts}) => ({crafts: crafts.map((c) => (c.id === value.id ? merge(c) : c))}));
      },
      onFault: store._refuse,
    });
    return {_kept: kept, _readHistory: readHistory};
  }),
  withMethods((store, mode = inject(StoreMode)) => ({
    /** An edit on its way to the store, noted at once. */
    _keep(craft: Craft, step?: HistoryStep): void {
      if (mode.inMemory()) return;
      noteEdit(craft);
      store._kept.keep(craft, step);
    },
  })),
  withMethods((store) => ({
    /** @param step what it does to the way back, here and in the store. */
    _replace(craft: Craft, step: HistoryStep): void {
      patchState(store, ({crafts}) => ({
        crafts: crafts.map((c) => (c.id === craft.id ? craft : c)),
        ...step(store._history()),
      }));
      store._keep(craft, step);
    },
  })),
  withMethods((store) => ({
    edit(change: (craft: Craft) => Craft): void {
      const before = store.current();
      if (!before) return;
      // Whatever changes a part, an entry or a measurement, it is no guess any more.
      const after = withChangedKnown(before, change(before));
      if (!sameJson(after, before)) store._replace(after, onto(before));
    },
    undo(): void {
      const [before, now] = [store.past().at(-1), store.current()];
      if (!before || !now) return;
      store._replace(before, ({past, future}) => ({past: past.slice(0, -1), future: [now, ...future]}));
    },
    redo(): void {
      const [after, now] = [store.future()[0], store.current()];
      if (!after || !now) return;
      store._replace(after, ({past, future}) => ({past: [...past, now], future: future.slice(1)}));
    },
  })),
  withMethods((store, clock = inject(CLOCK), mode = inject(StoreMode)) => {
    const craftChange = inject(CraftChange);
    return {
      /** Reads the fleet; a first visit finds the craft of the demo. */
      async load(): Promise<void> {
        if (store.loaded() || mode.inMemory()) return;
        try {
          // An edit that a reload overtook on its way to the store comes first.
          const late = lateEdit();
          if (late) await putLateCraft(late.craft);
          late?.forget();
          const kept = await database.craft.toArray();
          store._kept.agree(kept.length ? kept : demoFleet);
          patchState(store, {
            crafts: kept.length ? inDemoOrder(kept) : demoFleet,
            loaded: true,
            unread: false,
            storeFault: undefined,
          });
          // What was read and holds nothing is a first visit.
          if (!kept.length) await database.craft.bulkPut([...demoFleet]);
          store._kept.follow();
        } catch (error) {
          if (store.loaded()) return store._refuse(error);
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
        void store._readHistory(id);
      },
    };
  }),
  withMethods((store) => ({
    dismissNotice: () => patchState(store, {notice: undefined}),
    /** Takes a new craft into the fleet and keeps it. */
    add(craft: Craft): void {
      patchState(store, ({crafts}) => ({crafts: [...crafts, craft]}));
      store._keep(craft);
    },
    /** Puts a craft away or takes it back; everything of it is kept. */
    setArchived(id: string, archived: boolean): void {
      const craft = store.crafts().find((c) => c.id === id);
      if (!craft) return;
      const changed = {...craft, archived};
      patchState(store, ({crafts}) => ({crafts: crafts.map((c) => (c.id === id ? changed : c))}));
      store._keep(changed);
    },
    setParameter(key: ParameterKey, value: PlannedValue): void {
      store.edit((c) => ({...c, plan: {...c.plan, parameters: {...c.plan.parameters, [key]: value}}}));
    },
    /** Takes a parameter out of the plan: every ESC keeps what it holds. */
    clearParameter(key: ParameterKey): void {
      store.edit((c) => {
        const parameters = Object.fromEntries(Object.entries(c.plan.parameters).filter(([name]) => name !== key));
        return {...c, plan: {...c.plan, parameters}};
      });
    },
    setController(changes: Partial<ControllerPlan>): void {
      store.edit((c) => ({...c, plan: {...c.plan, controller: {...c.plan.controller, ...changes}}}));
    },
    setFirmware(firmware: FirmwarePlan): void {
      store.edit((c) => ({...c, plan: {...c.plan, firmware}}));
    },
    /** Firmware for one motor alone, or that of the craft again. */
    setOwnFirmware(motor: number, firmware: FirmwarePlan | undefined): void {
      store.edit((c) => ({...c, plan: withOwnFirmware(c.plan, motor, firmware)}));
    },
  })),
);

const memoryText =
  'The store of this browser cannot be read, and you go on without it: what you do here lasts until this tab closes. To keep things, allow site data for this address or leave private browsing, then load the page again.';

/** The store returns craft by id; the demo's own order comes first, then the others by name. */
function inDemoOrder(crafts: readonly Craft[]): Craft[] {
  const place = (c: Craft) => demoFleet.findIndex((d) => d.id === c.id);
  const rank = (c: Craft) => (place(c) < 0 ? demoFleet.length : place(c));
  return [...crafts].sort((a, b) => rank(a) - rank(b) || a.name.localeCompare(b.name));
}
