/** The connected bench: link, power, survey, and the stop control. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import * as Comlink from 'comlink';
import type {Chip} from '@core/firmware/chips';
import {BenchClient} from '@core/link/client';
import type {Power, Report, Road} from '@core/link/operations';
import {ProblemError, type Problem} from '@core/problem';
import {poweredVolts} from '@core/bench/battery';
import {replyLoss} from '@core/proof/replies';
import {HoldWatch} from '@core/spin/hold-watch';
import {stopMotors} from '@core/spin/lease';
import {readFlash} from '@core/bench/esc-access';
import type {Found} from '@core/bench/found';
import {survey, surveyArm} from '@core/bench/survey';
import {
  noMishaps,
  type BenchControl,
  type BenchMishaps,
  type BenchPace,
  type BenchState as SimulatedState,
} from '../workers/bench-control';
import {answerOtherTabs, holdBench, takeBenchOver} from '../bench/bench-lock';
import {bytePortOf} from '../workers/message-port';
import {realClock} from '../bench/real-clock';
import {benchOf} from './bench-of';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';

interface BenchState {
  readonly status: 'unplugged' | 'connecting' | 'connected';
  readonly problem: Problem | undefined;
  readonly power: Power | undefined;
  readonly load: number | undefined;
  readonly motors: Report['motors'];
  /** Share of replies lost over the last second, per motor; undefined while none was asked for. */
  readonly recentLoss: readonly (number | undefined)[];
  /** Share of an application that is being read out. */
  readonly readingOut: number | undefined;
  readonly surveying: {readonly share: number; readonly text: string} | undefined;
  /** Power cycle at which a person said that the propellers are off. */
  readonly propsOffCycle: number | undefined;
  /** The craft whose bench is plugged in. */
  readonly craftId: string | undefined;
  readonly simulated: SimulatedState | undefined;
  readonly mishaps: BenchMishaps;
  /** A work order or a survey has the wires; nothing else may use them. */
  readonly occupied: boolean;
  /** Names this page's connection to the bench; proofs carry it. */
  readonly session: string | undefined;
  /** A hold of any kind is turning motors. */
  readonly turning: boolean;
}

const unplugged = {
  craftId: undefined,
  session: undefined,
  status: 'unplugged' as const,
  power: undefined,
  load: undefined,
  motors: [],
  recentLoss: [],
  surveying: undefined,
  readingOut: undefined,
};
/** Screens follow reports at this pace; traces get every one, ms. */
const screenEveryMs = 100;

