/** Flights of the craft in hand: listed, opened, mapped by hand where their columns say too little, kept, taken away. */
import {inject} from '@angular/core';
import {patchState, signalStore, withMethods, withProps, withState} from '@ngrx/signals';
import {ProblemError, type Problem} from '@core/problem';
import {guessColumns} from '@core/flight/guess-columns';
import {withUnits, type Mapping, type UnitOf} from '@core/flight/mapping';
import type {Flight} from '@core/flight/flight';
import type {UnmappedTable} from '@core/flight/read-flight';
import {headBytes, readHead} from '@core/flight/table-head';
import type {KeptLog} from '@core/backup/kept-files';
import {database, stored} from '../../store/database';
import {benchOf} from '../../workers/bench-of';
import type {FlightSummary, OpenFlight} from '@core/noise/flight-summary';
import {firstBytes} from '../../workers/log-pieces';
import type {OpenQuestion, ReadProblem} from '../../workers/noise.worker';
import {demoFlights} from './demo-flights';
import {CraftChange} from '../craft-change';
import {FleetStore} from '../fleet.store';
import {NoiseJobs} from './noise-jobs';
import {RecordStore} from '../record.store';
import {StoreNotices} from '../store-notices';

/** A file whose columns a person has to name. */
export interface WaitingFile {
  readonly file: File;
  readonly table: UnmappedTable;
  /** What it is read as now, where it is kept already; then it is read anew and not kept twice. */
  readonly kept?: {readonly flight: Flight; readonly mapping: Mapping};
}

interface FlightState {
  /** Craft whose flights these are. */
  readonly craftId: string | undefined;
  readonly flights: readonly Flight[];
  readonly current: OpenFlight | undefined;
  readonly waiting: WaitingFile | undefined;
  readonly busy: 'reading' | 'flying' | undefined;
  readonly share: number;
  readonly problem: Problem | undefined;
}

const nothing = {current: undefined, waiting: undefined, problem: undefined, busy: undefined, share: 0} as const;

/** Mappings that a person made, by the header they were made for. */
const mappingKey = (names: readonly string[]) => `mapping ${names.join('\u001f')}`;

