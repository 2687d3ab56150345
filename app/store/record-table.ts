/** Records in the browser's store. */
import type {CraftRecord} from '@core/route/craft-record';
import type {RecordTable} from '@core/route/record-keeper';
import {database} from './database';

export const recordTable: RecordTable = {
  read: async (craftId) => database.records.get(craftId),
  update: (craftId, how) =>
    database.transaction('rw', database.records, async () => {
      const record = how(await database.records.get(craftId));
      await database.records.put(record);
      return record;
    }),
};

/** Records that last until this tab closes. */
export function memoryTable(): RecordTable {
  const records = new Map<string, CraftRecord>();
  return {
    read: (craftId) => Promise.resolve(records.get(craftId)),
    update: (craftId, how) => {
      const record = how(records.get(craftId));
      records.set(craftId, record);
      return Promise.resolve(record);
    },
  };
}
