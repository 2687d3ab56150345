/** The connected bench: link, power, survey, and the stop control. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import * as Comlink from 'comlink';
import {BenchClient} from '@core/link/client';
import type {Power, Report} from '@core/link/operations';
import {ProblemError, type Problem} from '@core/problem';
import {replyLoss} from '@core/work/proof';
import {stopMotors} from '@core/work/spin';
import {survey} from '@core/work/survey';
import type {BenchControl, BenchPace} from '../workers/bench-control';
import {bytePortOf} from '../workers/message-port';
import {realClock} from './real-clock';
import {RecordStore} from './record.store';

interface BenchState {
  readonly status: 'unplugged' | 'connecting' | 'connected';
  readonly problem: Problem | undefined;
  readonly power: Power | undefined;
  readonly load: number | undefined;
  readonly motors: Report['motors'];
  /** Share of replies lost over the last second, per motor; undefined while none was asked for. */
  readonly recentLoss: readonly (number | undefined)[];
  readonly surveying: {readonly share: number; readonly text: string} | undefined;
  /** Power cycle at which a person said that the propellers are off. */
  readonly propsOffCycle: number | undefined;
  readonly pace: BenchPace;
  readonly cableNoise: boolean;
  readonly wireNoise: boolean;
  /** A work order or a survey has the wires; nothing else may use them. */
  readonly occupied: boolean;
  /** A hold of any kind is turning motors. */
  readonly turning: boolean;
}

const unplugged = {
  status: 'unplugged' as const,
  power: undefined,
  load: undefined,
  motors: [],
  recentLoss: [],
  surveying: undefined,
};
/** Screens follow reports at this pace; traces get every one, ms. */
const screenEveryMs = 100;

