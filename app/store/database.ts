/** Everything Bidex keeps in this browser. */
import Dexie, {type Table, type Transaction} from 'dexie';
import type {Craft} from '@core/craft/craft';
import {demoFleet} from '@demo/craft/fleet';
import type {HardwareClaim} from '@core/firmware/plan/fit';
import {catalogueSchema, type Catalogue} from '@core/firmware/releases';
import {ProblemError} from '@core/problem';
import type {Found} from '@core/bench/found';
import type {Journal, JournalEntry} from '@core/run/journal';
import type {Snapshot} from '@core/snapshot/snapshot';
import type {WorkOrder} from '@core/order/work-order';
import type {OwnPreset} from '@core/craft/own-presets';
import type {CraftRecord} from '@core/route/craft-record';
import {journalFromVersion5, recordFromVersion5} from '@core/backup/from-version-5';
import {journalFromVersion8, recordFromVersion8} from '@core/backup/from-version-8';
import type {KeptStress} from '@core/replies/kept-stress';
import type {KeptRun} from '@core/motion/kept-run';
import type {KeptLog, OwnFile} from '@core/backup/kept-files';
import {rereadFound, rereadSnapshot} from '@core/backup/reread-settings';
import {deletedMeanwhile} from './refusal-text';
import {foundFromVersion1, orderFromVersion1} from './from-version-1';

/** An order that was carried out or begun. */
export interface KeptOrder {
  readonly id: string;
  readonly craftId: string;
  readonly state: 'running' | 'stopped' | 'finished' | 'given up';
  readonly order: WorkOrder;
}

/** Edits of a craft that can be taken back, oldest first, and those that were, next first. */
export interface CraftHistory {
  readonly craftId: string;
  readonly past: readonly Craft[];
  readonly future: readonly Craft[];
}

export type {CraftRecord, KeptLog, OwnFile};

/** A claim as the logbook shows it. */
export interface KeptClaim extends HardwareClaim {
  readonly craftId: string;
}

export class Database extends Dexie {
  readonly craft!: Table<Craft, string>;
  readonly records!: Table<CraftRecord, string>;
  readonly orders!: Table<KeptOrder, string>;
  readonly journal!: Table<JournalEntry & {id?: number}, number>;
  readonly images!: Table<{sha256: string; file: Uint8Array}, string>;
  readonly values!: Table<{key: string; value: unknown}, string>;
  readonly files!: Table<OwnFile, string>;
  readonly claims!: Table<KeptClaim, string>;
  readonly histories!: Table<CraftHistory, string>;
  readonly snapshots!: Table<Snapshot & {readonly craftId: string}, string>;
  readonly presets!: Table<OwnPreset, string>;
  readonly logs!: Table<KeptLog, string>;
  readonly runs!: Table<KeptRun, string>;
  readonly stresses!: Table<KeptStress, string>;

  constructor(name = 'bidex') {
    super(name);
    this.version(1).stores({
      craft: 'id',
      records: 'craftId',
      orders: 'id, craftId',
      journal: '++id, orderId',
      images: 'sha256',
      values: 'key',
    });
    this.version(2)
      .stores({files: 'sha256', claims: 'serial, craftId'})
      .upgrade(async (tx) => {
        await rewrite<{found: unknown}>(tx, 'records', (record) =>
          record.found ? {...record, found: foundFromVersion1(record.found)} : record,
        );
        await rewrite<{order: unknown}>(tx, 'orders', (kept) => ({...kept, order: orderFromVersion1(kept.order)}));
        const craft = tx.table<Craft, string>('craft');
        for (const demo of demoFleet) if (!(await craft.get(demo.id))) await craft.put(demo);
      });
    this.version(3).stores({histories: 'craftId'});
    this.version(4).stores({snapshots: 'id, craftId'});
    this.version(5)
      .stores({presets: 'id'})
      .upgrade(async (tx) => {
        await rewrite<{found: Found | undefined}>(tx, 'records', (record) =>
          record.found ? {...record, found: rereadFound(record.found)} : record,
        );
        await rewrite<Snapshot>(tx, 'snapshots', rereadSnapshot);
      });
    this.version(6)
      .stores({logs: 'id, craftId'})
      .upgrade(async (tx) => {
        await rewrite<object>(tx, 'records', recordFromVersion5);
        await rewrite<JournalEntry>(tx, 'journal', journalFromVersion5);
      });
    this.fromVersion7();
    this.endWhenGone();
  }

  /**
   * A store that this page had open and that is to be made anew was deleted: the page does not go on in an empty one, where an
   * order would have no record. The transaction that would make it is given up, so it stays as it is for whoever deleted it.
   */
  private endWhenGone(): void {
    let wasOpen = false;
    this.on('ready', () => void (wasOpen = true), true);
    this.on('populate', () => {
      if (wasOpen) throw new Dexie.DatabaseClosedError(deletedMeanwhile);
    });
  }

  /** What came since flight logs are kept. */
  private fromVersion7(): void {
    this.version(7).stores({runs: 'id, craftId'});
    this.version(8).stores({stresses: 'id, craftId'});
    this.version(9)
      .stores({})
      .upgrade(async (tx) => {
        await rewrite<object>(tx, 'records', recordFromVersion8);
        await rewrite<object>(tx, 'journal', journalFromVersion8);
      });
  }

  /** The catalogue kept from the last load; undefined when none is kept or it is of an older shape. */
  async catalogue(): Promise<Catalogue | undefined> {
    const kept = catalogueSchema.safeParse((await this.values.get('catalogue'))?.value);
    return kept.success ? kept.data : undefined;
  }
}

/** Brings every row of a table to another shape, under the same key. */
async function rewrite<T>(tx: Transaction, name: string, change: (row: T) => T): Promise<void> {
  const table = tx.table<T>(name);
  for (const row of await table.toArray()) await table.put(change(row));
}

export const database = new Database();

/**
 * Waits for the store on behalf of an order, to read or to write. Foreign errors are wrapped once, here: a full disk and a
 * closed database mean the same to it.
 */
export async function stored<T>(work: PromiseLike<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    throw new ProblemError({
      code: 'store-failed',
      place: "browser's store",
      meaning: `It could not be used (${error instanceof Error ? error.name : String(error)}), so the order stops: nothing touches hardware without a record.`,
      remedy: 'Free space on this computer, then resume. What was written is checked again.',
    });
  }
}

/** The runner's journal in the browser's store. */
export const browserJournal: Journal = {
  async append(entry) {
    await stored(database.journal.add(entry));
  },
  entries: (orderId) => stored(database.journal.where({orderId}).sortBy('id')),
};
