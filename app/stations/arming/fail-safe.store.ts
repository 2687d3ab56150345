/** Fail-safe: planned, and tried with motors at idle while a transmitter goes off and comes back. */
import {inject} from '@angular/core';
import {
  patchState,
  signalStore,
  withComputed,
  withHooks,
  withMethods,
  withState,
  type WritableStateSource,
} from '@ngrx/signals';
import {judgeFailSafe} from '@core/arming/arming-proofs';
import {tryFailSafe, type FailSafeTrial, type TrialPhase} from '@core/arming/fail-safe-trial';
import {transmitterBack} from '@core/arming/transmitter-back';
import {ProblemError, type Problem} from '@core/problem';
import {armingField} from '@core/sheets/arming/arming';
import {failSafeSheet, type FailSafe, type FailSafeNow} from '@core/sheets/arming/fail-safe';
import {CLOCK} from '../../bench/page-clock';
import {BenchStore} from '../../state/bench.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {StandInStore} from '../../state/stand-in.store';
import {ArmingRecords} from './arming-records';
import {CockpitFeed} from './cockpit-feed';

interface FailSafeState extends FailSafeNow {
  readonly problem: Problem | undefined;
  /** The simulated hand switches off by itself, as both of a person's hands are taken. */
  readonly isHandReady: boolean;
}

interface Cancel {
  aborted: boolean;
  why: Problem | undefined;
}

/** The simulated hand switches the transmitter off so long after the motors turn, ms. */
const handMs = 1500;
const untried: FailSafeNow = {phase: undefined, trial: undefined, back: undefined};

/** Of the component that provides it: the wait for the transmitter ends with it. */
export const FailSafeStore = signalStore(
  withState<FailSafeState>({...untried, problem: undefined, isHandReady: false}),
  withComputed(({phase, trial, back}, questions = inject(CraftQuestionStore)) => ({
    sheet: questions.sheet((q) => failSafeSheet(q, {phase: phase(), trial: trial(), back: back()})),
  })),
  withMethods((store, fleet = inject(FleetStore), questions = inject(CraftQuestionStore)) => ({
    plan(changes: Partial<FailSafe>): void {
      const {planned} = armingField(questions.judged()!, 'failSafe');
      fleet.setController({failSafe: {...planned, ...changes}});
    },
    turnHand: (): void => patchState(store, {isHandReady: !store.isHandReady()}),
    clearProblem: () => patchState(store, {problem: undefined}),
  })),
  withMethods((store) => {
    const [bench, clock, feed, records] = [
      inject(BenchStore),
      inject(CLOCK),
      inject(CockpitFeed),
      inject(ArmingRecords),
    ];
    const tryIt = trialOf(store);
    let held: Cancel = {aborted: false, why: undefined};
    /** The wait for the transmitter, which no button holds. */
    let waiting = {aborted: true};
    /** What is left needs no hand at the button. */
    const comeBack = async (trial: FailSafeTrial): Promise<void> => {
      patchState(store, {trial, phase: 'back'});
      const cancel = (waiting = {aborted: false});
      const back = await feed.without(() => transmitterBack(bench.requireClient(), {clock, cancel}));
      patchState(store, {back});
      records.keep('fail-safe', judgeFailSafe(trial, back), trial.reports);
    };
    return {
      async hold(): Promise<void> {
        const cancel = (held = {aborted: false, why: undefined});
        patchState(store, {...untried, problem: undefined});
        let release: (() => void) | undefined;
        try {
          release = bench.beginHold((why) => Object.assign(cancel, {aborted: true, why}), 'measurement');
          const trial = await feed.without(() => tryIt(cancel));
          release();
          release = undefined;
          await comeBack(trial);
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          patchState(store, {problem: error.problem});
        } finally {
          release?.();
          patchState(store, {phase: undefined, isHandReady: false});
        }
      },
      letGo: (): void => void (held.aborted = true),
      stopWaiting: (): void => void (waiting.aborted = true),
    };
  }),
  withHooks({onDestroy: (store) => store.stopWaiting()}),
);

/** Motors at idle until the transmitter goes off, with the phases shown, and the simulated hand where it is wanted. */
function trialOf(store: WritableStateSource<FailSafeState> & {readonly isHandReady: () => boolean}) {
  const [bench, clock, fleet, standIn] = [inject(BenchStore), inject(CLOCK), inject(FleetStore), inject(StandInStore)];
  const onPhase = (phase: TrialPhase) => {
    patchState(store, {phase});
    if (phase === 'turns' && store.isHandReady())
      clock.after(handMs, () => void standIn.transmitter({what: 'power', on: false}));
  };
  return (cancel: Cancel): Promise<FailSafeTrial> => {
    const {arms, plan} = fleet.current()!;
    const idle = plan.controller.idlePercent / 100;
    return tryFailSafe(bench.requireClient(), {outputs: arms.length, idle, clock, cancel, onPhase});
  };
}
