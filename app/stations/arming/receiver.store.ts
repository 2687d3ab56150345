/** Receiver: moves and sweeps that are looked for, what they showed, and the proof that both together are. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withHooks, withMethods, withState} from '@ngrx/signals';
import {sticks} from '@core/arming/channels';
import {MoveWatch} from '@core/arming/move-watch';
import {SweepWatch} from '@core/arming/sweep-watch';
import type {ReceiverFrame} from '@core/link/operations';
import {armingField} from '@core/sheets/arming/arming';
import {
  receiverSheet,
  receiverVerdict,
  stickChannels,
  type Receiver,
  type ReceiverNow,
} from '@core/sheets/arming/receiver';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {ArmingRecords} from './arming-records';
import {CockpitFeed} from './cockpit-feed';

interface ReceiverState extends Pick<ReceiverNow, 'moved' | 'order' | 'isSweeping'> {
  /** What the sweeps show so far; a new object whenever they show more. */
  readonly swept: {readonly watch: SweepWatch} | undefined;
}

/** Frames between two looks at what the sweeps show: ten times a second are enough for eyes. */
const framesPerLook = 12;

/** Of the component that provides it. */
export const ReceiverStore = signalStore(
  withState<ReceiverState>({moved: undefined, order: undefined, isSweeping: false, swept: undefined}),
  withComputed(({moved, order, isSweeping, swept}) => {
    const [questions, feed] = [inject(CraftQuestionStore), inject(CockpitFeed)];
    /** What was seen, apart from the frame of now. */
    const shown = computed(() => {
      const [watch, q] = [swept()?.watch, questions.judged()];
      const ends = q && watch ? watch.ends(stickChannels(q, order())) : [];
      return {ends, timing: watch?.timing, moved: moved(), order: order(), isSweeping: isSweeping()};
    });
    const now = (): ReceiverNow => ({us: feed.us(), silentMs: feed.silentMs(), ...shown()});
    return {
      sheet: questions.sheet((q) => receiverSheet(q, now())),
      verdict: computed(() => {
        const q = questions.judged();
        return q && receiverVerdict(q, now());
      }),
    };
  }),
  withMethods((store) => {
    const [fleet, records, questions] = [inject(FleetStore), inject(ArmingRecords), inject(CraftQuestionStore)];
    return {
      plan(changes: Partial<Receiver>): void {
        const {planned} = armingField(questions.judged()!, 'receiver');
        fleet.setController({receiver: {...planned, ...changes}});
      },
      /** Keeps what moves and sweeps show together, whichever of them came last. */
      keepVerdict(): void {
        const verdict = store.verdict();
        if (verdict) records.keep('receiver', verdict, store.swept()!.watch.frames);
      },
    };
  }),
  withMethods((store) => {
    let watch: MoveWatch | undefined;
    const stopMoves = () => {
      watch = undefined;
      patchState(store, {moved: undefined});
    };
    return {
      stopMoves,
      beginMoves(): void {
        watch = new MoveWatch();
        patchState(store, {order: undefined, moved: 0});
      },
      takeMove(frame: ReceiverFrame): void {
        if (!watch) return;
        watch.feed(frame);
        patchState(store, {moved: watch.wanted ? sticks.indexOf(watch.wanted) : sticks.length});
        const order = watch.result;
        if (!order) return;
        patchState(store, {order});
        stopMoves();
        store.keepVerdict();
      },
    };
  }),
  withMethods((store) => {
    let watch: SweepWatch | undefined;
    const stopSweeps = () => {
      watch = undefined;
      patchState(store, {isSweeping: false});
    };
    return {
      stopSweeps,
      beginSweeps(): void {
        watch = new SweepWatch();
        patchState(store, {swept: undefined, isSweeping: true});
      },
      takeSweep(frame: ReceiverFrame): void {
        if (!watch) return;
        watch.feed(frame);
        const order = store.order();
        const isDone = watch.isDone(order?.kind === 'found' ? order.channel : undefined);
        if (watch.frames % framesPerLook && !isDone) return;
        patchState(store, {swept: {watch}});
        if (!isDone) return;
        stopSweeps();
        store.keepVerdict();
      },
    };
  }),
  withHooks((store, feed = inject(CockpitFeed)) => ({
    onDestroy: feed.onFrame((frame) => {
      store.takeMove(frame);
      store.takeSweep(frame);
    }),
  })),
);
