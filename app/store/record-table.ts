/** Records in the browser's store. */
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