export const BenchStore = signalStore(
  {providedIn: 'root'},
  withState<BenchState>({
    ...unplugged,
    problem: undefined,
    propsOffCycle: undefined,
    simulated: undefined,
    mishaps: noMishaps,
    turning: false,
    occupied: false,
  }),
  withComputed((store) => ({
    isConnected: computed(() => store.status() === 'connected'),
    pace: computed((): BenchPace => store.simulated()?.pace ?? 'ten'),
    /** Whether the cable is on a single-wire adapter, which reaches one ESC at a time. */
    onAdapter: computed(() => store.simulated()?.road === 'single-wire'),
    isPowered: computed(() => (store.power()?.volts ?? 0) > poweredVolts),
    /** Where a proof would be taken now: this connection and the battery's power cycle. */
    moment: computed(
      () => {
        const session = store.session();
        return session === undefined ? undefined : {session, cycles: store.power()?.cycles};
      },
      {equal: (a, b) => a?.session === b?.session && a?.cycles === b?.cycles},
    ),
    propsOff: computed(() => store.propsOffCycle() !== undefined && store.propsOffCycle() === store.power()?.cycles),
  })),
  withMethods((store, record = inject(RecordStore), fleet = inject(FleetStore)) => {
    let client: BenchClient | undefined;
    let simulator: Comlink.Remote<BenchControl> | undefined;
    let shown = 0;
    const recent: Report[] = [];
    const listeners = new Set<(report: Report) => void>();
    const watch = new HoldWatch(
      realClock,
      () => ({propsOffCycle: store.propsOffCycle(), isVisible: document.visibilityState === 'visible'}),
      (turning) => patchState(store, {turning}),
    );
    document.addEventListener('visibilitychange', () => watch.look());
    window.addEventListener('blur', () => watch.end());

    const control = (): Comlink.Remote<BenchControl> => {
      if (simulator) return simulator;
      simulator = Comlink.wrap<BenchControl>(
        new Worker(new URL('../workers/bench.worker', import.meta.url), {type: 'module'}),
      );
      // The debug door of the stand-in bench: tests read its flash to check every account against it, see what turns,
      // and play the hand at the battery while another one holds a button.
      const flash = (output: number) => control().flash(output);
      const setBattery = (on: boolean) => control().setBattery(on);
      const look = () => control().look();
      Object.assign(window, {bidexSimulator: {flash, setBattery, look}});
      return simulator;
    };

    const onReport = (report: Report) => {
      watch.hear(report.power);
      for (const listener of listeners) listener(report);
      const powerChanged =
        report.power.volts > poweredVolts !== store.isPowered() || report.power.cycles !== store.power()?.cycles;
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

    const refreshSimulated = async () => patchState(store, {simulated: await control().state()});

    const disconnect = async () => {
      const open = client;
      client = undefined;
      await open?.close();
    };

    /** Opens the port and greets the bench. `release` lets the lock go when the connection ends. */
    const open = async (craftId: string, release: () => void): Promise<void> => {
      const {port1, port2} = new MessageChannel();
      const near = bytePortOf(port1);
      const bench = benchOf(fleet.crafts().find((c) => c.id === craftId));
      if (!bench) {
        release();
        return patchState(store, {...unplugged, problem: noBench});
      }
      const opened = await control().plug(Comlink.transfer(port2, [port2]), bench);
      if (!opened) {
        release();
        return patchState(store, {...unplugged, problem: portHeld});
      }
      const own = new BenchClient(near, realClock);
      client = own;
      own.onReport(onReport);
      own.onClose((problem) => {
        const wanted = problem.code === 'closed';
        recent.length = 0;
        watch.linkEnded();
        patchState(store, {
          ...unplugged,
          problem: wanted ? store.problem() : problem,
          propsOffCycle: undefined,
          turning: false,
        });
        release();
      });
      try {
        await own.hello();
        const power = await own.request('power', null);
        watch.hear(power);
        await own.request('reports', {on: true});
        await refreshSimulated();
        patchState(store, {status: 'connected', craftId, power, session: crypto.randomUUID()});
      } catch (error) {
        await own.close();
        patchState(store, unplugged);
        fail(error);
      }
    };

    const surveyWith = async (
      ask: (
        client: BenchClient,
        options: {at: number; onProgress: (share: number, text: string) => void},
      ) => Promise<Found>,
    ): Promise<void> => {
      if (!client || store.occupied()) return;
      patchState(store, {surveying: {share: 0, text: 'Asking the bench'}, problem: undefined, occupied: true});
      try {
        const onProgress = (share: number, text: string) => patchState(store, {surveying: {share, text}});
        record.setFound(await ask(client, {at: Date.now(), onProgress}));
        patchState(store, {surveying: undefined});
      } catch (error) {
        fail(error);
      } finally {
        patchState(store, {occupied: false});
      }
    };

    const surveyAll = () => surveyWith((client, options) => survey(client, {...options, known: record.knownEscs()}));

    /** Connects the bench of a craft; the one of another craft is let go first. */
    const connect = async (craftId: string): Promise<void> => {
      if (store.status() !== 'unplugged' && store.craftId() === craftId) return;
      if (store.occupied()) return;
      await disconnect();
      patchState(store, {status: 'connecting', problem: undefined});
      const release = await holdBench();
      if (release) await open(craftId, release);
      else patchState(store, {status: 'unplugged', problem: heldElsewhere});
    };

    answerOtherTabs(() => {
      if (store.occupied()) return false;
      void disconnect();
      return true;
    });

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
      connect,
      /** Connects and surveys at once; on an adapter the Survey station leads round the arms instead. */
      async connectAndSurvey(craftId: string): Promise<void> {
        await connect(craftId);
        if (store.isConnected() && store.isPowered() && !store.onAdapter()) await surveyAll();
      },
      /** Asks the tab that holds the bench to let go, then connects here. */
      async takeOver(craftId: string): Promise<void> {
        patchState(store, {status: 'connecting', problem: undefined});
        const release = await takeBenchOver();
        if (release === 'busy') patchState(store, {status: 'unplugged', problem: heldByOrder});
        else await open(craftId, release);
      },
      disconnect,
      /** Asks what the simulated bench looks like beside its cable. */
      refreshSimulated,
      /** Surveys everything behind the flight controller; on an adapter, use surveyArm. */
      survey: surveyAll,
      /** Reads the one ESC the adapter is clipped to. */
      surveyArm: (output: number, outputs: number) =>
        surveyWith((client, options) =>
          surveyArm(client, {...options, output, outputs, before: record.found(), known: record.knownEscs()}),
        ),
      /** Reads the whole application range of one ESC; undefined when it failed, with the problem shown. */
      async readApplication(output: number, chip: Chip): Promise<Uint8Array | undefined> {
        if (!client || store.occupied()) return undefined;
        patchState(store, {occupied: true, readingOut: 0, problem: undefined});
        const wire = {client, wire: output, name: `motor ${output + 1}`};
        const {start, end} = chip.application;
        try {
          await client.request('esc.enter', {output});
          const bytes = await readFlash(wire, start, end - start, (readingOut) => patchState(store, {readingOut}));
          await client.request('esc.leave', {output});
          return bytes;
        } catch (error) {
          fail(error);
          return undefined;
        } finally {
          patchState(store, {occupied: false, readingOut: undefined});
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
      /** Begins a hold under the watch, which calls `end` when it must end. Throws "second-hold" while there is another. */
      beginHold: (end: (why?: Problem) => void) => watch.begin(end),
      /** The stop control: ends the hold and every lease at once. */
      async stopAll(): Promise<void> {
        watch.end();
        if (client) await stopMotors(client);
      },
      async setPace(pace: BenchPace): Promise<void> {
        await control().setPace(pace);
        await refreshSimulated();
      },
      async changeMishaps(changes: Partial<BenchMishaps>): Promise<void> {
        const mishaps = {...store.mishaps(), ...changes};
        await control().setMishaps(mishaps);
        patchState(store, {mishaps});
      },
      /** Clips the simulated adapter to an ESC. */
      async clip(output: number | undefined): Promise<void> {
        await control().clip(output);
        await refreshSimulated();
      },
      /** Moves the simulated cable to the flight controller or to the adapter; the connection ends and opens anew. */
      async plugInto(road: Road): Promise<void> {
        const craftId = store.craftId();
        if (craftId === undefined || store.occupied()) return;
        await control().plugInto(road);
        await disconnect();
        const release = await holdBench(2000);
        if (release) await open(craftId, release);
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

const noBench: Problem = {
  code: 'no-bench',
  place: 'simulated bench',
  meaning: 'No simulated bench stands for this craft: none has as many ESCs of its board.',
  remedy: 'Copy a craft of the demo, or choose the ESC board and the number of arms of one.',
};
const heldElsewhere: Problem = {
  code: 'held-elsewhere',
  place: 'bench',
  meaning: 'Another tab of Bidex holds the bench. Only one at a time can.',
  remedy: 'Take it over here, or close that tab.',
};
const heldByOrder: Problem = {
  code: 'held-by-order',
  place: 'bench',
  meaning: 'The other tab is in the middle of a work order and does not let go.',
  remedy: 'Let it finish, or stop it there after the page that is being written.',
};
const portHeld: Problem = {
  code: 'port-held',
  place: 'port',
  meaning: 'The port refused to open: another program on this computer holds it.',
  remedy: 'Close the program that talks to the flight controller, then connect again.',
};
