/** Levelling: what the accelerometer measures while the craft rests, kept as a proof where the plan is what is set. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withHooks, withMethods, withState} from '@ngrx/signals';
import {judgeLevel, RestWatch} from '@core/arming/levelling';
import {armingField} from '@core/sheets/arming/arming';
import {levellingSheet, type LevellingNow} from '@core/sheets/arming/levelling';
import {withPlannedSettings, type SettingEdits} from '@core/sheets/parameters/held-settings';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {ArmingRecords} from './arming-records';
import {CockpitFeed, type Reading} from './cockpit-feed';

type LevellingState = Pick<LevellingNow, 'share' | 'result'>;

/** Of the component that provides it. */
export const LevellingStore = signalStore(
  withState<LevellingState>({share: undefined, result: undefined}),
  withComputed(({share, result}, questions = inject(CraftQuestionStore), feed = inject(CockpitFeed)) => {
    const isRead = computed(() => feed.reading() !== undefined);
    return {
      sheet: questions.sheet((q) => levellingSheet(q, {isRead: isRead(), share: share(), result: result()})),
    };
  }),
  withMethods((store, records = inject(ArmingRecords), questions = inject(CraftQuestionStore)) => {
    const fleet = inject(FleetStore);
    let watch: RestWatch | undefined;
    return {
      begin(): void {
        watch = new RestWatch();
        patchState(store, {share: 0, result: undefined});
      },
      stop(): void {
        watch = undefined;
        patchState(store, {share: undefined});
      },
      take({atMs, g}: Reading): void {
        if (!watch) return;
        watch.feed(atMs, g);
        const {result, share} = watch;
        patchState(store, {share});
        if (!result) return;
        watch = undefined;
        patchState(store, {share: undefined, result});
        const {set} = armingField(questions.judged()!, 'mounting');
        records.keep('level', judgeLevel(result, set), result.readings);
      },
      plan(edits: SettingEdits): void {
        const q = questions.judged()!;
        fleet.edit((craft) => withPlannedSettings(craft, q, edits));
      },
    };
  }),
  withHooks((store, feed = inject(CockpitFeed)) => ({onDestroy: feed.onReading((reading) => store.take(reading))})),
);
