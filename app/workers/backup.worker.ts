/** Packs, reads and puts back backups away from the screen's thread. What was read stays here until it is put in place. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import type {Craft} from '@core/craft/craft';
import {failure, success, type Problem, type Result} from '@core/problem';
import type {BackupPart} from '@core/backup/backup';
import {collectBackup, packAndRead, readBackup, restoreBackup, type Backup} from '../store/backup';

/** What a person decides by. */
export interface BackupSummary {
  readonly createdAt: string;
  readonly craft: number;
  readonly orders: number;
  readonly files: number;
  readonly logs: number;
  /** Parts that could not be read when it was made. */
  readonly lacks: readonly BackupPart[];
}

/** A backup that was packed and read back. */
export interface PackedBackup extends BackupSummary {
  readonly zip: Uint8Array;
}

let read: Backup | undefined;

const backupWorker = {
  /**
   * Everything kept as one zip file that was read back by its own reader. Craft that were read stand in place of the
   * store's: one that is full has older ones. Those of a page that goes on in memory never do, where the store has any.
   * @param craft undefined where they could not be read.
   */
  async pack(
    createdAt: string,
    {craft, inMemory}: {readonly craft: readonly Craft[] | undefined; readonly inMemory: boolean},
  ): Promise<Result<PackedBackup>> {
    const kept = await collectBackup(createdAt);
    const own = inMemory && kept.rows.craft.length ? undefined : craft;
    const lacks = (kept.lacks ?? []).filter((part) => part !== 'craft' || !own);
    const whole: Backup = own ? {...kept, lacks, rows: {...kept.rows, craft: own}} : kept;
    const packed = packAndRead(whole);
    if (!packed.ok) return packed;
    const zip = packed.value;
    return Comlink.transfer(success({...summaryOf(whole), zip}), [zip.buffer]);
  },
  /** Reads a file and keeps what it holds for {@link put}. */
  async read(file: Blob, onProgress: (share: number) => void): Promise<Result<BackupSummary>> {
    if (file.size > maxFileBytes)
      return failure({
        code: 'bad-backup',
        place: 'backup, file',
        meaning: `It has ${Math.ceil(file.size / 2 ** 20)} MiB; a backup has at most ${maxFileBytes / 2 ** 20}.`,
        remedy: 'Nothing was changed. Choose another backup file.',
      });
    const result = readBackup(new Uint8Array(await file.arrayBuffer()), onProgress);
    if (!result.ok) return result;
    read = result.value;
    return success(summaryOf(read));
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
const maxFileBytes = 1024 * 2 ** 20;

const summaryOf = ({createdAt, rows, files, logs, lacks = []}: Backup): BackupSummary => ({
  ...{createdAt, craft: rows.craft.length, orders: rows.orders.length, files: files.length, logs: logs.length, lacks},
});

Comlink.expose(backupWorker);
