/** The work order: built from plan and found, carried out, stopped, resumed. */
import {Injector, computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withProps, withState} from '@ngrx/signals';
import {ProblemError, success, type Problem, type Result} from '@core/problem';
import {stepState, type JournalEntry, type StepState} from '@core/run/journal';
import type {ReplyMeasure} from '@core/replies/replies';
import type {Found} from '@core/bench/found';
import type {Change, Outcome, Progress} from '@core/run/runner';
import {snapshotOfFound} from '@core/snapshot/snapshot';
import type {CancelSignal} from '@core/spin/hold/lease';
import {measureReplies} from '@core/spin/replies/measure-replies';
import {replyQuestion} from '@core/spin/replies/reply-question';
import {escsOfPlan, judgePlan, plannedEscs} from '@core/compare/rules/judge-plan';
import {heldNow, type Finding, type PlannedEsc} from '@core/compare/rules/rule';
import type {StepKind} from '@core/order/steps';
import {controllerBoardOf} from '@core/order/controller-work';
import {writtenBy} from '@core/run/resume/written-by';
import {orderAbout} from '@core/order/order-name';
import {makeRollBack, makeWorkOrder} from '@core/run/order/make-order';
import type {WorkOrder} from '@core/order/work-order';
import type {WorkNow} from '@core/sheets/order/work-now';
import {browserJournal, database, stored, type KeptOrder} from '../store/database';
import {duringOrder} from '../store/store-lock';
import {BenchStore} from './bench.store';
import {CraftChange} from './craft-change';
import {FleetStore} from './fleet.store';
import {CLOCK} from '../bench/page-clock';
import {HeldMeasure, type Measuring} from './held-measure';
import {CraftQuestionStore} from './craft-question.store';
import {PlanEdits} from './plan-edits';
import {RecordStore} from './record.store';
import {ShelfStore} from './shelf.store';
import {StoreNotices} from './store-notices';

interface WorkState {
  /** The order being carried out, or stopped and not resumed yet. */
  readonly open: KeptOrder | undefined;
  readonly journal: readonly JournalEntry[];
  readonly running: boolean;
  readonly progress: Progress | undefined;
  /** The last word of every step at work, by step: writes to different ESCs run side by side. */
  readonly working: Readonly<Record<string, Progress>>;
  readonly paused: boolean;
  /** Outputs whose planned image is to be written again in full. */
  readonly rewrite: readonly number[];
  /** Outputs left out of the next order. */
  readonly leave: readonly number[];
  /** Kinds of step left out of the next order. */
  readonly leaveSteps: readonly StepKind[];
  /** A roll-back that was chosen in the Logbook and waits to be carried out. */
  readonly rollBack: WorkOrder | undefined;
  readonly problem: Problem | undefined;
  /** What was changed between stop and resume, for a person to decide about. */
  readonly changes: readonly Change[];
  readonly finished: WorkOrder | undefined;
  /** After a roll-back a person said that the plan stays. */
  readonly keepsPlan: boolean;
}

/** Nothing of any order. */
const noOrder = {
  ...{open: undefined, journal: [], working: {}, problem: undefined, changes: [], finished: undefined},
  ...{keepsPlan: false, rewrite: [], leave: [], leaveSteps: [], rollBack: undefined},
};

