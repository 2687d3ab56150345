/** Steps and cuts: what is chosen, what the newest run says, and what a person does with it. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import {foundSetting} from '@core/bench/found';
import {setOnMotors} from '@core/craft/plan-values';
import {reportJson} from '@core/motion/report-json';
import {spinTraceCsv} from '@core/motion/write-trace';
import {motorCardSheet, type CauseLine, type UsableMotor} from '@core/sheets/spin/motor-card';
import {earlierRuns, scriptButton, stepsSheet, type WhichMotor} from '@core/sheets/spin/steps-and-cuts';
import {BenchStore} from './bench.store';
import {CraftQuestionStore} from './craft-question.store';
import {FleetStore} from './fleet.store';
import {MotionStore} from './spin/motion.store';
import {RecordStore} from './record.store';

interface StepsState {
  readonly motor: WhichMotor;
  /** The cap is being raised: what was chosen and why. */
  readonly raising: {readonly cap: number; readonly reason: string} | undefined;
}

/** A file of the run in hand. */
interface RunFile {
  readonly name: string;
  readonly text: string;
}

/** Of the component that provides it. */
export const StepsStore = signalStore(
  withState<StepsState>({motor: 'all', raising: undefined}),
  withComputed(({motor}, questions = inject(CraftQuestionStore)) => {
    const [motion, bench] = [inject(MotionStore), inject(BenchStore)];
    const {judged} = questions;
    return {
      sheet: computed(() => {
        const q = judged();
        const isCapRaised = bench.raisedCap() !== undefined;
        return q && stepsSheet(q, {choice: motion.choice(), motor: motor(), cap: bench.cap(), isCapRaised});
      }),
      button: questions.sheet((q) => {
        const [share, throttle] = [motion.share(), motion.throttle()];
        return scriptButton(q, {share, throttle, alone: motion.alone(), reading: motion.reading()});
      }),
      card: computed(() => {
        const [q, run] = [judged(), motion.own()];
        return q && run && motorCardSheet(q, run);
      }),
      earlierRuns: computed(() => {
        const q = judged();
        return q ? earlierRuns(q, motion.listed(), motion.own()?.id) : [];
      }),
    };
  }),
  withMethods((store) => {
    const [fleet, record] = [inject(FleetStore), inject(RecordStore)];
    const [motion, bench] = [inject(MotionStore), inject(BenchStore)];
    const fileName = (ending: string): string =>
      `${`${fleet.current()!.name} ${motion.own()!.script}`.toLowerCase().replaceAll(' ', '-')}.${ending}`;
    return {
      hold: (): void => void motion.hold(store.sheet()!.outputs),
      chooseMotor: (motor: WhichMotor): void => patchState(store, {motor}),
      /** Opens the question for a higher cap, changes it, or leaves it. */
      askToRaise: (raising: StepsState['raising']): void => patchState(store, {raising}),
      /** The cap is raised for this session, with its reason. */
      raise(): void {
        const {cap, reason} = store.raising() ?? {};
        if (cap === undefined || !reason?.trim()) return;
        bench.raiseCap(cap, reason.trim());
        patchState(store, {raising: undefined});
      },
      /** Plans what cures a cause, on that motor alone. */
      planCure(motor: number, {cure}: CauseLine): void {
        if (!cure) return;
        const {arms, plan} = fleet.current()!;
        const {key, value} = cure;
        const held = foundSetting(record.found(), arms.length, key);
        fleet.setParameter(key, setOnMotors(plan.parameters[key], {held, motors: [motor], value}));
      },
      use: ({motor}: UsableMotor): void => fleet.edit((craft) => ({...craft, motor})),
      csv: (): RunFile => ({name: fileName('csv'), text: spinTraceCsv(motion.own()!.trace)}),
      json(): RunFile {
        const {report, trace} = motion.own()!;
        return {name: fileName('json'), text: JSON.stringify(reportJson(report, trace.notes), null, 1)};
      },
    };
  }),
);
