/**
 * Everything Bidex keeps, as one zip file, and back. The zip holds `bidex.json` (what it is), one JSON file for each
 * table, and own image files and flight logs as they are. Bytes inside JSON are {"$bytes": base64}.
 */
import {strFromU8, strToU8} from 'fflate';
import * as z from 'zod';
import {sha256Hex} from '../firmware/releases';
import {failure, success, type Result} from '../problem';
import type {Found} from '../bench/found';
import type {Snapshot} from '../snapshot/snapshot';
import {journalFromVersion5, recordFromVersion5} from './from-version-5';
import {journalFromVersion8, recordFromVersion8} from './from-version-8';
import {rereadFound, rereadSnapshot} from './reread-settings';
import type {KeptLog, OwnFile} from './kept-files';
import {bytesOfBase64, textOfBase64} from './base64';
import {keptLogSchema, ownFileSchema, rowShapes, tables, type BackedTable} from './row-schemas';
import {openZip, refuse, sealZip} from './sealed-zip';

const kind = 'Bidex backup';
/** Rises when a table changes its shape; older backups are read as long as their tables are. */
const format = 6;

/** What a backup is made of: each part is whole, or is not in it at all. */
export const backupParts = [...tables, 'files', 'logs'] as const;
export type BackupPart = (typeof backupParts)[number];

const manifestSchema = z.object({
  kind: z.literal(kind),
  format: z.number().int().min(1),
  createdAt: z.iso.datetime(),
  lacks: z.array(z.enum(backupParts)).optional(),
});

/** Format a table came with; older backups do not have it. */
const since: Readonly<Partial<Record<BackedTable, number>>> = {presets: 2, runs: 4, stresses: 5, values: 6};
/** Format that flight logs came with. */
const logsSince = 3;

export interface Backup {
  readonly createdAt: string;
  readonly rows: Readonly<Record<BackedTable, readonly object[]>>;
  readonly files: readonly OwnFile[];
  readonly logs: readonly KeptLog[];
  /** Parts that could not be read when it was made: what is kept of them stays as it is when it is put in place. */
  readonly lacks?: readonly BackupPart[];
}

export function packBackup({createdAt, rows, files, logs, lacks = []}: Backup): Uint8Array {
  const entries: Record<string, Uint8Array> = {
    'bidex.json': strToU8(JSON.stringify({kind, format, createdAt, ...(lacks.length && {lacks})}, null, 1)),
    'files.json': strToU8(JSON.stringify(files.map((own) => ({...own, file: undefined})))),
    'logs.json': strToU8(JSON.stringify(logs.map((log) => ({...log, file: undefined, sha256: sha256Hex(log.file)})))),
  };
  for (const table of tables) entries[`${table}.json`] = strToU8(JSON.stringify(rows[table], bytesToText));
  for (const {sha256, file} of files) entries[`files/${sha256}`] = file;
  for (const {id, file} of logs) entries[`logs/${id}`] = file;
  return sealZip(entries);
}

/** A backup as a file that was read back by its own reader, or why it could never come back. */
export function packAndRead(backup: Backup): Result<Uint8Array> {
  const zip = packBackup(backup);
  const read = readBackup(zip);
  if (read.ok) return success(zip);
  const {place, meaning} = read.problem;
  return failure({
    code: 'backup-not-readable',
    place,
    meaning: `This backup could not be put in place again: ${meaning}`,
    remedy: 'No file was saved. Delete or shorten what is named, then save again.',
  });
}

/** Reads a backup whole, or says what is wrong with it. Nothing is kept by this. */
export function readBackup(zip: Uint8Array, onProgress?: (share: number) => void): Result<Backup> {
  const opened = openZip(zip, (share) => onProgress?.(share * 0.5));
  if (!opened.ok) return opened;
  const entries = opened.value;
  const manifest = readJson(entries, 'bidex.json', manifestSchema);
  if (!manifest.ok) return manifest;
  const {format: own, createdAt, lacks = []} = manifest.value;
  if (own > format)
    return refuse('bidex.json', `It was made by a newer Bidex (format ${own}, this one reads ${format}).`);
  const rows: Partial<Record<BackedTable, object[]>> = {};
  for (const [i, table] of tables.entries()) {
    const read = (since[table] ?? 1) > own || lacks.includes(table) ? success([]) : readRows(entries, table, own);
    if (!read.ok) return read;
    rows[table] = read.value;
    onProgress?.(0.5 + (0.5 * (i + 1)) / tables.length);
  }
  const files = readFiles(entries, 'files', ownFileSchema, (f) => f.sha256);
  if (!files.ok) return files;
  const logs = own < logsSince ? success([]) : readFiles(entries, 'logs', keptLogSchema, (f) => f.id);
  if (!logs.ok) return logs;
  return success({
    createdAt,
    rows: rows as Backup['rows'],
    files: files.value.map(({base, ...rest}) => ({...rest, ...(base !== undefined && {base})})),
    logs: logs.value.map(({sha256: _, ...log}) => log),
    lacks,
  });
}

