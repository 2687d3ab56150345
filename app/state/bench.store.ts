/** The connected bench: link, power, survey, and the stop control. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withProps, withState} from '@ngrx/signals';
import type {Chip} from '@core/firmware/chips';
import {BenchClient} from '@core/link/client';
import type {ConnectEvidence} from '@core/link/connect-help';
import type {Hello, Power, Report} from '@core/link/operations';
import {sleep, type BytePort} from '@core/link/port';
import {ProblemError, type Problem} from '@core/problem';
import {poweredVolts} from '@core/bench/battery';
import {lossSince} from '@core/replies/replies';
import {gateLines} from '@core/spin/hold/gate';
import {HoldWatch} from '@core/spin/hold/hold-watch';
import {stopMotors} from '@core/spin/hold/lease';
import {benchCap} from '@core/spin/script/script-choices';
import {readFlash} from '@core/bench/esc-access';
import type {Found} from '@core/bench/found';
import {survey, surveyArm, surveyController} from '@core/bench/survey';
import {waitForEsc} from '@core/bench/wait-for-esc';
import {WireLock, type WirePurpose} from '@core/bench/wire-lock';
import {answerOtherTabs, holdBench, takeBenchOver} from '../bench/bench-lock';
import {CLOCK, forTheEye} from '../bench/page-clock';
import {PORT_SOURCE} from '../bench/port-source';
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
  /** Seconds left for an ESC to answer on the wire of an adapter; undefined while none is waited for. */
  readonly waitingS: number | undefined;
  /** Output whose ESC did not answer in that time. */
  readonly nobodyCame: number | undefined;
  /** Power cycle at which a person said that the propellers are off, and when, epoch ms. */
  readonly propsOffSaid: {readonly cycle: number; readonly at: number} | undefined;
  /** Throttle that scripts keep under, where a person raised it for this connection. */
  readonly raisedCap: number | undefined;
  /** The craft that was tried last: what stood in the way stood there, and in the way of no other. */
  readonly tried: string | undefined;
  /** The craft whose bench is plugged in. */
  readonly craftId: string | undefined;
  /** What the adapter said of itself. */
  readonly hello: Hello | undefined;
  /** What the wires are taken for; nothing else may use them. */
  readonly wires: WirePurpose | undefined;
  /** Names this page's connection to the bench; proofs carry it. */
  readonly session: string | undefined;
  /** What came over the port of the last try that failed; undefined where none was opened. */
  readonly evidence: ConnectEvidence | undefined;
  /** A hold of any kind is turning motors. */
  readonly turning: boolean;
}

const unplugged = {
  craftId: undefined,
  hello: undefined,
  session: undefined,
  status: 'unplugged' as const,
  power: undefined,
  load: undefined,
  motors: [],
  recentLoss: [],
  raisedCap: undefined,
  surveying: undefined,
  readingOut: undefined,
  waitingS: undefined,
  nobodyCame: undefined,
};
/** What has the wires, in words; a hold is what the gate is for. */
const wiresWords: Readonly<Record<WirePurpose, string | undefined>> = {
  order: 'A work order',
  survey: 'A survey',
  'read-out': 'A read-out',
  measurement: undefined,
  hold: undefined,
};
/** Screens follow reports at this pace; traces get every one, ms. */
const screenEveryMs = 100;
/** ESCs are given so long to start when the battery came on, ms. */
const escsStartMs = 500;

