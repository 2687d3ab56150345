/** What this browser keeps, as a backup, and a backup in its place. The file format is core's. */
import {type Backup} from '@core/backup/backup';
import {tables} from '@core/backup/row-shapes';
import {database, type Database} from './database';

export {packBackup, readBackup, type Backup} from '@core/backup/backup';

/** What this browser keeps now. */
export async function collectBackup(createdAt: string, from: Database = database): Promise<Backup> {
  const rows = await Promise.all(tables.map((table) => from.table<object>(table).toArray()));
  return {
    createdAt,
    rows: Object.fromEntries(tables.map((table, i) => [table, rows[i]])) as unknown as Backup['rows'],
    files: await from.files.toArray(),
    logs: await from.logs.toArray(),
  };
}

/** Puts a backup in the place of everything kept, in one transaction: all of it or nothing. */
export async function restoreBackup({rows, files, logs}: Backup, into: Database = database): Promise<void> {
  const all = [...tables.map((table) => into.table<object>(table)), into.files, into.logs];
  await into.transaction('rw', all, async () => {
    for (const table of all) await table.clear();
    for (const table of tables) await into.table<object>(table).bulkAdd([...rows[table]]);
    await into.files.bulkAdd([...files]);
    await into.logs.bulkAdd([...logs]);
  });
}