export const FlightStore = signalStore(
  {providedIn: 'root'},
  withState<FlightState>({craftId: undefined, flights: [], ...nothing}),
  withProps(() => ({_asked: new Asked()})),
  withMethods((store, fleet = inject(FleetStore), record = inject(RecordStore), jobs = inject(NoiseJobs)) => ({
    _tell(error: unknown): void {
      if (!(error instanceof ProblemError)) throw error;
      patchState(store, {problem: error.problem, busy: undefined});
    },
    _question(flight: Flight, mapping: Mapping | undefined): OpenQuestion {
      const craft = fleet.current()!;
      const config = flight.config ?? record.found()?.controller?.config;
      return {
        mapping: mapping ?? flight.mapping,
        loggedPoles: config?.poles ?? craft.plan.controller.poles,
        blades: craft.propeller.blades,
      };
    },
    _newFlight: (label: string): Flight => ({
      id: crypto.randomUUID(),
      craftId: store.craftId()!,
      label,
      isDemo: false,
      keptAt: Date.now(),
      config: record.found()?.controller?.config,
      settings: record.found()?.controller?.settings?.values,
    }),
    /** Ends reading, computing or flying at once. */
    cancel(): void {
      store._asked.next();
      jobs.noise.cancel();
      jobs.flight.cancel();
      patchState(store, nothing);
    },
  })),
  withMethods((store, jobs = inject(NoiseJobs)) => ({
    /** Reads a flight in the worker; undefined when a newer call took over or it failed, which is told. */
    async _read(
      flight: Flight,
      source: Blob | string,
      mapping?: Mapping,
    ): Promise<FlightSummary | ReadProblem | undefined> {
      const own = store._asked.next();
      patchState(store, {...nothing, busy: 'reading'});
      const answer = await jobs.noise.run(
        (remote, onProgress) => remote.read(flight.id, source, store._question(flight, mapping), onProgress),
        {
          place: flight.label,
          onProgress: (share) => {
            if (store._asked.isLast(own)) patchState(store, {share});
          },
        },
      );
      if (!store._asked.isLast(own)) return undefined;
      return answer.ok ? answer.value : answer.problem;
    },
    /** Makes sure that the worker holds a flight, so that another one can be compared with it. */
    async hold(flight: Flight): Promise<FlightSummary | undefined> {
      const {label: place} = flight;
      const known = await jobs.noise.run((remote) => remote.known(flight.id, store._question(flight, undefined)), {
        place,
      });
      if (known.ok && known.value) return known.value;
      const source = await sourceOf(flight);
      if (source === undefined) return undefined;
      const answer = await jobs.noise.run(
        (remote, onProgress) => remote.read(flight.id, source, store._question(flight, undefined), onProgress),
        {place},
      );
      return answer.ok ? answer.value : undefined;
    },
  })),
  withMethods((store) => ({
    async _open(flight: Flight): Promise<void> {
      const source = await sourceOf(flight);
      if (source === undefined) return;
      const summary = await store._read(flight, source);
      if (!summary) return;
      if ('code' in summary) return patchState(store, {problem: summary, busy: undefined});
      patchState(store, {current: {flight, summary}, busy: undefined});
    },
    async _keepAndShow(flight: Flight, file: Blob, mapping: Mapping | undefined): Promise<void> {
      const summary = await store._read(flight, file, mapping);
      if (!summary) return;
      if ('code' in summary) {
        const table = summary.unmapped;
        const waiting = table && file instanceof File ? {file, table} : undefined;
        return patchState(store, {problem: summary, busy: undefined, waiting});
      }
      const own = store._asked.last();
      const kept: Flight = {...flight, mapping};
      try {
        await stored(database.logs.put(keptOf(kept, new Uint8Array(await file.arrayBuffer()))));
      } catch (error) {
        // What is shown is kept already; where it could not be, it is shown all the same, and the reason told.
        store._tell(error);
      }
      if (!store._asked.isLast(own)) return;
      patchState(store, ({flights}) => ({
        flights: store.craftId() === flight.craftId ? [...flights.filter((f) => f.id !== kept.id), kept] : flights,
        current: {flight: kept, summary},
        busy: undefined,
      }));
    },
    /** The open log's own file; undefined where it is none of the person's. */
    async _keptFile() {
      const open = store.current();
      const log = open && !open.flight.isDemo ? await stored(database.logs.get(open.flight.id)) : undefined;
      return log && {open: open!, file: new File([log.file as Uint8Array<ArrayBuffer>], open!.flight.label)};
    },
  })),
  withMethods((store, fleet = inject(FleetStore), jobs = inject(NoiseJobs)) => {
    inject(CraftChange).onOther(() => {
      store._asked.next();
      patchState(store, {...nothing, craftId: undefined, flights: []});
    });
    return {
      open: (flight: Flight) => store._open(flight).catch(store._tell),
      /** Shows the flights of a craft, and the newest of them. */
      async openCraft(craftId: string): Promise<void> {
        if (store.craftId() === craftId) return;
        const own = store._asked.next();
        patchState(store, {...nothing, craftId, flights: demoFlights.filter((f) => f.craftId === craftId)});
        try {
          const flights = await ofCraft(craftId);
          if (store.craftId() !== craftId) return;
          // A file that was opened meanwhile is kept with them.
          patchState(store, (now) => ({
            flights: [...flights, ...now.flights.filter((f) => !flights.some((g) => g.id === f.id))],
          }));
        } catch (error) {
          store._tell(error);
        }
        // What was asked for meanwhile goes before what the station shows by itself.
        if (!store._asked.isLast(own)) return;
        const first = store.flights().findLast((f) => !f.isDemo) ?? store.flights()[0];
        if (first) await store._open(first).catch(store._tell);
      },
      /** The stand-in's craft flies as it is now; the flight is kept like any other. */
      async fly(): Promise<void> {
        const craft = fleet.current();
        const bench = benchOf(craft);
        if (!craft || !bench || store.busy()) return;
        patchState(store, {...nothing, busy: 'flying'});
        const own = store._asked.next();
        const count = store.flights().filter((f) => !f.isDemo).length + 1;
        const flown = await jobs.flight.run((remote) => remote.fly(bench, craft.id, 9000 + count), {
          place: 'simulated flight',
        });
        if (!store._asked.isLast(own)) return;
        if (!flown.ok) return patchState(store, {problem: flown.problem, busy: undefined});
        const label = `simulated flight ${count}`;
        await store._keepAndShow(store._newFlight(label), new Blob([flown.value.file]), undefined).catch(store._tell);
      },
    };
  }),
  withMethods((store, notices = inject(StoreNotices)) => ({
    /** Opens a file and keeps it with the craft in hand; one whose columns say too little waits for a person. */
    async openFile(file: File): Promise<void> {
      if (store.craftId() === undefined) return;
      await store._keepAndShow(store._newFlight(file.name), file, undefined).catch(store._tell);
      const waiting = store.waiting();
      if (!waiting) return;
      const known = await database.values
        .get(mappingKey(waiting.table.head.names))
        .catch(notices.unread('What you said of such columns'));
      if (known && store.waiting() === waiting)
        await store._keepAndShow(store._newFlight(file.name), file, known.value as Mapping).catch(store._tell);
    },
    /** Reads the waiting file as a person said, and remembers that for its header. */
    async mapAs(mapping: Mapping): Promise<void> {
      const waiting = store.waiting();
      if (!waiting) return;
      const flight = waiting.kept?.flight ?? store._newFlight(waiting.file.name);
      await store._keepAndShow(flight, waiting.file, mapping).catch(store._tell);
      if (store.problem()) return patchState(store, {waiting});
      await database.values
        .put({key: mappingKey(waiting.table.head.names), value: mapping})
        .catch(notices.refused('what you said of these columns'));
    },
    /** Asks again what the columns of the open log hold: its names and ranges may have misled. */
    async remap(): Promise<void> {
      try {
        const kept = await store._keptFile();
        if (!kept) return;
        const {file, open} = kept;
        const head = readHead(await firstBytes(file, headBytes));
        if (!head.ok) return patchState(store, {problem: head.problem});
        const table = {head: head.value, guess: guessColumns(head.value)};
        const {mapping} = open.summary;
        patchState(store, {waiting: {file, table, kept: {flight: open.flight, mapping}}, problem: undefined});
      } catch (error) {
        store._tell(error);
      }
    },
    /** Reads the open log again with the units that a person says; they stay with it. */
    async sayUnits(units: Partial<Record<UnitOf, string>>): Promise<void> {
      try {
        const kept = await store._keptFile();
        if (!kept) return;
        await store._keepAndShow(kept.open.flight, kept.file, withUnits(kept.open.summary.mapping, units));
      } catch (error) {
        store._tell(error);
      }
    },
    dropWaiting: () => patchState(store, {waiting: undefined, problem: undefined}),
  })),
  withMethods((store, record = inject(RecordStore)) => ({
    async note(flight: Flight, changes: Pick<Flight, 'notes' | 'noted'>): Promise<void> {
      const changed = {...flight, ...changes};
      patchState(store, ({flights, current: shown}) => ({
        flights: flights.map((f) => (f.id === flight.id ? changed : f)),
        current: shown?.flight.id === flight.id ? {...shown, flight: changed} : shown,
      }));
      await stored(database.logs.update(flight.id, changes)).catch(store._tell);
    },
    /** Takes a log of one's own away for good. */
    async remove(flight: Flight): Promise<void> {
      try {
        await stored(database.logs.delete(flight.id));
      } catch (error) {
        return store._tell(error);
      }
      patchState(store, ({flights}) => ({flights: flights.filter((f) => f.id !== flight.id)}));
      if (store.current()?.flight.id === flight.id) patchState(store, {current: undefined});
      if (record.craftId() === flight.craftId && record.noise()?.flight === flight.label) record.setNoise(undefined);
    },
  })),
);

