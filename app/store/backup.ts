/**
 * Everything Bidex keeps, as one zip file, and back. The zip holds `bidex.json` (what it is), one JSON file for each
 * table, and own image files as they are. Bytes inside JSON are {"$bytes": base64}.
 */
import {strFromU8, strToU8, unzipSync, zipSync} from 'fflate';
import * as z from 'zod';
import {craftShape} from '@core/craft/craft';
import {sha256Hex} from '@core/firmware/releases';
import {failure, success, type Result} from '@core/problem';
import {ownPresetShape} from '@core/craft/own-presets';
import type {Found} from '@core/work/found';
import {snapshotShape, type Snapshot} from '@core/work/snapshot';
import {rereadFound, rereadSnapshot} from './reread-settings';
import {database, type Database, type OwnFile} from './database';

const kind = 'Bidex backup';
/** Rises when a table changes its shape; older backups are read as long as their tables are. */
const format = 2;

const manifestShape = z.object({kind: z.literal(kind), format: z.number().int(), createdAt: z.iso.datetime()});

/** Tables that go into a backup as JSON. Kept releases and the catalogue come from the service again. */
const tables = ['craft', 'records', 'orders', 'journal', 'claims', 'histories', 'snapshots', 'presets'] as const;
type BackedTable = (typeof tables)[number];
/** Format a table came with; older backups do not have it. */
const since: Readonly<Partial<Record<BackedTable, number>>> = {presets: 2};

export interface Backup {
  readonly createdAt: string;
  readonly rows: Readonly<Record<BackedTable, readonly object[]>>;
  readonly files: readonly OwnFile[];
}

/** Rows of every table are objects; craft are checked whole, since the interface builds on them. */
const rowShapes: Readonly<Record<BackedTable, z.ZodType<object>>> = {
  craft: craftShape,
  records: z.looseObject({craftId: z.string()}),
  orders: z.looseObject({id: z.string(), craftId: z.string(), order: z.looseObject({steps: z.array(z.unknown())})}),
  journal: z.looseObject({orderId: z.string(), stepId: z.string(), event: z.string()}),
  claims: z.looseObject({serial: z.string(), board: z.string(), by: z.string()}),
  histories: z.looseObject({craftId: z.string(), past: z.array(craftShape), future: z.array(craftShape)}),
  snapshots: snapshotShape.extend({craftId: z.string()}),
  presets: ownPresetShape,
};

const ownFileShape = z.object({
  sha256: z.string(),
  name: z.string(),
  addedAt: z.number(),
  origin: z.enum(['file', 'backup']),
  base: z.number().optional(),
});

export function packBackup({createdAt, rows, files}: Backup): Uint8Array {
  const entries: Record<string, Uint8Array> = {
    'bidex.json': strToU8(JSON.stringify({kind, format, createdAt}, null, 1)),
    'files.json': strToU8(JSON.stringify(files.map((own) => ({...own, file: undefined})))),
  };
  for (const table of tables) entries[`${table}.json`] = strToU8(JSON.stringify(rows[table], bytesToText));
  for (const {sha256, file} of files) entries[`files/${sha256}`] = file;
  return zipSync(entries, {level: 6});
}

/** Reads a backup whole, or says what is wrong with it. Nothing is kept by this. */
export function readBackup(zip: Uint8Array): Result<Backup> {
  let entries: Record<string, Uint8Array>;
  try {
    entries = unzipSync(zip);
  } catch {
    return refuse('file', 'It is not a zip file, or it was cut off.');
  }
  const manifest = readJson(entries, 'bidex.json', manifestShape);
  if (!manifest.ok) return manifest;
  if (manifest.value.format > format)
    return refuse(
      'bidex.json',
      `It was made by a newer Bidex (format ${manifest.value.format}, this one reads ${format}).`,
    );
  const rows: Partial<Record<BackedTable, object[]>> = {};
  for (const table of tables) {
    if ((since[table] ?? 1) > manifest.value.format) {
      rows[table] = [];
      continue;
    }
    const read = readJson(entries, `${table}.json`, z.array(rowShapes[table]));
    if (!read.ok) return read;
    rows[table] = manifest.value.format < 2 ? read.value.map(rereadRow(table)) : read.value;
  }
  const listed = readJson(entries, 'files.json', z.array(ownFileShape));
  if (!listed.ok) return listed;
  const files: OwnFile[] = [];
  for (const own of listed.value) {
    const file = entries[`files/${own.sha256}`];
    if (!file || sha256Hex(file) !== own.sha256) return refuse(own.name, 'The image file is missing or was altered.');
    const {base, ...rest} = own;
    files.push({...rest, file, ...(base !== undefined && {base})});
  }
  return success({createdAt: manifest.value.createdAt, rows: rows as Backup['rows'], files});
}

/** Format 1 knew fewer parameters: what it kept is read again from its settings pages. */
const rereadRow =
  (table: BackedTable) =>
  (row: object): object => {
    if (table === 'snapshots') return rereadSnapshot(row as Snapshot);
    const {found} = row as {found?: Found};
    return table === 'records' && found ? {...row, found: rereadFound(found)} : row;
  };

function readJson<T>(entries: Record<string, Uint8Array>, name: string, shape: z.ZodType<T>): Result<T> {
  const entry = entries[name];
  if (!entry) return refuse(name, 'It is missing from the zip.');
  let json: unknown;
  try {
    json = JSON.parse(strFromU8(entry), textToBytes);
  } catch {
    return refuse(name, 'It is not JSON.');
  }
  const read = shape.safeParse(json);
  if (read.success) return success(read.data);
  const issue = read.error.issues[0];
  return refuse(`${name}, ${issue?.path.join(' ') ?? ''}`, issue?.message ?? 'It does not have the shape of a backup.');
}

const refuse = (place: string, meaning: string) =>
  failure({
    code: 'bad-backup',
    place: `backup, ${place}`,
    meaning,
    remedy: 'Nothing was changed. Choose another backup file.',
  });

function bytesToText(_key: string, value: unknown): unknown {
  // isView and not instanceof: the store may hand out arrays of another realm.
  if (!ArrayBuffer.isView(value)) return value;
  const bytes = new Uint8Array(value.buffer, value.byteOffset, value.byteLength);
  let text = '';
  for (let at = 0; at < bytes.length; at += 0x8000) text += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
  return {$bytes: btoa(text)};
}

function textToBytes(_key: string, value: unknown): unknown {
  const text = typeof value === 'object' && value !== null ? (value as {$bytes?: unknown}).$bytes : undefined;
  return typeof text === 'string' ? Uint8Array.from(atob(text), (c) => c.charCodeAt(0)) : value;
}

/** What this browser keeps now. */
export async function collectBackup(createdAt: string, from: Database = database): Promise<Backup> {
  const rows = await Promise.all(tables.map((table) => from.table<object>(table).toArray()));
  return {
    createdAt,
    rows: Object.fromEntries(tables.map((table, i) => [table, rows[i]])) as unknown as Backup['rows'],
    files: await from.files.toArray(),
  };
}

/** Puts a backup in the place of everything kept, in one transaction: all of it or nothing. */
export async function restoreBackup({rows, files}: Backup, into: Database = database): Promise<void> {
  const all = [...tables.map((table) => into.table<object>(table)), into.files];
  await into.transaction('rw', all, async () => {
    for (const table of all) await table.clear();
    for (const table of tables) await into.table<object>(table).bulkAdd([...rows[table]]);
    await into.files.bulkAdd([...files]);
  });
}