function readRows(entries: ReadonlyMap<string, Uint8Array>, table: BackedTable, own: number): Result<object[]> {
  const name = `${table}.json`;
  if (own === format) return readJson(entries, name, z.array(rowShapes[table]));
  // An older row is brought to today's shape first, then checked as exactly as one of today.
  const loose = readJson(entries, name, z.array(z.record(z.string(), z.unknown())));
  if (!loose.ok) return loose;
  try {
    return shaped(
      loose.value.map((row) => fromOlder(table, row, own)),
      name,
      z.array(rowShapes[table]),
    );
  } catch (error) {
    return refuse(
      name,
      `A row cannot be read as one of format ${own}: ${error instanceof Error ? error.message : String(error)}.`,
    );
  }
}

/** Files listed in `<folder>.json`, each with the digest that stands there. */
function readFiles<T extends {readonly sha256: string; readonly name: string}>(
  entries: ReadonlyMap<string, Uint8Array>,
  folder: 'files' | 'logs',
  shape: z.ZodType<T>,
  nameOf: (listed: T) => string,
): Result<(T & {readonly file: Uint8Array})[]> {
  const listed = readJson(entries, `${folder}.json`, z.array(shape));
  if (!listed.ok) return listed;
  const files: (T & {readonly file: Uint8Array})[] = [];
  for (const one of listed.value) {
    const file = entries.get(`${folder}/${nameOf(one)}`);
    if (!file || sha256Hex(file) !== one.sha256) return refuse(one.name, 'The file is missing or was altered.');
    files.push({...one, file});
  }
  return success(files);
}

/**
 * Format 1 knew fewer parameters: they are read from its settings pages. Up to format 2 proofs did not name their ESCs, up to
 * format 5 not what they rest on.
 */
function fromOlder(table: BackedTable, row: Readonly<Record<string, unknown>>, own: number): object {
  switch (table) {
    case 'snapshots':
      return own < 2 ? rereadSnapshot(row as unknown as Snapshot) : row;
    case 'records': {
      const {found} = row as {readonly found?: Found};
      if (own >= 3) return recordFromVersion8(row);
      return recordFromVersion8(recordFromVersion5(own < 2 && found ? {...row, found: rereadFound(found)} : row));
    }
    case 'journal':
      return journalFromVersion8(journalFromVersion5(row));
    default:
      return row;
  }
}

function readJson<T>(entries: ReadonlyMap<string, Uint8Array>, name: string, shape: z.ZodType<T>): Result<T> {
  const entry = entries.get(name);
  if (!entry) return refuse(name, 'It is missing from the zip.');
  let json: unknown;
  try {
    json = JSON.parse(strFromU8(entry), textToBytes);
  } catch {
    return refuse(name, 'It is not JSON.');
  }
  return shaped(json, name, shape);
}

function shaped<T>(json: unknown, name: string, shape: z.ZodType<T>): Result<T> {
  const read = shape.safeParse(json);
  if (read.success) return success(read.data);
  const issue = read.error.issues[0];
  const place = `${name}, ${issue?.path.slice(0, 8).join(' ') ?? ''}`;
  return refuse(place, (issue?.message ?? 'It does not have the shape of a backup.').slice(0, 300));
}

function bytesToText(_key: string, value: unknown): unknown {
  // isView and not instanceof: the store may hand out arrays of another realm.
  if (!ArrayBuffer.isView(value)) return value;
  return {$bytes: textOfBase64(new Uint8Array(value.buffer, value.byteOffset, value.byteLength))};
}

/** Text that is no base64 stays as it is, and is then refused as no bytes. */
function textToBytes(_key: string, value: unknown): unknown {
  const text = typeof value === 'object' && value !== null ? (value as {$bytes?: unknown}).$bytes : undefined;
  return (typeof text === 'string' && bytesOfBase64(text)) || value;
}