export const BenchStore = signalStore(
  {providedIn: 'root'},
  withState<BenchState>({
    ...unplugged,
    problem: undefined,
    propsOffCycle: undefined,
    pace: 'ten',
    cableNoise: false,
    wireNoise: false,
    turning: false,
    occupied: false,
  }),
  withComputed((store) => ({
    isConnected: computed(() => store.status() === 'connected'),
    isPowered: computed(() => (store.power()?.volts ?? 0) > 3),
    propsOff: computed(() => store.propsOffCycle() !== undefined && store.propsOffCycle() === store.power()?.cycles),
  })),
  withMethods((store, record = inject(RecordStore)) => {
    let client: BenchClient | undefined;
    let simulator: Comlink.Remote<BenchControl> | undefined;
    let shown = 0;
    const recent: Report[] = [];
    const listeners = new Set<(report: Report) => void>();
    const cancelHolds = new Set<() => void>();

    const control = (): Comlink.Remote<BenchControl> => {
      if (simulator) return simulator;
      simulator = Comlink.wrap<BenchControl>(
        new Worker(new URL('../workers/bench.worker', import.meta.url), {type: 'module'}),
      );
      // The debug door of the stand-in bench: tests read its flash to check every account against it.
      const flash = (output: number) => control().flash(output);
      Object.assign(window, {bidexSimulator: {flash}});
      return simulator;
    };

    const onReport = (report: Report) => {
      for (const listener of listeners) listener(report);
      const powerChanged = report.power.volts > 3 !== store.isPowered();
      if (!powerChanged && performance.now() - shown < screenEveryMs) return;
      shown = performance.now();
      recent.push(report);
      while (recent.length > 2 && report.atMs - recent[0]!.atMs > 1000) recent.shift();
      patchState(store, {
        power: report.power,
        load: report.load,
        motors: report.motors,
        recentLoss: lossSince(recent[0]!, report),
      });
    };

    const fail = (error: unknown) => {
      if (!(error instanceof ProblemError)) throw error;
      patchState(store, {problem: error.problem, surveying: undefined});
    };

    return {
      clearProblem: () => patchState(store, {problem: undefined}),
      requireClient(): BenchClient {
        if (client && !client.isClosed) return client;
        throw new ProblemError({
          code: 'unplugged',
          place: 'bench',
          meaning: 'The bench is not connected.',
          remedy: 'Connect it.',
        });
      },
      simulator: control,
      async connect(): Promise<void> {
        if (store.status() !== 'unplugged') return;
        patchState(store, {status: 'connecting', problem: undefined});
        const release = await holdBench();
        if (!release) return patchState(store, {status: 'unplugged', problem: heldElsewhere});
        const {port1, port2} = new MessageChannel();
        const near = bytePortOf(port1);
        await control().plug(Comlink.transfer(port2, [port2]));
        client = new BenchClient(near, realClock);
        client.onReport(onReport);
        client.onClose((problem) => {
          const wanted = problem.code === 'closed';
          patchState(store, {
            ...unplugged,
            problem: wanted ? undefined : problem,
            propsOffCycle: undefined,
            turning: false,
          });
          for (const cancel of cancelHolds) cancel();
          release();
        });
        try {
          await client.request('hello', null);
          const power = await client.request('power', null);
          await client.request('reports', {on: true});
          const {pace} = await control().state();
          patchState(store, {status: 'connected', power, pace});
        } catch (error) {
          await client.close();
          patchState(store, unplugged);
          fail(error);
        }
      },
      async survey(): Promise<void> {
        if (!client || store.occupied()) return;
        patchState(store, {
          surveying: {share: 0, text: 'Asking the bench'},
          problem: undefined,
          occupied: true,
        });
        try {
          const found = await survey(client, {
            at: Date.now(),
            known: record.knownHardware(),
            onProgress: (share, text) => patchState(store, {surveying: {share, text}}),
          });
          record.setFound(found);
          patchState(store, {surveying: undefined});
        } catch (error) {
          fail(error);
        } finally {
          patchState(store, {occupied: false});
        }
      },
      /** Takes the wires for a work order; false when something else has them. */
      occupy(): boolean {
        if (store.occupied()) return false;
        patchState(store, {occupied: true});
        return true;
      },
      vacate: () => patchState(store, {occupied: false}),
      confirmPropsOff: () => patchState(store, ({power}) => ({propsOffCycle: power?.cycles})),
      /** Gets every report; the returned function takes it back. */
      onReport(listener: (report: Report) => void): () => void {
        listeners.add(listener);
        return () => listeners.delete(listener);
      },
      /** Registers what the stop control ends; the returned function takes it back. */
      onStop(cancel: () => void): () => void {
        cancelHolds.add(cancel);
        patchState(store, {turning: true});
        return () => {
          cancelHolds.delete(cancel);
          patchState(store, {turning: cancelHolds.size > 0});
        };
      },
      /** The stop control: ends every hold and every lease at once. */
      async stopAll(): Promise<void> {
        for (const cancel of [...cancelHolds]) cancel();
        if (client) await stopMotors(client);
      },
      async setPace(pace: BenchPace): Promise<void> {
        await control().setPace(pace);
        patchState(store, {pace});
      },
      async toggleCableNoise(): Promise<void> {
        const cableNoise = !store.cableNoise();
        await control().setCableNoise(cableNoise ? 0.0001 : 0);
        patchState(store, {cableNoise});
      },
      async toggleWireNoise(): Promise<void> {
        const wireNoise = !store.wireNoise();
        await control().setWireNoise(wireNoise ? 0.03 : 0);
        patchState(store, {wireNoise});
      },
    };
  }),
);

function lossSince(before: Report, now: Report): (number | undefined)[] {
  return now.motors.map((m, i) => {
    const earlier = before.motors[i];
    return earlier && replyLoss({asked: m.asked - earlier.asked, lost: m.lost - earlier.lost});
  });
}

const heldElsewhere: Problem = {
  code: 'held-elsewhere',
  place: 'bench',
  meaning: 'Another tab of Bidex holds the bench. Only one at a time can.',
  remedy: 'Close that tab or pull the cable there, then connect here.',
};

/** Holds the bench for this tab. Resolves to the function that lets it go, or to nothing when another tab has it. */
function holdBench(): Promise<(() => void) | undefined> {
  return new Promise((resolve) => {
    void navigator.locks.request('bidex-bench', {ifAvailable: true}, (lock) => {
      if (!lock) return resolve(undefined);
      return new Promise<void>((release) => resolve(release));
    });
  });
}