export const BenchStore = signalStore(
  {providedIn: 'root'},
  withState<BenchState>({
    ...unplugged,
    problem: undefined,
    evidence: undefined,
    tried: undefined,
    propsOffSaid: undefined,
    turning: false,
    wires: undefined,
  }),
  withComputed((store) => ({
    isConnected: computed(() => store.status() === 'connected'),
    /** Whether the cable is on a single-wire adapter, which reaches one ESC at a time. */
    onAdapter: computed(() => store.hello()?.road === 'single-wire'),
    /** A work order, a survey or a read-out has the wires. A hold has them as long as a hand stays where it is. */
    occupied: computed(() => ['order', 'survey', 'read-out'].includes(store.wires() ?? '')),
    isPowered: computed(() => (store.power()?.volts ?? 0) > poweredVolts),
    /** Where a proof would be taken now: this connection and the battery's power cycle. */
    moment: computed(
      () => {
        const session = store.session();
        return session === undefined ? undefined : {session, cycles: store.power()?.cycles};
      },
      {equal: (a, b) => a?.session === b?.session && a?.cycles === b?.cycles},
    ),
    /** Replies say that something turns although nothing is held: a coasting motor takes seconds. */
    runningOut: computed(() => !store.turning() && store.motors().some((m) => (m.erpm ?? 0) > 0)),
    propsOff: computed(() => !!store.propsOffSaid() && store.propsOffSaid()?.cycle === store.power()?.cycles),
    /** Throttle that no script goes beyond, 0…1. */
    cap: computed(() => store.raisedCap() ?? benchCap),
  })),
  withComputed((store, record = inject(RecordStore)) => ({
    /** What must be right before anything turns. */
    gate: computed(() =>
      gateLines({
        connected: store.isConnected(),
        wiresTaken: wiresWords[store.wires() ?? 'hold'],
        power: store.power(),
        turning: store.turning() || store.runningOut(),
        propsOff: store.propsOffSaid(),
        firstPower: record.firstPower(),
      }),
    ),
  })),
  withProps((store, clock = inject(CLOCK)) => ({
    _line: {
      client: undefined as BenchClient | undefined,
      /** When reports were shown last, ms. */
      shown: -Infinity,
      /** Reports of the last second. */
      recent: [] as Report[],
      listeners: new Set<(report: Report) => void>(),
      connected: new Set<() => unknown>(),
      /** The wait for an ESC, which ends where this is set. */
      wait: {aborted: false},
    },
    _lock: new WireLock((wires) => patchState(store, {wires})),
    _watch: new HoldWatch(
      clock,
      () => ({propsOffCycle: store.propsOffSaid()?.cycle, isVisible: document.visibilityState === 'visible'}),
      (turning) => patchState(store, {turning}),
    ),
  })),
  withMethods((store) => {
    document.addEventListener('visibilitychange', () => store._watch.look());
    window.addEventListener('blur', () => store._watch.end());
    return {
      _fail(error: unknown) {
        if (!(error instanceof ProblemError)) throw error;
        patchState(store, {problem: error.problem, surveying: undefined});
      },
      async disconnect() {
        const open = store._line.client;
        store._line.client = undefined;
        await open?.close();
      },
      /** What went wrong with the bench of this craft, and what came over its port. */
      problemOf: (craftId: string | undefined) => (store.tried() === craftId ? store.problem() : undefined),
      evidenceOf: (craftId: string) => (store.tried() === craftId ? store.evidence() : undefined),
      clearProblem: () => patchState(store, {problem: undefined, evidence: undefined}),
      /** Round trips of the connection of now, ms. */
      roundTrips: (): readonly number[] => store._line.client?.roundTrips ?? [],
      requireClient(): BenchClient {
        const {client} = store._line;
        if (client && !client.isClosed) return client;
        throw new ProblemError({
          code: 'unplugged',
          place: 'bench',
          meaning: 'The bench is not connected.',
          remedy: 'Connect it.',
        });
      },
      /** Gets every report; the returned function takes it back. */
      onReport(listener: (report: Report) => void): () => void {
        store._line.listeners.add(listener);
        return () => store._line.listeners.delete(listener);
      },
      /**
       * Begins a hold under the watch, which calls `end` when it must end. It takes the wires for `purpose`, where its order
       * has not taken them already. Throws "second-hold" while there is another, "wires-taken" when they are.
       */
      beginHold(end: (why?: Problem) => void, purpose?: 'hold' | 'measurement'): () => void {
        const free = purpose ? store._lock.take(purpose) : () => undefined;
        try {
          const release = store._watch.begin((why) => {
            free();
            end(why);
          });
          return () => {
            release();
            free();
          };
        } catch (error) {
          free();
          throw error;
        }
      },
      /** The stop control: ends the hold and every lease at once. */
      async stopAll(): Promise<void> {
        store._watch.end();
        if (store._line.client) await stopMotors(store._line.client);
      },
      /** Called whenever a connection stands, before the page shows it. */
      onConnected: (listener: () => unknown) => void store._line.connected.add(listener),
    };
  }),
  withMethods((store) => ({
    /** The wires for `purpose`; undefined, with the problem shown, when something else has them. */
    takeWires(purpose: WirePurpose): (() => void) | undefined {
      try {
        return store._lock.take(purpose);
      } catch (error) {
        store._fail(error);
        return undefined;
      }
    },
  })),
  withMethods((store, record = inject(RecordStore)) => ({
    async _surveyWith(
      ask: (
        client: BenchClient,
        options: {at: number; onProgress: (share: number, text: string) => void},
      ) => Promise<Found | undefined>,
    ): Promise<void> {
      const {client} = store._line;
      if (!client || store.occupied()) return;
      const release = store.takeWires('survey');
      if (!release) return;
      patchState(store, {surveying: {share: 0, text: 'Asking the bench'}, problem: undefined});
      try {
        const onProgress = (share: number, text: string) => patchState(store, {surveying: {share, text}});
        const found = await ask(client, {at: Date.now(), onProgress});
        if (found) record.setFound(found);
        patchState(store, {surveying: undefined});
      } catch (error) {
        store._fail(error);
      } finally {
        release();
      }
    },
  })),
  withMethods((store, record = inject(RecordStore), clock = inject(CLOCK)) => ({
    /** @param startMs is waited for first. */
    _surveyAll: (startMs = 0) =>
      store._surveyWith(async (client, options) => {
        if (startMs) await sleep(clock, startMs);
        return survey(client, {...options, known: record.knownEscs()});
      }),
    /** Reads the one ESC the adapter is clipped to, as soon as it has power; nothing was found where nobody came. */
    surveyArm: (output: number, outputs: number) =>
      store._surveyWith(async (client, options) => {
        const cancel = (store._line.wait = {aborted: false});
        const onSilent = (waitingS: number) => patchState(store, {waitingS});
        patchState(store, {nobodyCame: undefined});
        const wire = {client, wire: 0, name: `arm ${output + 1}`};
        const answers = await waitForEsc(wire, {clock, cancel, onSilent}).finally(() =>
          patchState(store, {waitingS: undefined}),
        );
        if (answers)
          return surveyArm(client, {...options, output, outputs, before: record.found(), known: record.knownEscs()});
        if (!cancel.aborted) patchState(store, {nobodyCame: output});
        return undefined;
      }),
    /** Nobody will come: the wait for an ESC ends. */
    stopWaiting: (): void => void (store._line.wait.aborted = true),
    /** Reads the whole application range of one ESC; undefined when it failed, with the problem shown. */
    async readApplication(output: number, chip: Chip): Promise<Uint8Array | undefined> {
      const {client} = store._line;
      const release = client && store.takeWires('read-out');
      if (!client || !release) return undefined;
      patchState(store, {readingOut: 0, problem: undefined});
      const wire = {client, wire: output, name: `motor ${output + 1}`};
      const {start, end} = chip.application;
      try {
        await client.request('esc.enter', {output});
        const bytes = await readFlash(wire, start, end - start, (readingOut) => patchState(store, {readingOut}));
        await client.request('esc.leave', {output});
        return bytes;
      } catch (error) {
        store._fail(error);
        return undefined;
      } finally {
        release();
        patchState(store, {readingOut: undefined});
      }
    },
  })),
  withMethods((store, record = inject(RecordStore)) => ({
    /** Surveys everything behind the flight controller; on an adapter, use surveyArm. */
    survey: () => store._surveyAll(),
    /**
     * Plugs may have been moved while the battery was off: whenever it comes on in a connection the bench is read again,
     * before anything can turn. A work order reads for itself.
     */
    async _readAfterPower(): Promise<void> {
      const isUnread = () => store.isPowered() && record.found()?.power.cycles !== store.power()?.cycles;
      while (store.isConnected() && !store.onAdapter() && !store.occupied() && isUnread()) {
        const {cycles} = store.power()!;
        await store._surveyAll(escsStartMs);
        // One that failed says why; another try is the person's.
        if (store.problem() && store.power()?.cycles === cycles) return;
      }
    },
  })),
  withMethods((store, clock = inject(CLOCK)) => ({
    _hear(report: Report): void {
      const line = store._line;
      store._watch.hear(report.power);
      for (const listener of store._line.listeners) listener(report);
      const powerChanged =
        report.power.volts > poweredVolts !== store.isPowered() || report.power.cycles !== store.power()?.cycles;
      if (!powerChanged && clock.now() - line.shown < forTheEye(clock, screenEveryMs)) return;
      line.shown = clock.now();
      line.recent.push(report);
      while (line.recent.length > 2 && report.atMs - line.recent[0]!.atMs > 1000) line.recent.shift();
      patchState(store, {
        power: report.power,
        load: report.load,
        motors: report.motors,
        recentLoss: lossSince(line.recent[0]!.motors, report.motors),
      });
      if (powerChanged) void store._readAfterPower();
    },
  })),
  withMethods((store, record = inject(RecordStore), fleet = inject(FleetStore)) => {
    const clock = inject(CLOCK);
    const source = inject(PORT_SOURCE);
    return {
      /** Opens the port and greets the bench. `release` lets the lock go when the connection ends. */
      async _open(craftId: string, release: () => void): Promise<void> {
        let port: BytePort;
        try {
          port = await source.open(fleet.crafts().find((c) => c.id === craftId));
        } catch (error) {
          release();
          patchState(store, {...unplugged, evidence: evidenceOf(error)});
          return store._fail(error);
        }
        const own = new BenchClient(port, clock);
        store._line.client = own;
        own.onReport(store._hear);
        own.onClose((problem) => {
          const wanted = problem.code === 'closed';
          store._line.recent.length = 0;
          store._watch.linkEnded();
          patchState(store, {
            ...unplugged,
            problem: wanted ? store.problem() : problem,
            ...(!wanted && {evidence: {...own.counters, code: problem.code}}),
            propsOffSaid: undefined,
            turning: false,
          });
          release();
        });
        try {
          const hello = await own.hello();
          const power = await own.request('power', null);
          store._watch.hear(power);
          await own.request('reports', {on: true});
          for (const listener of store._line.connected) await listener();
          // A controller that cannot pass through tells nothing of the ESCs; what the adapter's round found stays.
          const round = hello.road === 'controller' && record.craftId() === craftId ? record.found() : undefined;
          if (round?.road === 'single-wire') record.setFound(await surveyController(own, round));
          patchState(store, {status: 'connected', craftId, hello, power, session: crypto.randomUUID()});
        } catch (error) {
          const evidence = evidenceOf(error, own);
          await own.close();
          patchState(store, {...unplugged, evidence});
          store._fail(error);
        }
      },
    };
  }),
  withMethods((store) => {
    answerOtherTabs(() => {
      if (store.occupied()) return false;
      void store.disconnect();
      return true;
    });

    return {
      /** Connects the bench of a craft; the one of another craft is let go first. */
      async connect(craftId: string): Promise<void> {
        if (store.status() !== 'unplugged' && store.craftId() === craftId) return;
        if (store.occupied()) return;
        await store.disconnect();
        patchState(store, {status: 'connecting', problem: undefined, evidence: undefined, tried: craftId});
        const release = await holdBench();
        if (release) await store._open(craftId, release);
        else patchState(store, {status: 'unplugged', problem: heldElsewhere});
      },
      /** Asks the tab that holds the bench to let go, then connects here. */
      async takeOver(craftId: string): Promise<void> {
        patchState(store, {status: 'connecting', problem: undefined, tried: craftId});
        const release = await takeBenchOver();
        if (release === 'busy') patchState(store, {status: 'unplugged', problem: heldByOrder});
        else await store._open(craftId, release);
      },
      /** Ends the connection and opens it anew: the cable was moved. */
      async reconnect(craftId: string): Promise<void> {
        await store.disconnect();
        patchState(store, {tried: craftId});
        const release = await holdBench(2000);
        if (release) await store._open(craftId, release);
      },
    };
  }),
  withMethods((store, record = inject(RecordStore)) => ({
    /** Connects and surveys at once; on an adapter the Survey station leads round the arms instead. */
    async connectAndSurvey(craftId: string): Promise<void> {
      await store.connect(craftId);
      if (store.isConnected() && store.isPowered() && !store.onAdapter()) await store._surveyAll();
    },
    /** A person looked: the propellers are off. The first time this also notes what the craft draws at rest. */
    confirmPropsOff(): void {
      const power = store.power();
      if (!power || store.gate().some((l) => l.state === 'wrong' && l.what !== 'wires')) return;
      patchState(store, {propsOffSaid: {cycle: power.cycles, at: Date.now()}});
      if (!record.firstPower()) record.noteFirstPower({at: Date.now(), amps: power.amps});
    },
    /** Lets scripts of this connection go higher; the reason goes into the logbook. */
    raiseCap(cap: number, reason: string): void {
      patchState(store, {raisedCap: cap});
      record.addNote(`Throttle cap of the bench raised to ${(cap * 100).toFixed(0)} % for one session: ${reason}`);
    },
    lowerCap: () => patchState(store, {raisedCap: undefined}),
  })),
);

const evidenceOf = (error: unknown, client?: BenchClient): ConnectEvidence | undefined =>
  error instanceof ProblemError
    ? {code: error.problem.code, bytes: client?.counters.bytes ?? 0, frames: client?.counters.frames ?? 0}
    : undefined;

const heldElsewhere: Problem = {
  code: 'held-elsewhere',
  place: 'bench',
  meaning: 'Another tab of Bidex is using the bench. Only one at a time can use it.',
  remedy: 'Take it over here, or close that tab.',
};
const heldByOrder: Problem = {
  code: 'held-by-order',
  place: 'bench',
  meaning: 'The other tab is in the middle of a work order and does not let go.',
  remedy: 'Let it finish, or stop it there after the page that is being written.',
};
