/** What this browser keeps, as a backup, and a backup in its place. The file format is core's. */
import {backupParts, type Backup, type BackupPart} from '@core/backup/backup';
import {tables, type BackedTable} from '@core/backup/row-schemas';
import {database, type Database} from './database';

export {packAndRead, packBackup, readBackup, type Backup} from '@core/backup/backup';

/** What a backup holds of the table of single values: what a person said, and not what the service sends again. */
const isSaid = ({key}: {readonly key: string}): boolean => key !== 'catalogue';

/** What this browser keeps now; a part that could not be read is named, and is not in it. */
export async function collectBackup(createdAt: string, from: Database = database): Promise<Backup> {
  const lacks: BackupPart[] = [];
  const read = new Map<BackupPart, readonly object[]>();
  for (const part of backupParts) {
    try {
      read.set(part, await from.table<object>(part).toArray());
    } catch {
      // Named in the backup and on the screen; the other parts are worth saving all the same.
      lacks.push(part);
    }
  }
  const rowsOf = (table: BackedTable): readonly object[] => {
    const rows = read.get(table) ?? [];
    return table === 'values' ? rows.filter((row) => isSaid(row as {key: string})) : rows;
  };
  return {
    createdAt,
    rows: Object.fromEntries(tables.map((table) => [table, rowsOf(table)])) as unknown as Backup['rows'],
    files: (read.get('files') ?? []) as Backup['files'],
    logs: (read.get('logs') ?? []) as Backup['logs'],
    lacks,
  };
}

/**
 * Puts a backup in the place of everything kept, in one transaction: all of it or nothing. What it lacks stays as it is kept
 * now, and so does what the service sent.
 */
export async function restoreBackup({rows, files, logs, lacks = []}: Backup, into: Database = database): Promise<void> {
  const parts = backupParts.filter((part) => !lacks.includes(part));
  const rowsOf = (part: BackupPart): readonly object[] =>
    part === 'files' ? files : part === 'logs' ? logs : rows[part];
  const all = parts.map((part) => into.table<object>(part));
  await into.transaction('rw', all, async () => {
    for (const part of parts) {
      const table = into.table<object, string>(part);
      if (part === 'values') await into.values.filter(isSaid).delete();
      else await table.clear();
      await table.bulkAdd([...rowsOf(part)]);
    }
  });
}
