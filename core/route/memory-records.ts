/** Records that last as long as the page: where a person goes on without the store, and where the store is only stood in for. */
import type {CraftRecord} from './craft-record';
import type {RecordTable} from './record-keeper';

export class MemoryRecords implements RecordTable {
  private readonly records = new Map<string, CraftRecord>();

  read(craftId: string): Promise<CraftRecord | undefined> {
    return Promise.resolve(this.records.get(craftId));
  }

  update(craftId: string, how: (kept: CraftRecord | undefined) => CraftRecord): Promise<CraftRecord> {
    const record = how(this.records.get(craftId));
    this.records.set(craftId, record);
    return Promise.resolve(record);
  }

  /** Everything is deleted, as a person can in the settings of a browser. */
  empty(): void {
    this.records.clear();
  }
}
