/** One output after the other held turning: the hold of now, what it measured, and whose answer is open. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withHooks, withMethods, withState} from '@ngrx/signals';
import {foundEsc, foundSetting} from '@core/bench/found';
import {setOnMotors} from '@core/craft/plan-values';
import {ProblemError, type Problem} from '@core/problem';
import {sightingQuestion} from '@core/route/standings';
import {holdButton, spinOrderSheet, type SpinHold} from '@core/sheets/spin/spin-order';
import {HoldSession, type HoldTrace} from '@core/spin/hold/hold-session';
import {
  measuredIn,
  nextOutput,
  planFromSighting,
  sightingFromAnswer,
  type Sighting,
  type SightingAnswer,
} from '@core/spin/sighting/sighting';
import type {SpeedSample} from '@core/spin/hold/speed-sample';
import {adviceOn, type Advice, type UnexpectedKind} from '@core/spin/script/unexpected';
import {CLOCK} from '../../bench/page-clock';
import {BenchStore} from '../bench.store';
import {CraftQuestionStore} from '../craft-question.store';
import {FleetStore} from '../fleet.store';
import {RecordStore} from '../record.store';

/** What to try, where something else was seen than one motor that turns. */
type OutputAdvice = Advice & {readonly output: number; readonly kind: UnexpectedKind};

interface HoldState extends SpinHold {
  /** Commanded, 0…1. */
  readonly throttle: number;
  /** Pulses at which the held output began to turn, µs. */
  readonly startsSeen: readonly number[];
  readonly traces: Readonly<Record<number, readonly SpeedSample[]>>;
  readonly advice: OutputAdvice | undefined;
  /** Why the last hold ended, where it was not just let go. */
  readonly problem: Problem | undefined;
}

/** Of the component that provides it: what is held ends with it. */
export const SpinHoldStore = signalStore(
  withState<HoldState>({
    ...{output: 0, isHeld: false, isAsking: false, throttle: 0, startsSeen: [], traces: {}},
    ...{advice: undefined, problem: undefined},
  }),
  withComputed((store, questions = inject(CraftQuestionStore)) => {
    const hold = computed((): SpinHold => ({
      ...{output: store.output(), isHeld: store.isHeld(), isAsking: store.isAsking()},
    }));
    const sheet = questions.sheet((q) => spinOrderSheet(q, hold()));
    return {
      sheet,
      /** Apart from the sheet: a step of the throttle judges no sighting again. */
      button: questions.sheet((q) => holdButton(q, hold(), {throttle: store.throttle(), top: sheet()!.top})),
    };
  }),
  withMethods((store) => {
    const [bench, clock, fleet] = [inject(BenchStore), inject(CLOCK), inject(FleetStore)];
    const [record, questions] = [inject(RecordStore), inject(CraftQuestionStore)];
    let session: HoldSession | undefined;
    let measured: HoldTrace | undefined;
    const show = ({output, samples, startsUs}: HoldTrace) =>
      patchState(store, ({traces}) => ({traces: {...traces, [output]: samples}, startsSeen: startsUs}));
    /** A trace that is complete. One that was answered while the motor still coasted brings its coast-down after. */
    const keep = (trace: HoldTrace) => {
      measured = trace;
      show(trace);
      const seen = record.sightings().find((s) => s.output === trace.output && s.coastDownS === undefined);
      if (seen && !(store.isAsking() && store.output() === trace.output))
        record.addSighting({...seen, ...measuredIn(trace)});
    };
    const toNext = () =>
      patchState(store, {output: nextOutput(sightingQuestion(questions.question()!), record.sightings())});
    const end = () => {
      session?.end();
      patchState(store, {isAsking: false});
    };
    const begin = (): HoldSession =>
      new HoldSession(store.output(), {
        client: bench.requireClient(),
        clock,
        poles: fleet.current()!.motor.poles,
        onReport: (listener) => bench.onReport(listener),
        beginHold: (ended) => bench.beginHold(ended, 'hold'),
        top: store.sheet()!.top,
        onThrottle: (throttle) => patchState(store, {throttle}),
        onEnd: (why) => patchState(store, {isHeld: false, ...(why && {problem: why})}),
        onDone: keep,
      });
    return {
      toNext,
      /** Ends what is held and asks nothing more. */
      end,
      hold(): void {
        if (session?.isHeld || !store.sheet()?.canHold) return;
        session?.end();
        patchState(store, {problem: undefined, advice: undefined});
        try {
          session = begin();
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          return patchState(store, {problem: error.problem});
        }
        patchState(store, {isHeld: true, isAsking: true});
        measured = undefined;
        show(session.trace());
      },
      letGo(): void {
        session?.letGo();
      },
      /** Where no speed comes, a person says when it turns. */
      itTurns(): void {
        if (session?.itTurns() !== undefined) patchState(store, {startsSeen: session.trace().startsUs});
      },
      /** The trace so far. */
      refresh(): void {
        if (session && !measured) show(session.trace());
      },
      /** What is known of the output that was held: the whole trace, or as far as it goes. */
      _trace: (): HoldTrace | undefined => measured ?? session?.trace(),
    };
  }),
  withMethods((store) => {
    const [bench, fleet, record] = [inject(BenchStore), inject(FleetStore), inject(RecordStore)];
    const questions = inject(CraftQuestionStore);
    return {
      /** What was seen is kept, and decides the plan; then the next output. */
      answer({arm, sense}: Pick<Sighting, 'arm' | 'sense'>): void {
        const output = store.output();
        store.letGo();
        const craft = fleet.current()!;
        const {session: connection = '', cycles = 0} = bench.moment() ?? {};
        const moment = {session: connection, cycles: cycles ?? 0, at: Date.now()};
        const answer: SightingAnswer = {output, arm, sense, ...moment, trace: store._trace()};
        const seen = sightingFromAnswer(answer, sightingQuestion(questions.question()!));
        record.addSighting(seen);
        const {arms, rotation} = planFromSighting(craft, record.found(), seen);
        fleet.setController({arms});
        if (rotation) fleet.setParameter('rotation', rotation);
        patchState(store, {isAsking: false});
        store.toNext();
      },
      /** Not one motor that turned: what to try, beside the output that stays the next one. */
      unexpected(kind: UnexpectedKind): void {
        const output = store.output();
        const samples = store._trace()?.samples ?? [];
        store.end();
        const found = record.found();
        const esc = found && foundEsc(found, output);
        const {protocol} = fleet.current()!.plan.controller;
        const asked = {kind, output, settings: esc?.settings?.values, answered: esc !== undefined, samples, protocol};
        patchState(store, {advice: {output, kind, ...adviceOn(asked)}});
      },
      /** Plans start-up powers for the ESC of an output. */
      planStart(output: number, powers: NonNullable<Advice['startPower']>): void {
        for (const key of ['startLow', 'startHigh'] as const) {
          const {arms, plan} = fleet.current()!;
          const held = foundSetting(record.found(), arms.length, key);
          fleet.setParameter(key, setOnMotors(plan.parameters[key], {held, motors: [output], value: powers[key]}));
        }
        patchState(store, {advice: undefined});
      },
      again(output: number): void {
        store.end();
        patchState(store, {output});
      },
      clearProblem: () => patchState(store, {problem: undefined}),
    };
  }),
  withHooks({
    onInit: (store) => store.toNext(),
    onDestroy: (store) => store.end(),
  }),
);
