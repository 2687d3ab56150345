/** Throttle ends: how a calibration of this visit goes, and what was there before it. */
import {inject} from '@angular/core';
import {patchState, signalStore, withComputed, withHooks, withMethods, withState} from '@ngrx/signals';
import type {Problem} from '@core/problem';
import {throttleRangeSheet, type EndsNow} from '@core/sheets/spin/throttle-range';
import {EndsCalibration} from '@core/spin/sighting/ends-calibration';
import {throttleRange} from '@core/spin/sighting/throttle-range';
import {CLOCK} from '../../bench/page-clock';
import {BenchStore} from '../bench.store';
import {CraftQuestionStore} from '../craft-question.store';
import {FleetStore} from '../fleet.store';
import {RecordStore} from '../record.store';

interface EndsState extends EndsNow {
  readonly problem: Problem | undefined;
}

/** Of the component that provides it: a calibration ends with it. */
export const EndsStore = signalStore(
  withState<EndsState>({phase: undefined, before: [], problem: undefined}),
  withComputed(({phase, before}, questions = inject(CraftQuestionStore)) => ({
    sheet: questions.sheet((q) => throttleRangeSheet(q, {phase: phase(), before: before()})),
  })),
  withMethods((store) => {
    const [bench, clock] = [inject(BenchStore), inject(CLOCK)];
    const [fleet, record] = [inject(FleetStore), inject(RecordStore)];
    let calibration: EndsCalibration | undefined;
    return {
      begin(): void {
        const release = bench.takeWires('measurement');
        if (!release) return;
        const {ends} = throttleRange(record.found(), fleet.current()!.arms.length);
        patchState(store, {problem: undefined, before: ends});
        calibration = new EndsCalibration({
          client: bench.requireClient(),
          clock,
          isPowered: () => bench.isPowered(),
          onPhase: (phase) => patchState(store, {phase}),
          onEnd: (problem) => {
            release();
            patchState(store, (now) => ({problem, phase: now.phase === 'done' ? now.phase : undefined}));
          },
        });
      },
      end: (): void => calibration?.end(),
      clearProblem: () => patchState(store, {problem: undefined}),
    };
  }),
  withHooks({onDestroy: (store) => store.end()}),
);
