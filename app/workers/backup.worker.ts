/** Packs, reads and puts back backups away from the screen's thread. What was read stays here until it is put in place. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import type {Craft} from '@core/craft/craft';
import {failure, success, type Problem, type Result} from '@core/problem';
import {collectBackup, packBackup, readBackup, restoreBackup, type Backup} from '../store/backup';

/** What a person decides by. */
export interface BackupSummary {
  readonly createdAt: string;
  readonly craft: number;
  readonly orders: number;
  readonly files: number;
  readonly logs: number;
}

let read: Backup | undefined;

export const backupWorker = {
  /** Everything kept, with the craft in hand in place of the store's, as one zip file. */
  async pack(createdAt: string, craft: readonly Craft[]): Promise<Result<Uint8Array>> {
    const whole = await collectBackup(createdAt).catch(() => emptyBackup(createdAt));
    const zip = packBackup({...whole, rows: {...whole.rows, craft}});
    return Comlink.transfer(success(zip), [zip.buffer]);
  },
  /** Reads a file and keeps what it holds for {@link put}. */
  async read(file: Blob, onProgress: (share: number) => void): Promise<Result<BackupSummary>> {
    if (file.size > mostFileBytes)
      return failure({
        code: 'bad-backup',
        place: 'backup, file',
        meaning: `It has ${Math.ceil(file.size / 2 ** 20)} MiB; a backup has at most ${mostFileBytes / 2 ** 20}.`,
        remedy: 'Nothing was changed. Choose another backup file.',
      });
    const result = readBackup(new Uint8Array(await file.arrayBuffer()), onProgress);
    if (!result.ok) return result;
    read = result.value;
    const {createdAt, rows, files, logs} = read;
    return success({
      createdAt,
      craft: rows.craft.length,
      orders: rows.orders.length,
      files: files.length,
      logs: logs.length,
    });
  },
  /** Puts what was read in the place of everything kept. Resolves to why the store refused it where it did. */
  async put(): Promise<Result<true>> {
    if (!read) throw new Error('No backup was read');
    try {
      await restoreBackup(read);
      return success(true);
    } catch (error) {
      return failure(refused(error));
    }
  },
};
export type BackupWorker = typeof backupWorker;

const refused = (error: unknown): Problem => ({
  code: 'restore-failed',
  place: 'backup',
  meaning: `The browser's store refused it: ${error instanceof Error ? error.message : String(error)}`,
  remedy: 'Everything is as it was before. Free space on this computer, then try again.',
});

/** A packed backup is smaller than what it unpacks to; the bound of that is in sealed-zip.ts. */
const mostFileBytes = 400 * 2 ** 20;

/** A store that cannot be read has nothing to add to what is in hand. */
const emptyBackup = (createdAt: string): Backup => ({
  createdAt,
  rows: {
    craft: [],
    records: [],
    orders: [],
    journal: [],
    claims: [],
    histories: [],
    snapshots: [],
    presets: [],
    runs: [],
    stresses: [],
  },
  files: [],
  logs: [],
});

Comlink.expose(backupWorker);