export const WorkStore = signalStore(
  {providedIn: 'root'},
  withState<WorkState>({
    open: undefined,
    journal: [],
    running: false,
    progress: undefined,
    working: {},
    paused: false,
    rewrite: [],
    leave: [],
    leaveSteps: [],
    rollBack: undefined,
    problem: undefined,
    changes: [],
    finished: undefined,
    keepsPlan: false,
  }),
  withComputed(() => ({
    _measured: inject(CraftQuestionStore).measured,
    /** Share of what is measured while a person holds. */
    holding: inject(HeldMeasure).share.asReadonly(),
  })),
  withComputed((store, fleet = inject(FleetStore), record = inject(RecordStore), shelf = inject(ShelfStore)) => ({
    /** What would be done now; undefined without a survey. */
    draft: computed((): Result<WorkOrder> | undefined => {
      const [craft, found] = [fleet.current(), record.found()];
      if (!craft || !found || record.craftId() !== craft.id) return undefined;
      const back = store.rollBack();
      if (back) return success(back);
      // The shelf's images are read one after the other: the order follows them.
      shelf.images();
      const built = makeWorkOrder({
        id: 'draft',
        at: found.at,
        craft,
        found,
        imageFor: shelf.imageFor(craft),
        controllerImage: shelf.controllerImage(craft, controllerBoardOf(found, craft)?.board),
        rewrite: store.rewrite(),
        leave: store.leave(),
        leaveSteps: store.leaveSteps(),
        measured: store._measured(),
        sightings: record.sightings(),
        board: shelf.boardOf(craft),
        releases: shelf.catalogue()?.releases,
      });
      // While the shelf is being read, a missing image is no news yet.
      return !built.ok && built.problem.code === 'no-image' && shelf.loading() ? undefined : built;
    }),
    /** ESCs as the plan wants them: on what was found, else on the board of the craft. */
    plannedEscs: computed((): readonly PlannedEsc[] => {
      const [craft, found] = [fleet.current(), record.found()];
      if (!craft) return [];
      shelf.images();
      if (found && record.craftId() === craft.id) return plannedEscs(craft, found, shelf.imageFor(craft));
      const board = shelf.catalogue()?.boards.find((b) => b.name === craft.escBoard);
      return escsOfPlan(craft, board && {board: board.name, chip: board.chip, deadTimeNs: board.deadTimeNs});
    }),
    stepStates: computed((): Readonly<Record<string, StepState>> => {
      const entries = store.journal();
      return Object.fromEntries((store.open()?.order.steps ?? []).map((s) => [s.id, stepState(entries, s.id)]));
    }),
  })),
  withComputed((store) => ({
    /** What the sheets ask of the orders. */
    now: computed((): WorkNow => ({
      ...{last: store.finished(), open: store.open(), isRunning: store.running(), draft: store.draft()},
      ...{keepsPlan: store.keepsPlan(), journal: store.journal(), stepStates: store.stepStates()},
      ...{progress: store.progress(), working: store.working(), problem: store.problem()},
    })),
  })),
  withComputed((store, fleet = inject(FleetStore), record = inject(RecordStore), shelf = inject(ShelfStore)) => ({
    /** Rules the plan breaks, refusals first. */
    findings: computed((): readonly Finding[] => {
      const craft = fleet.current();
      if (!craft) return [];
      const sightings = record.craftId() === craft.id ? record.sightings() : [];
      const found = record.found();
      const processor = found?.controller?.identity;
      const held = heldNow(found);
      const [escs, board, releases] = [store.plannedEscs(), shelf.boardOf(craft), shelf.catalogue()?.releases];
      return judgePlan({craft, escs, sightings, processor, held, board, releases});
    }),
  })),
  withProps(() => ({
    _hands: {
      /** Ends the order that is under way. */
      cancel: {aborted: false},
    },
  })),
  withMethods((store, fleet = inject(FleetStore), record = inject(RecordStore)) => {
    /** Keeps under `id`, or one of its own, what was found of the craft of an order. */
    const keep = async (
      order: WorkOrder,
      found: Found,
      about: {readonly id: string; readonly name: string; readonly at: Date},
    ) => {
      const craft = fleet.crafts().find((c) => c.id === order.craftId);
      const snapshot = snapshotOfFound(found, {...about, craft: craft?.name ?? '', at: about.at.toISOString()});
      await stored(database.snapshots.put({...snapshot, craftId: order.craftId}));
    };
    return {
      _refreshJournal: async (orderId: string) => patchState(store, {journal: await browserJournal.entries(orderId)}),
      async _setState(order: WorkOrder, state: KeptOrder['state']): Promise<void> {
        const kept: KeptOrder = {id: order.id, craftId: order.craftId, state, order};
        await stored(database.orders.put(kept));
        patchState(store, {open: state === 'finished' || state === 'given up' ? undefined : kept});
      },
      /** What the craft held before an order, under the order's own id: resumed orders keep their first one. */
      async _keepSnapshot(order: WorkOrder): Promise<void> {
        if (await stored(database.snapshots.get(order.id))) return;
        await keep(order, order.found, {
          ...{id: order.id, name: `before ${orderAbout(order)}`},
          at: new Date(order.createdAt),
        });
      },
      /** What someone put there between stop and resume, before the order overwrites it. */
      _keepMeanwhile: (order: WorkOrder) => (found: Found) =>
        keep(order, found, {
          ...{id: crypto.randomUUID(), name: `before going on with ${orderAbout(order)}`},
          at: new Date(),
        }),
      /** Route and stations follow the order as it goes: what is written voids, what is proven counts at once. */
      _follow(order: WorkOrder, entry: JournalEntry): void {
        if (entry.proof) record.addProofs([entry.proof]);
        const step = order.steps.find((s) => s.id === entry.stepId);
        if (entry.event === 'begin' && step)
          for (const what of writtenBy(order, step)) record.noteWritten(what, entry.at);
      },
    };
  }),
  withMethods((store, fleet = inject(FleetStore), bench = inject(BenchStore), record = inject(RecordStore)) => {
    const [held, clock] = [inject(HeldMeasure), inject(CLOCK)];
    const replies: Measuring<ReplyMeasure[]> = (cancel, onProgress) =>
      measureReplies(bench.requireClient(), {
        ...replyQuestion(fleet.current()!, record.found()),
        ...{clock, cancel, onProgress},
      });
    return {
      hold: () => held.press(),
      release: () => held.letGo(),
      /** Replies at all levels, hold first. */
      measure: (stopped: CancelSignal): Promise<ReplyMeasure[]> =>
        held.measure(replies, {stopped, isWithinOrder: store.running()}),
      _replies: replies,
      /** Within an order: waits for a hold, and again where it ended too early. */
      _whileHeld: <T>(stopped: CancelSignal, measuring: Measuring<T>): Promise<T> =>
        held.waitAndMeasure(measuring, {stopped, onEarly: (problem) => patchState(store, {problem})}),
    };
  }),
  withMethods((store, fleet = inject(FleetStore), bench = inject(BenchStore), record = inject(RecordStore)) => {
    const [shelf, injector, clock] = [inject(ShelfStore), inject(Injector), inject(CLOCK)];
    /** What reads a run is loaded when one is measured: the first view needs none of it. */
    const motionStore = async () => injector.get((await import('./spin/motion.store')).MotionStore);
    const pause = {
      get paused() {
        return store.paused();
      },
    };
    /** Runs an order against the bench, with everything it needs from this page. */
    const carry = async (order: WorkOrder, overwrite: ReadonlySet<string>): Promise<Outcome> => {
      await store._setState(order, 'running');
      await store._keepSnapshot(order);
      const {runWorkOrder} = await import('@core/run/runner');
      return runWorkOrder(bench.requireClient(), order, {
        clock,
        today: () => Date.now(),
        journal: {
          ...browserJournal,
          append: async (entry) => {
            await browserJournal.append(entry);
            store._follow(order, entry);
            if (entry.event !== 'page') await store._refreshJournal(order.id);
          },
        },
        ...{session: bench.session() ?? '', replaced: record.replaced()},
        craft: fleet.crafts().find((c) => c.id === order.craftId)!,
        keepSnapshot: store._keepMeanwhile(order),
        keepApplication: (application) => shelf.keepApplication(order.craftId, application),
        onFound: record.setFound,
        overwrite,
        image: shelf.image,
        onProgress: (progress) =>
          patchState(store, ({working}) => ({progress, working: {...working, [progress.stepId]: progress}})),
        measureReplies: (_step, stopped) => store._whileHeld(stopped, store._replies),
        measureMotion: async (_step, stopped) => store._whileHeld(stopped, (await motionStore()).cardOfAll),
        cancel: store._hands.cancel,
        pause,
      });
    };

    return {
      async _carryOut(order: WorkOrder, overwrite: ReadonlySet<string> = new Set()): Promise<void> {
        if (store.running()) return;
        const release = bench.takeWires('order');
        if (!release) return;
        store._hands.cancel = {aborted: false};
        patchState(store, {
          running: true,
          problem: undefined,
          progress: undefined,
          working: {},
          paused: false,
          finished: undefined,
          keepsPlan: false,
          changes: [],
        });
        try {
          const outcome = await duringOrder(() => carry(order, overwrite));
          if (outcome.kind === 'finished') {
            record.setFound(outcome.found);
            await store._setState(order, 'finished');
            patchState(store, {finished: order, rewrite: [], leave: [], leaveSteps: [], rollBack: undefined});
          } else {
            if (outcome.found) record.setFound(outcome.found);
            patchState(store, {problem: outcome.problem, changes: outcome.changes ?? []});
            // A store that fails here too does not hide why the order stopped; a reload finds it as begun.
            await store._setState(order, 'stopped').catch((error: unknown) => {
              if (!(error instanceof ProblemError)) throw error;
            });
          }
        } catch (error) {
          // By now every writer has ended: the runner waits for them whatever fails.
          patchState(store, {problem: error instanceof ProblemError ? error.problem : fault(error)});
          if (!(error instanceof ProblemError)) reportError(error);
        } finally {
          release();
          patchState(store, {running: false, paused: false, progress: undefined});
        }
        await store._refreshJournal(order.id).catch((error: unknown) => {
          if (!(error instanceof ProblemError)) throw error;
        });
      },
    };
  }),
  withMethods((store, fleet = inject(FleetStore), notices = inject(StoreNotices)) => {
    inject(CraftChange).onOther(() => {
      // An order that runs goes on, and is shown, whichever craft is looked at.
      if (!store.running()) patchState(store, noOrder);
    });
    return {
      /** Finds an order of this craft that was begun and not finished, after a reload. */
      async load(craftId: string): Promise<void> {
        if (store.running()) return;
        const unread = notices.unread('Work orders of this craft, and whether one was interrupted,');
        const kept = (await database.orders.where({craftId}).toArray().catch(unread)) ?? [];
        const open = kept.find((o) => o.state === 'running' || o.state === 'stopped');
        if (fleet.currentId() !== craftId || store.running()) return;
        patchState(store, {...noOrder, open});
        if (open) await store._refreshJournal(open.id).catch(notices.unread('The journal of the interrupted order'));
      },
      async start(): Promise<void> {
        const draft = store.draft();
        if (!draft?.ok || !draft.value.steps.length) return;
        await store._carryOut({...draft.value, id: crypto.randomUUID(), createdAt: Date.now()});
      },
      /** Goes on; with `overwrite`, over what was changed meanwhile and shown. */
      async resume({overwrite = false} = {}): Promise<void> {
        const open = store.open();
        if (open) await store._carryOut(open.order, new Set(overwrite ? store.changes().map((c) => c.key) : []));
      },
      /** Stops after the page being written. */
      stop(): void {
        store._hands.cancel.aborted = true;
      },
      /** Puts a stopped order away; its journal stays. */
      async giveUp(): Promise<void> {
        const open = store.open();
        if (open && !store.running()) await store._setState(open.order, 'given up');
        patchState(store, {problem: undefined, changes: []});
      },
      dismissProblem: () => patchState(store, {problem: undefined}),
    };
  }),
  withMethods((store, fleet = inject(FleetStore), record = inject(RecordStore), shelf = inject(ShelfStore)) => {
    const edits = inject(PlanEdits);
    return {
      /** Waits after the page being written, or goes on. */
      togglePause: () => patchState(store, ({paused}) => ({paused: !paused})),
      /** Marks an ESC whose planned image is written again in full, or takes the mark back. */
      toggleRewrite: (output: number) => patchState(store, ({rewrite}) => ({rewrite: toggled(rewrite, output)})),
      /** Leaves an ESC out of the next order, or takes it in again. */
      toggleLeave: (output: number) => patchState(store, ({leave}) => ({leave: toggled(leave, output)})),
      /** Leaves a kind of step out of the next order, or takes it in again. */
      toggleLeaveStep: (kind: StepKind) =>
        patchState(store, ({leaveSteps}) => ({leaveSteps: toggled(leaveSteps, kind)})),
      /** Puts the order that undoes `order` on the docket, or takes it away again. */
      async prepareRollBack(order: WorkOrder): Promise<void> {
        const [craft, found] = [fleet.current(), record.found()];
        if (!craft || !found || store.open()) return;
        try {
          await shelf.keepWhatWasRead(craft.name, order.found);
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          return patchState(store, {problem: error.problem});
        }
        const supply = shelf.supply();
        const back = makeRollBack({id: 'roll-back', at: Date.now(), craft, order, found, supply});
        patchState(store, back.ok ? {rollBack: back.value, problem: undefined} : {problem: back.problem});
      },
      keepPlan: () => patchState(store, {keepsPlan: true}),
      /** After a roll-back the plan says what the craft holds again; undo takes that back. */
      planAsFound(): void {
        edits.adoptAll();
        // A plan has one firmware for all: what a mixed craft cannot be planned as is shown as the steps that are left.
        patchState(store, {keepsPlan: true});
      },
      dropRollBack: () => patchState(store, {rollBack: undefined}),
    };
  }),
);

const fault = (error: unknown): Problem => ({
  code: 'fault',
  place: 'Bidex',
  meaning: `The order stopped on a fault of the program: ${error instanceof Error ? error.message : String(error)}. Nothing writes any more.`,
  remedy: 'Resume: everything is read again. If it stops again, save a backup and report it.',
});

const toggled = <T>(list: readonly T[], item: T): T[] =>
  list.includes(item) ? list.filter((other) => other !== item) : [...list, item];
