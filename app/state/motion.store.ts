/** Scripts that were run on the bench of the craft in hand: what is recorded and what it says. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import {reportOn, type MotionReport} from '@core/motion/report';
import {idleTimingShare} from '@core/motor/desync';
import {ProblemError, type Problem} from '@core/problem';
import {timingAutomatic} from '@core/settings/parameters/special-values';
import {MotionGuard} from '@core/spin/motion-guard';
import {runScript, type Recording} from '@core/spin/run-script';
import {durationOf} from '@core/spin/script';
import {benchCap, scriptNamed, type ScriptName} from '@core/spin/script-choices';
import {CLOCK} from '../bench/clock';
import {BenchStore} from './bench.store';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';

/** A recording with what it says. */
export interface MotionRun {
  readonly craftId: string;
  readonly script: ScriptName;
  /** Outputs that were turned. */
  readonly outputs: readonly number[];
  /** Epoch ms. */
  readonly at: number;
  readonly recording: Recording;
  readonly report: MotionReport;
}

interface MotionState {
  /** Share of the script that has run; undefined while nothing is held. */
  readonly share: number | undefined;
  readonly throttle: number;
  /** Share of the burst that has been read; undefined while none is. */
  readonly reading: number | undefined;
  readonly run: MotionRun | undefined;
  /** The run before it, to be laid over. */
  readonly before: MotionRun | undefined;
  readonly problem: Problem | undefined;
}

/** Currents that a bench is wired for: so much out of the pack, A, for each motor that turns. */
const ampsPerMotor = 25;

export const MotionStore = signalStore(
  {providedIn: 'root'},
  withState<MotionState>({
    share: undefined,
    throttle: 0,
    reading: undefined,
    run: undefined,
    before: undefined,
    problem: undefined,
  }),
  withComputed(({run, before}, fleet = inject(FleetStore)) => {
    const ofCraft = (of: MotionRun | undefined) => (of && of.craftId === fleet.current()?.id ? of : undefined);
    return {
      /** The newest run of the craft in hand. */
      own: computed(() => ofCraft(run())),
      earlier: computed(() => ofCraft(before())),
    };
  }),
  withMethods((store, bench = inject(BenchStore), fleet = inject(FleetStore), record = inject(RecordStore)) => {
    const clock = inject(CLOCK);
    let cancel: {aborted: boolean; why?: Problem | undefined} = {aborted: true};
    const settingsOf = (output: number) => record.found()?.escs.find((e) => e.output === output)?.settings?.values;
    const timingOf = (output: number) => {
      const timing = settingsOf(output)?.timing;
      const {poles, inductanceH} = fleet.current()!.motor;
      return timing === undefined || timing === timingAutomatic ? undefined : {advance: timing, inductanceH, poles};
    };

    const recordNow = async (script: ScriptName, outputs: readonly number[]): Promise<Recording> => {
      const craft = fleet.current()!;
      const {poles, kv} = craft.motor;
      const slowest = Math.min(...outputs.map((o) => idleTimingShare(settingsOf(o)?.timing)));
      return runScript(bench.requireClient(), {
        script: scriptNamed(script, craft.plan.controller.idlePercent / 100, benchCap),
        outputs,
        allOutputs: bench.hello()?.outputs ?? craft.arms.length,
        poles,
        clock,
        cancel,
        guard: new MotionGuard({outputs, poles, seenKv: kv / slowest, mostAmps: ampsPerMotor * outputs.length}),
        onProgress: (share, throttle) => patchState(store, {share, throttle}),
        onReading: (reading) => patchState(store, {reading, share: undefined, throttle: 0}),
      });
    };

    return {
      /** Runs a script while it is held, and says what it showed. */
      async hold(script: ScriptName, outputs: readonly number[]): Promise<void> {
        if (store.share() !== undefined || store.reading() !== undefined) return;
        const own = (cancel = {aborted: false, why: undefined});
        const end = (why?: Problem) => Object.assign(own, {aborted: true, why});
        patchState(store, {problem: undefined, share: 0, throttle: 0});
        let release: (() => void) | undefined;
        try {
          release = bench.beginHold(end, 'measurement');
          const craft = fleet.current()!;
          const recording = await recordNow(script, outputs);
          const {poles} = craft.motor;
          const report = reportOn(recording.trace, {poles, timings: craft.arms.map((_, output) => timingOf(output))});
          const run = {craftId: craft.id, script, outputs, at: Date.now(), recording, report};
          patchState(store, {run, before: store.own(), problem: recording.endedBy});
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          patchState(store, {problem: error.problem});
        } finally {
          release?.();
          patchState(store, {share: undefined, reading: undefined, throttle: 0});
        }
      },
      letGo(): void {
        cancel.aborted = true;
      },
      clearProblem: () => patchState(store, {problem: undefined}),
      secondsOf: (script: ScriptName): number =>
        durationOf(scriptNamed(script, (fleet.current()?.plan.controller.idlePercent ?? 5) / 100, benchCap)),
    };
  }),
);
