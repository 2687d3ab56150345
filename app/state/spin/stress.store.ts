/** Stress runs of the replies on the craft in hand: what is held now, what was counted, and the runs of before. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import type {KeptStress} from '@core/replies/kept-stress';
import {contradicts, loadDisproof} from '@core/spin/replies/reply-proof';
import type {ReplyQuality} from '@core/replies/reply-quality';
import {isProven} from '@core/proof/standing';
import {ProblemError, type Problem} from '@core/problem';
import {MotionGuard} from '@core/spin/hold/motion-guard';
import {guardQuestion, tallyQuestion} from '@core/spin/replies/reply-question';
import {stressReplies, stressScript} from '@core/spin/replies/stress-replies';
import {CLOCK} from '../../bench/page-clock';
import {database} from '../../store/database';
import {refusalText} from '../../store/refusal-text';
import {BenchStore} from '../bench.store';
import {CraftChange} from '../craft-change';
import {FleetStore} from '../fleet.store';
import {RecordStore} from '../record.store';
import {StoreNotices} from '../store-notices';
import {ReplyRecords} from './reply-records';
import {CraftQuestionStore} from '../craft-question.store';

interface StressState {
  /** Share of the run that has passed; undefined while nothing is held. */
  readonly share: number | undefined;
  readonly throttle: number;
  /** What is counted of the run that is held. */
  readonly counting: ReplyQuality | undefined;
  /** Kept runs, the newest first, of the craft that was opened. */
  readonly kept: readonly KeptStress[];
  /** Id of the one that is looked at. */
  readonly shownId: string | undefined;
  readonly problem: Problem | undefined;
  readonly storeFault: string | undefined;
}

/** Runs that are kept with a craft. */
const maxKept = 12;

export const StressStore = signalStore(
  {providedIn: 'root'},
  withState<StressState>({
    ...{share: undefined, throttle: 0, counting: undefined, kept: [], shownId: undefined},
    ...{problem: undefined, storeFault: undefined},
  }),
  withComputed(({kept, shownId, share}, fleet = inject(FleetStore)) => {
    const own = computed(() => kept().filter((run) => run.craftId === fleet.current()?.id));
    return {
      own,
      isHeld: computed(() => share() !== undefined),
      /** The run that is looked at: the chosen one, else the newest. */
      shown: computed(() => own().find((run) => run.id === shownId()) ?? own()[0]),
    };
  }),
  withMethods((store, bench = inject(BenchStore), fleet = inject(FleetStore), record = inject(RecordStore)) => {
    inject(CraftChange).onOther(() => patchState(store, {kept: [], shownId: undefined, problem: undefined}));
    const notices = inject(StoreNotices);
    const route = inject(CraftQuestionStore);
    const replyRecords = inject(ReplyRecords);
    const clock = inject(CLOCK);
    let cancel: {aborted: boolean; why?: Problem | undefined} = {aborted: true};

    const keep = async (run: KeptStress) => {
      patchState(store, ({kept}) => ({kept: [run, ...kept].slice(0, maxKept), shownId: run.id}));
      try {
        await database.stresses.put(run);
        const all = await database.stresses.where({craftId: run.craftId}).sortBy('at');
        await database.stresses.bulkDelete(all.slice(0, -maxKept).map((r) => r.id));
        patchState(store, {storeFault: undefined});
      } catch (error) {
        patchState(store, {storeFault: refusalText(error, 'the run')});
      }
    };

    /** What was lost under load takes the proof of the replies back: it said that none is. */
    const disprove = async (quality: ReplyQuality) => {
      const standing = route.standings()?.replies;
      if (!standing || !isProven(standing) || !contradicts(quality)) return;
      try {
        await replyRecords.keep((on, about) => loadDisproof(quality, on, about));
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        patchState(store, {problem: error.problem});
      }
    };

    return {
      /** Lists the kept runs of the craft in hand. */
      async open(): Promise<void> {
        const craftId = fleet.current()?.id;
        if (craftId === undefined || store.own().length) return;
        const rows =
          (await database.stresses.where({craftId}).sortBy('at').catch(notices.unread('Earlier runs under load'))) ??
          [];
        if (fleet.current()?.id === craftId && !store.own().length) patchState(store, {kept: rows.reverse()});
      },
      show: (shownId: string) => patchState(store, {shownId}),
      /** Runs while it is held, and tells when all motors are at work; what was counted is kept, however it ends. */
      async hold(seconds: number, onFullLoad?: () => void): Promise<void> {
        const craft = fleet.current();
        const config = record.found()?.controller?.config;
        if (!craft || !config || store.share() !== undefined) return;
        const own: typeof cancel = (cancel = {aborted: false});
        const end = (why?: Problem) => Object.assign(own, {aborted: true, why});
        patchState(store, {problem: undefined, share: 0, throttle: 0, counting: undefined});
        let release: (() => void) | undefined;
        let counted: ReplyQuality | undefined;
        try {
          release = bench.beginHold(end, 'measurement');
          const top = bench.cap();
          const question = tallyQuestion(craft, record.found(), bench.power()?.volts ?? 0);
          const {quality, endedBy} = await stressReplies(bench.requireClient(), {
            ...{clock, cancel: own, question, onFullLoad},
            script: stressScript(craft.plan.controller.idlePercent / 100, top, seconds, craft.arms.length),
            guard: new MotionGuard(guardQuestion(craft, record.found(), Array.from(craft.arms.keys()))),
            onProgress: (share, throttle) => patchState(store, {share, throttle}),
            onCounted: (counting) => patchState(store, {counting}),
          });
          const {protocol, replies, loopHz} = config;
          await keep({
            ...{id: crypto.randomUUID(), craftId: craft.id, at: Date.now(), plannedS: seconds, top},
            ...{protocol, replies, loopHz, quality, ...(endedBy && {endedBy: endedBy.meaning})},
          });
          if (endedBy && endedBy.code !== 'let-go') patchState(store, {problem: endedBy});
          else counted = quality;
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          patchState(store, {problem: error.problem});
        } finally {
          release?.();
          patchState(store, {share: undefined, throttle: 0, counting: undefined});
        }
        if (counted) await disprove(counted);
      },
      letGo(): void {
        cancel.aborted = true;
      },
      clearProblem: () => patchState(store, {problem: undefined}),
    };
  }),
);
