/** Scripts that were run on the bench of the craft in hand: what is recorded, what it says, and the runs of before. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import type {KeptRun} from '@core/motion/kept-run';
import {traceOfRun} from '@core/motion/kept-run';
import {reportOn, type MotionReport} from '@core/motion/report';
import {readSpinTrace} from '@core/motion/read-trace';
import {usualStep, type SpinTrace} from '@core/motion/trace';
import {spinTraceCsv} from '@core/motion/write-trace';
import {nominalCellVolts} from '@core/motor/model';
import {countOf, isSome} from '@core/proof/proof';
import {ProblemError, type Problem} from '@core/problem';
import {idleLine} from '@core/sheets/spin/motor-card';
import {judgeMotion} from '@core/spin/verdict/judge-motion';
import {knownTimings} from '@core/spin/verdict/known-timings';
import {MotionGuard} from '@core/spin/hold/motion-guard';
import {guardQuestion} from '@core/spin/replies/reply-question';
import {suggestedIdle} from '@core/spin/verdict/suggested-idle';
import type {CancelSignal} from '@core/spin/hold/lease';
import {runScript, type Recording} from '@core/spin/script/run-script';
import type {Script} from '@core/spin/script/script';
import {
  aloneThrottle,
  canProveMotion,
  heldSeconds,
  scriptOf,
  usualChoice,
  type ScriptChoice,
  type Turned,
} from '@core/spin/script/script-choices';
import {database} from '../../store/database';
import {refusalText} from '../../store/refusal-text';
import {CLOCK} from '../../bench/page-clock';
import {BenchStore} from '../bench.store';
import {CraftChange} from '../craft-change';
import {FleetStore} from '../fleet.store';
import {ProofMomentNow} from '../proof-moment';
import {RecordStore} from '../record.store';
import {StoreNotices} from '../store-notices';

/** A recording with what it says. */
export interface MotionRun extends Omit<KeptRun, 'csv' | 'source'> {
  /** A file was not measured here: it is shown, kept nowhere, and proves nothing. */
  readonly source: KeptRun['source'] | 'file';
  readonly trace: SpinTrace;
  readonly report: MotionReport;
}

interface MotionState {
  /** Share of the script that has run; undefined while nothing is held. */
  readonly share: number | undefined;
  readonly throttle: number;
  /** Output that is driven alone before the script. */
  readonly alone: number | undefined;
  /** Share of the burst that has been read; undefined while none is. */
  readonly reading: number | undefined;
  /** Runs of the craft that was opened, the newest first, as they are listed. */
  readonly listed: readonly Omit<KeptRun, 'csv'>[];
  readonly run: MotionRun | undefined;
  /** An earlier run, to be laid under it. */
  readonly before: MotionRun | undefined;
  readonly problem: Problem | undefined;
  readonly storeFault: string | undefined;
}

/** Runs that are kept with a craft. */
const maxRuns = 12;

