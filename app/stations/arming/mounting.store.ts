/** Mounting: the poses that are asked of a hand, what they showed, and the accelerometer that is lent for them. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withHooks, withMethods, withState} from '@ngrx/signals';
import {judgeMounting} from '@core/arming/arming-proofs';
import {GestureWatch, gestures} from '@core/arming/gesture-watch';
import {findMounting} from '@core/arming/mounting';
import type {Mounting} from '@core/controller/arming-fields';
import {ProblemError} from '@core/problem';
import {armingField} from '@core/sheets/arming/arming';
import {attitudeShape, mountingSheet, type MountingNow} from '@core/sheets/arming/mounting';
import {BenchStore} from '../../state/bench.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {ArmingRecords} from './arming-records';
import {CockpitFeed, type Reading} from './cockpit-feed';

interface MountingState extends Pick<MountingNow, 'taken' | 'result'> {
  /** The accelerometer was switched on for this and goes off again. */
  readonly isLent: boolean;
}

/** Of the component that provides it: what it lent goes off with it. */
export const MountingStore = signalStore(
  withState<MountingState>({taken: undefined, result: undefined, isLent: false}),
  withComputed(({taken, result}, questions = inject(CraftQuestionStore), feed = inject(CockpitFeed)) => {
    const g = computed(() => feed.reading()?.g);
    return {
      sheet: questions.sheet((q) => mountingSheet(q, {g: g(), taken: taken(), result: result()})),
      shape: questions.sheet((q) => attitudeShape(q, g())),
    };
  }),
  withMethods((store) => {
    const [feed, bench, fleet] = [inject(CockpitFeed), inject(BenchStore), inject(FleetStore)];
    const setAccelerometer = async (on: boolean): Promise<boolean> => {
      try {
        await bench.requireClient().request('controller.set', {accelerometer: on});
        return true;
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        feed.problem.set(error.problem);
        return false;
      }
    };
    return {
      /** Switches the accelerometer on until the controller starts anew, or this view is left. */
      async lend(): Promise<void> {
        if (await setAccelerometer(true)) patchState(store, {isLent: true});
      },
      async giveBack(): Promise<void> {
        if (!store.isLent()) return;
        patchState(store, {isLent: false});
        await setAccelerometer(false);
      },
      plan: (mounting: Mounting): void => fleet.setController({mounting}),
    };
  }),
  withMethods((store, records = inject(ArmingRecords), questions = inject(CraftQuestionStore)) => {
    let watch: GestureWatch | undefined;
    const stop = () => {
      watch = undefined;
      patchState(store, {taken: undefined});
    };
    return {
      stop,
      begin(): void {
        watch = new GestureWatch();
        patchState(store, {result: undefined, taken: 0});
      },
      take({atMs, g}: Reading): void {
        if (!watch) return;
        watch.feed(atMs, g);
        patchState(store, {taken: watch.wanted ? gestures.indexOf(watch.wanted) : gestures.length});
        if (!watch.result) return;
        const [result, {readings}] = [findMounting(watch.result), watch];
        patchState(store, {result});
        stop();
        if (result.kind === 'found') {
          const {set} = armingField(questions.judged()!, 'mounting');
          records.keep('mounting', judgeMounting(result, set), readings);
        }
        void store.giveBack();
      },
    };
  }),
  withHooks((store, feed = inject(CockpitFeed)) => {
    const off = feed.onReading((reading) => store.take(reading));
    return {
      onDestroy(): void {
        off();
        void store.giveBack();
      },
    };
  }),
);