/** Whether an answer is still the one that was asked for last. */
class Asked {
  private count = 0;
  next = (): number => ++this.count;
  last = (): number => this.count;
  isLast = (own: number): boolean => own === this.count;
}

const ofCraft = async (craftId: string): Promise<readonly Flight[]> => {
  const kept = await stored(database.logs.where({craftId}).sortBy('addedAt'));
  return [...demoFlights.filter((f) => f.craftId === craftId), ...kept.map(flightOf)];
};
const sourceOf = async (flight: Flight): Promise<Blob | string | undefined> => {
  if (flight.isDemo) return `/api/flight-logs/${flight.id}`;
  const kept = await stored(database.logs.get(flight.id));
  return kept && new Blob([kept.file as Uint8Array<ArrayBuffer>]);
};

const flightOf = ({id, craftId, name, addedAt, config, settings, mapping, notes, noted}: KeptLog): Flight => ({
  ...{id, craftId, config, settings, mapping, notes, noted},
  label: name,
  isDemo: false,
  keptAt: addedAt,
});

const keptOf = (
  {id, craftId, label, keptAt, config, settings, mapping, notes, noted}: Flight,
  file: Uint8Array,
): KeptLog => ({
  ...{id, craftId, config, settings, mapping, notes, noted, file},
  name: label,
  addedAt: keptAt,
});