export const MotionStore = signalStore(
  {providedIn: 'root'},
  withState<MotionState>({
    share: undefined,
    throttle: 0,
    alone: undefined,
    reading: undefined,
    listed: [],
    run: undefined,
    before: undefined,
    problem: undefined,
    storeFault: undefined,
  }),
  withComputed(({run, before}, fleet = inject(FleetStore), record = inject(RecordStore)) => {
    const ofCraft = (of: MotionRun | undefined) => (of && of.craftId === fleet.current()?.id ? of : undefined);
    return {
      /** The newest run of the craft in hand. */
      own: computed(() => ofCraft(run())),
      earlier: computed(() => ofCraft(before())),
      /** The idle that the starts of this craft's motors ask for, from holds and from its newest motor card. */
      idle: computed(() => {
        const craft = fleet.current();
        const own = ofCraft(run());
        if (!craft) return undefined;
        const isCard = own !== undefined && own.source !== 'file' && own.outputs.length === craft.arms.length;
        const card = isCard ? {motors: own.report.motors, at: own.at, alone: own.alone} : undefined;
        const sightings = record.craftId() === craft.id ? record.sightings() : [];
        const idle = suggestedIdle({sightings, motors: craft.arms.length, card});
        return idle && idleLine({craft}, idle);
      }),
      choice: computed((): ScriptChoice => record.script() ?? usualChoice),
    };
  }),
  withComputed((store, fleet = inject(FleetStore), bench = inject(BenchStore)) => ({
    /** The chosen script as it would run now. */
    script: computed((): Script => {
      const idle = (fleet.current()?.plan.controller.idlePercent ?? 5) / 100;
      return scriptOf(store.choice(), idle, bench.cap());
    }),
  })),
  withMethods((store, fleet = inject(FleetStore), record = inject(RecordStore)) => ({
    /** Which motors a run would turn. */
    _turned(outputs?: readonly number[]): Turned {
      const {arms} = fleet.current()!;
      return {choice: store.choice(), outputs: outputs ?? arms.map((_, output) => output), motors: arms.length};
    },
    _timings: () => knownTimings(fleet.current()!, record.found()),
    choose: (changes: Partial<ScriptChoice>) => record.chooseScript({...store.choice(), ...changes}),
    clearProblem: () => patchState(store, {problem: undefined}),
  })),
  withMethods((store, fleet = inject(FleetStore), notices = inject(StoreNotices)) => {
    inject(CraftChange).onOther(() =>
      patchState(store, {listed: [], run: undefined, before: undefined, problem: undefined}),
    );
    const readKept = ({csv, ...run}: KeptRun): MotionRun | undefined => {
      const trace = traceOfRun({csv, poles: run.poles});
      return trace && {...run, trace, report: reportOn(trace, {poles: run.poles, timings: store._timings()})};
    };
    return {
      async _keep({trace, report: _, ...run}: MotionRun & Pick<KeptRun, 'source'>): Promise<void> {
        try {
          await database.runs.put({...run, csv: spinTraceCsv(trace)});
          const all = await database.runs.where({craftId: run.craftId}).sortBy('at');
          await database.runs.bulkDelete(all.slice(0, -maxRuns).map((r) => r.id));
          patchState(store, {storeFault: undefined});
        } catch (error) {
          patchState(store, {storeFault: refusalText(error, 'the run')});
        }
      },
      /** Lists the kept runs of the craft in hand, and opens the newest. */
      async open(): Promise<void> {
        const craftId = fleet.current()?.id;
        if (craftId === undefined || store.own()) return;
        const kept =
          (await database.runs.where({craftId}).sortBy('at').catch(notices.unread('Earlier runs of this craft'))) ?? [];
        if (fleet.current()?.id !== craftId || store.own()) return;
        const newest = kept.at(-1);
        const listed = kept.map(({csv: __, ...run}) => run).reverse();
        patchState(store, {listed, run: newest && readKept(newest), before: undefined});
      },
      /** Shows a trace from a file, with the run in hand laid under it. */
      async openFile(file: File): Promise<void> {
        const craft = fleet.current();
        if (!craft) return;
        const {poles} = craft.motor;
        const read = readSpinTrace(await file.text(), {poles, volts: craft.battery.cells * nominalCellVolts});
        if (!read.ok)
          return patchState(store, {problem: {...read.problem, place: `${file.name}, ${read.problem.place}`}});
        const trace = {...read.value, poles};
        const outputs = trace.motors.map((_, output) => output);
        const about = {id: crypto.randomUUID(), craftId: craft.id, script: file.name, outputs, at: file.lastModified};
        const rateHz = 1 / usualStep(trace.timeS);
        const run = {...about, source: 'file' as const, rateHz, poles, trace, report: reportOn(trace, {poles})};
        const before = store.own();
        patchState(store, {run, before: before?.source === 'file' ? store.earlier() : before, problem: undefined});
      },
      /** Lays a kept run under the newest; undefined takes it away. */
      async compareWith(id: string | undefined): Promise<void> {
        const kept = id === undefined ? undefined : await database.runs.get(id).catch(notices.unread('That run'));
        patchState(store, {before: kept && readKept(kept)});
      },
      /** About how long the chosen script is held for these outputs, s. */
      seconds: (outputs?: readonly number[]): number => heldSeconds(store.script(), store._turned(outputs)),
    };
  }),
  withMethods((store, bench = inject(BenchStore), fleet = inject(FleetStore), record = inject(RecordStore)) => {
    const moment = inject(ProofMomentNow);
    const clock = inject(CLOCK);
    return {
      async _record(outputs: readonly number[], cancel: CancelSignal): Promise<Recording> {
        const craft = fleet.current()!;
        return runScript(bench.requireClient(), {
          script: store.script(),
          outputs,
          allOutputs: bench.hello()?.outputs ?? craft.arms.length,
          poles: craft.motor.poles,
          clock,
          cancel,
          guard: new MotionGuard(guardQuestion(craft, record.found(), outputs)),
          aloneAt: aloneThrottle(store._turned(outputs), craft.plan.controller.idlePercent / 100),
          onAlone: (alone) => patchState(store, {alone}),
          onProgress: (share, throttle) => patchState(store, {share, throttle, alone: undefined}),
          onReading: (reading) => patchState(store, {reading, share: undefined, throttle: 0}),
        });
      },
      /** What a card of every motor proves of the craft; nothing where one was left out or the hold ended early. */
      _prove(run: MotionRun, {endedBy, alone}: Pick<Recording, 'endedBy' | 'alone'>): void {
        const craft = fleet.current()!;
        if (!canProveMotion(store._turned(run.outputs)) || endedBy) return;
        const {
          holds,
          text,
          count: told,
        } = judgeMotion({
          report: run.report,
          labelKv: craft.motor.kv,
          poles: craft.motor.poles,
          isCounted: craft.motor.counted,
          isTimed: store._timings().every((t) => t !== undefined),
          idlePercent: craft.plan.controller.idlePercent,
          alone,
        });
        const on = moment.escs();
        const count = countOf(told);
        if (count === undefined || !isSome(on) || !bench.moment()) return;
        record.addProofs([{...moment.of('motion'), at: run.at, kind: 'motion', holds, text, on, count}]);
      },
    };
  }),
  withMethods((store, bench = inject(BenchStore), fleet = inject(FleetStore)) => {
    let cancel: {aborted: boolean; why?: Problem | undefined} = {aborted: true};
    return {
      /** Runs the chosen script while it is held, and says what it showed. */
      async hold(outputs: readonly number[]): Promise<void> {
        if (store.share() !== undefined || store.reading() !== undefined) return;
        const own = (cancel = {aborted: false, why: undefined});
        const end = (why?: Problem) => Object.assign(own, {aborted: true, why});
        patchState(store, {problem: undefined, share: 0, throttle: 0});
        let release: (() => void) | undefined;
        try {
          release = bench.beginHold(end, 'measurement');
          const craft = fleet.current()!;
          const {trace, source, rateHz, ...ended} = await store._record(outputs, own);
          const {poles} = craft.motor;
          const report = reportOn(trace, {poles, timings: store._timings()});
          const id = crypto.randomUUID();
          const about = {id, craftId: craft.id, script: store.choice().name, outputs, at: Date.now()};
          const run = {...about, source, rateHz, poles, alone: ended.alone, trace, report};
          patchState(store, ({listed}) => ({
            run,
            before: store.own(),
            listed: [{...about, source, rateHz, poles}, ...listed].slice(0, maxRuns),
            problem: ended.endedBy,
          }));
          store._prove(run, ended);
          await store._keep(run);
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          patchState(store, {problem: error.problem});
        } finally {
          release?.();
          patchState(store, {share: undefined, reading: undefined, throttle: 0, alone: undefined});
        }
      },
      letGo(): void {
        cancel.aborted = true;
      },
    };
  }),
);
