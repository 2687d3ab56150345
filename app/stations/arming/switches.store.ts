/** Switches: planned, changed, and made by moving one. */
import {inject} from '@angular/core';
import {patchState, signalStore, withComputed, withHooks, withMethods, withState} from '@ngrx/signals';
import {sticks} from '@core/arming/channels';
import {SwitchWatch} from '@core/arming/switch-watch';
import type {ReceiverFrame} from '@core/link/operations';
import {armingConfigs, armingField} from '@core/sheets/arming/arming';
import {switchesSheet, type Switch, type SwitchUse} from '@core/sheets/arming/switches';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {CockpitFeed} from './cockpit-feed';

interface SwitchesState {
  /** What the switch that is made will do. */
  readonly use: SwitchUse;
  /** A hand is to move it. */
  readonly isWatching: boolean;
}

/** Of the component that provides it. */
export const SwitchesStore = signalStore(
  withState<SwitchesState>({use: 'arm', isWatching: false}),
  withComputed((_, questions = inject(CraftQuestionStore), feed = inject(CockpitFeed)) => ({
    sheet: questions.sheet((q) => switchesSheet(q, {us: feed.us(), isArmed: feed.armed(), blocks: feed.blocks()})),
  })),
  withMethods((store) => {
    const [fleet, feed, questions] = [inject(FleetStore), inject(CockpitFeed), inject(CraftQuestionStore)];
    let watch: SwitchWatch | undefined;
    const planned = (): readonly Switch[] => armingField(questions.judged()!, 'switches').planned;
    const plan = (switches: readonly Switch[]) => fleet.setController({switches: [...switches]});
    const stop = () => {
      watch = undefined;
      patchState(store, {isWatching: false});
    };
    return {
      stop,
      setUse: (use: SwitchUse): void => patchState(store, {use}),
      begin(): void {
        const {receiver} = armingConfigs(questions.judged()!).planned;
        // A hand may be quicker than the next frame: what is seen now is where the switch stood.
        const now = feed.us();
        watch = new SwitchWatch(
          sticks.map((stick) => receiver?.[stick] ?? 0),
          now.length ? now : undefined,
        );
        patchState(store, {isWatching: true});
      },
      take(frame: ReceiverFrame): void {
        watch?.feed(frame);
        const place = watch?.result;
        if (!place) return;
        plan([...planned(), {use: store.use(), ...place}]);
        stop();
      },
      change: (index: number, changes: Partial<Switch>): void =>
        plan(planned().map((s, i) => (i === index ? {...s, ...changes} : s))),
      remove: (index: number): void => plan(planned().filter((_, i) => i !== index)),
    };
  }),
  withHooks((store, feed = inject(CockpitFeed)) => ({onDestroy: feed.onFrame((frame) => store.take(frame))})),
);
