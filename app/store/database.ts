/** Everything Bidex keeps in this browser. */
import Dexie, {type Table} from 'dexie';
import type {Craft} from '@core/craft/craft';
import type {Catalogue} from '@core/firmware/releases';
import type {Found} from '@core/work/found';
import type {Journal, JournalEntry} from '@core/work/journal';
import type {ProofRecord} from '@core/work/proof';
import type {NoiseProof, Sighting} from '@core/work/stations';
import type {WorkOrder} from '@core/work/work-order';

/** An order that was carried out or begun. */
export interface KeptOrder {
  readonly id: string;
  readonly craftId: string;
  readonly state: 'running' | 'stopped' | 'finished' | 'given up';
  readonly order: WorkOrder;
}

/** Records of one craft beside its plan. */
export interface CraftRecord {
  readonly craftId: string;
  readonly found: Found | undefined;
  readonly proofs: readonly ProofRecord[];
  readonly sightings: readonly Sighting[];
  readonly noise: NoiseProof | undefined;
}

export class Database extends Dexie {
  readonly craft!: Table<Craft, string>;
  readonly records!: Table<CraftRecord, string>;
  readonly orders!: Table<KeptOrder, string>;
  readonly journal!: Table<JournalEntry & {id?: number}, number>;
  readonly images!: Table<{sha256: string; file: Uint8Array}, string>;
  readonly values!: Table<{key: string; value: unknown}, string>;

  constructor() {
    super('bidex');
    this.version(1).stores({
      craft: 'id',
      records: 'craftId',
      orders: 'id, craftId',
      journal: '++id, orderId',
      images: 'sha256',
      values: 'key',
    });
  }

  async catalogue(): Promise<Catalogue | undefined> {
    return (await this.values.get('catalogue'))?.value as Catalogue | undefined;
  }
}

export const database = new Database();

/** The runner's journal in the browser's store. */
export const browserJournal: Journal = {
  async append(entry) {
    await database.journal.add(entry);
  },
  entries: (orderId) => database.journal.where({orderId}).sortBy('id'),
};
