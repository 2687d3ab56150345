/** The capture in hand: a file that is read, its wires, and what a view asks of the one that is looked at. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import type {Frame} from '@core/capture/decode/frames';
import type {TimelineWire} from '@core/capture/ask/timeline';
import {success, type Problem, type Result} from '@core/problem';
import {WorkerClient} from '../jobs/worker-client';
import type {CountedReplies} from '@core/capture/read/recording';
import type {CaptureReading, CaptureSummary, CaptureWorker, WireDetail} from '../workers/capture.worker';
import {CraftChange} from './craft-change';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';
import {StandInStore} from './stand-in.store';

interface CaptureState {
  /** Share of the file that was read; undefined while none is. */
  readonly share: number | undefined;
  /** Name of what is read, or recorded, now. */
  readonly busy: string | undefined;
  readonly summary: CaptureSummary | undefined;
  /** The wire that is looked at, and what it says. */
  readonly wire: number;
  readonly detail: WireDetail | undefined;
  /** Whether ESCs were told to tell more than speeds before the capture began. */
  readonly extended: boolean;
  readonly faultsOnly: boolean;
  /** Row of the frame that was picked. */
  readonly row: number | undefined;
  /** Of a recording of the simulated wires: the file, and what the controller counted meanwhile. */
  readonly recording: {readonly file: File; readonly counted: readonly CountedReplies[]} | undefined;
  readonly problem: Problem | undefined;
  /** Files that were opened or dropped with each craft since the page was loaded. */
  readonly filesOf: Readonly<Record<string, readonly File[]>>;
}

/** Length of a recording of the simulated wires, ms of the bench's own time. */
export const recordingMs = 200;

const nothing = {summary: undefined, detail: undefined, wire: 0, row: undefined, faultsOnly: false};

export const CaptureStore = signalStore(
  {providedIn: 'root'},
  withState<CaptureState>({
    ...nothing,
    ...{share: undefined, busy: undefined, extended: false, recording: undefined, problem: undefined},
    filesOf: {},
  }),
  withComputed((store, fleet = inject(FleetStore)) => ({
    reading: computed((): CaptureReading => ({poles: fleet.current()?.motor.poles, extended: store.extended()})),
    /** Files that can be opened again with the craft in hand. */
    files: computed(() => store.filesOf()[fleet.currentId() ?? ''] ?? []),
    /** The wire that is looked at. */
    looked: computed(() => store.summary()?.wires[store.wire()]),
  })),
  withMethods((store) => {
    const worker = new WorkerClient<CaptureWorker>(
      () => new Worker(new URL('../workers/capture.worker', import.meta.url), {type: 'module'}),
    );
    inject(CraftChange).onOther(() => {
      worker.cancel();
      patchState(store, {...nothing, ...{share: undefined, busy: undefined, recording: undefined, problem: undefined}});
    });
    return {
      /** What the worker answers; undefined where it was ended meanwhile. */
      async _ask<T>(job: Parameters<typeof worker.run<T>>[0]): Promise<T | undefined> {
        const answer: Result<T> = await worker.run(job, {place: store.summary()?.name ?? 'capture'});
        if (!answer.ok && answer.problem.code !== 'cancelled') patchState(store, {problem: answer.problem});
        return answer.ok ? answer.value : undefined;
      },
      _read: (file: File): Promise<Result<CaptureSummary>> =>
        worker.run((remote, onProgress) => remote.open(file, file.name, onProgress), {
          place: file.name,
          onProgress: (share) => patchState(store, {share}),
        }),
      /** Ends the reading; nothing of the file stays open. */
      cancel(): void {
        worker.cancel();
        patchState(store, {...nothing, share: undefined, busy: undefined});
      },
    };
  }),
  withMethods((store) => ({
    async _readDetail(): Promise<void> {
      const [wire, reading] = [store.wire(), store.reading()];
      const detail = await store._ask(async (remote) => success(await remote.detail(wire, reading)));
      if (detail && wire === store.wire()) patchState(store, {detail});
    },
  })),
  withMethods((store, fleet = inject(FleetStore)) => ({
    async _openFile(file: File, extended = false): Promise<void> {
      patchState(store, {...nothing, extended, share: 0, busy: file.name, problem: undefined});
      const opened = await store._read(file);
      patchState(store, {share: undefined, busy: undefined});
      if (!opened.ok) {
        if (opened.problem.code !== 'cancelled') patchState(store, {problem: opened.problem});
        return;
      }
      const wire = firstToShow(opened.value);
      patchState(store, {summary: opened.value, wire, faultsOnly: opened.value.wires[wire]!.faults > 0});
      await store._readDetail();
    },
    remember(files: readonly File[]): void {
      const id = fleet.currentId() ?? '';
      patchState(store, ({filesOf}) => ({
        filesOf: {...filesOf, [id]: [...new Set([...(filesOf[id] ?? []), ...files])]},
      }));
    },
  })),
  withMethods((store, standIn = inject(StandInStore), record = inject(RecordStore)) => ({
    async open(file: File): Promise<void> {
      store.remember([file]);
      patchState(store, {recording: undefined});
      await store._openFile(file);
    },
    /** Records the simulated wires and opens what was recorded. */
    async record(ms: number): Promise<void> {
      patchState(store, {busy: 'simulated wires', problem: undefined, recording: undefined});
      try {
        const {wires, to, counted} = await standIn.record(ms);
        const dump = await store._ask(async (remote) => success(await remote.dump(wires, to)));
        if (!dump) return;
        const file = new File([dump], 'simulated-wires.vcd');
        patchState(store, {recording: {file, counted}});
        await store._openFile(file, record.found()?.controller?.config.extendedReplies);
      } finally {
        patchState(store, {busy: undefined});
      }
    },
  })),
  withMethods((store) => ({
    async choose(wire: number): Promise<void> {
      const faulty = (store.summary()?.wires[wire]?.faults ?? 0) > 0;
      patchState(store, {wire, detail: undefined, row: undefined, faultsOnly: faulty});
      await store._readDetail();
    },
    async setExtended(extended: boolean): Promise<void> {
      patchState(store, {extended});
      await store._readDetail();
    },
    setFaultsOnly: (faultsOnly: boolean) => patchState(store, {faultsOnly}),
    pick: (row: number | undefined) => patchState(store, {row}),
    frames: (from: number, count: number, faulty: boolean): Promise<readonly Frame[] | undefined> => {
      const [wire, reading] = [store.wire(), store.reading()];
      return store._ask(async (remote) => success(await remote.frames(wire, {from, count, faulty, reading})));
    },
    timeline: (
      wires: readonly number[],
      view: {readonly from: number; readonly to: number; readonly columns: number},
    ): Promise<readonly TimelineWire[] | undefined> => {
      const reading = store.reading();
      return store._ask(async (remote) => success(await remote.timeline(wires, {...view, reading})));
    },
    /** The frames of the wire as CSV; undefined where the worker was ended. */
    csv: (): Promise<Blob | undefined> => {
      const [wire, reading] = [store.wire(), store.reading()];
      return store._ask(async (remote) => success(await remote.csv(wire, reading)));
    },
  })),
);

/** Faults first: the wire with the most of them, else the first that carries something. */
function firstToShow({wires}: CaptureSummary): number {
  const most = wires.reduce((best, w, i) => (w.faults > (wires[best]?.faults ?? 0) ? i : best), 0);
  return wires[most]!.faults
    ? most
    : Math.max(
        0,
        wires.findIndex((w) => w.commands > 0),
      );
}
