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
import {ProblemError, type Problem} from '@core/problem';
import {idleLine} from '@core/sheets/spin/motor-card';
import {motionProof, verdictOnCard, type MotionMeasure} from '@core/spin/verdict/motion-proof';
import {knownTimings} from '@core/spin/verdict/known-timings';
import {suggestedIdle} from '@core/spin/verdict/suggested-idle';
import type {CancelSignal} from '@core/spin/hold/lease';
import {runScript} from '@core/spin/script/run-script';
import type {Script} from '@core/spin/script/script';
import {
  canProveMotion,
  heldSeconds,
  scriptOf,
  usualChoice,
  type ScriptChoice,
  type Turned,
} from '@core/spin/script/script-choices';
import {everyCard, scriptRun, type ScriptRun} from '@core/spin/script/script-run';
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

/** What was measured just now. */
interface Recorded {
  readonly run: MotionRun & Pick<KeptRun, 'source'>;
  /** What ended it early. */
  readonly endedBy: Problem | undefined;
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
    const clock = inject(CLOCK);
    return {
      /** Runs a script, lists the run as the newest, and keeps it. */
      async _record(held: ScriptRun, cancel: CancelSignal, onShare?: (share: number) => void): Promise<Recorded> {
        const craft = fleet.current()!;
        const asked = scriptRun({...held, allOutputs: bench.hello()?.outputs}, craft, record.found());
        const {trace, source, rateHz, alone, endedBy} = await runScript(bench.requireClient(), {
          ...{...asked, clock, cancel},
          onAlone: (output) => patchState(store, {alone: output}),
          onProgress: (share, throttle) => {
            onShare?.(share);
            patchState(store, {share, throttle, alone: undefined});
          },
          onReading: (reading) => patchState(store, {reading, share: undefined, throttle: 0}),
        });
        const {outputs, poles} = asked;
        const about = {
          ...{id: crypto.randomUUID(), craftId: craft.id, script: held.choice.name, outputs, at: Date.now()},
          ...{source, rateHz, poles},
        };
        const run = {...about, alone, trace, report: reportOn(trace, {poles, timings: store._timings()})};
        patchState(store, ({listed}) => ({
          ...{run, before: store.own(), problem: endedBy},
          listed: [about, ...listed].slice(0, maxRuns),
        }));
        return {run, endedBy};
      },
      _rest: () => patchState(store, {share: undefined, reading: undefined, throttle: 0, alone: undefined}),
    };
  }),
  withMethods((store, fleet = inject(FleetStore), record = inject(RecordStore)) => {
    const [bench, moment] = [inject(BenchStore), inject(ProofMomentNow)];
    let cancel: {aborted: boolean; why?: Problem | undefined} = {aborted: true};
    /** What a card of every motor proves of the craft; nothing where one was left out or the hold ended early. */
    const prove = ({run, endedBy}: Recorded): void => {
      if (!canProveMotion(store._turned(run.outputs)) || endedBy || !bench.moment()) return;
      const verdict = verdictOnCard(run, fleet.current()!, record.found());
      const proof = motionProof(verdict, moment.escs(), {...moment.of('motion'), at: run.at});
      if (proof) record.addProofs([proof]);
    };
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
          const recorded = await store._record({choice: store.choice(), cap: bench.cap(), outputs}, own);
          prove(recorded);
          await store._keep(recorded.run);
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          patchState(store, {problem: error.problem});
        } finally {
          release?.();
          store._rest();
        }
      },
      letGo(): void {
        cancel.aborted = true;
      },
      /** A card of every motor under a hold that is somebody else's. Rejects when that ended early. */
      async cardOfAll(held: CancelSignal, onShare: (share: number) => void): Promise<MotionMeasure> {
        try {
          const {run, endedBy} = await store._record(everyCard, held, onShare);
          await store._keep(run);
          if (endedBy) throw new ProblemError(endedBy);
          return run;
        } finally {
          store._rest();
        }
      },
    };
  }),
);
