import {strToU8, unzipSync, zipSync} from 'fflate';
import {demoFleet} from '@core/craft/demo-fleet';
import {sha256Hex} from '@core/firmware/releases';
import {collectBackup, packBackup, readBackup, restoreBackup, type Backup} from './backup';
import {browserJournal, database} from './database';

const now = '2026-11-23T17:00:00.000Z';
const file = Uint8Array.from({length: 300}, (_, i) => i & 0xff);
const page = Uint8Array.of(1, 2, 250, 255);

async function fill(): Promise<Backup> {
  await database.craft.bulkPut([...demoFleet]);
  await browserJournal.append({
    orderId: 'o',
    at: 1,
    stepId: 'snapshot',
    event: 'done',
    text: 'Snapshot',
    snapshot: [{serial: 's', output: 0, page}],
  });
  await database.claims.put({
    craftId: 'alder',
    serial: 'B30',
    board: 'Basalt 30',
    chip: 'M32',
    deadTimeNs: 30,
    by: 'hand',
    at: 1,
  });
  await database.files.put({sha256: sha256Hex(file), name: 'mine.bin', addedAt: 1, origin: 'file', base: 0x1000, file});
  return collectBackup(now);
}
const refusal = (zip: Uint8Array) => {
  const read = readBackup(zip);
  return read.ok ? undefined : [read.problem.place, read.problem.meaning];
};
/** The zip with one entry changed. */
const bend = (zip: Uint8Array, name: string, content: Uint8Array | undefined) => {
  const entries = unzipSync(zip);
  delete entries[name];
  return zipSync(content ? {...entries, [name]: content} : entries);
};

afterEach(() => Promise.all(database.tables.map((t) => t.clear())));

describe('a backup', () => {
  it('comes back as it was: plans, journal with its bytes, claims, own files', async () => {
    const before = await fill();
    const read = readBackup(packBackup(before));
    if (!read.ok) throw new Error(read.problem.meaning);
    await Promise.all(database.tables.map((t) => t.clear()));
    await restoreBackup(read.value);
    const after = await collectBackup(now);
    expect(after.rows.craft).toEqual(before.rows.craft);
    expect(after.rows.claims).toEqual(before.rows.claims);
    const [entry] = await browserJournal.entries('o');
    expect([...entry!.snapshot![0]!.page]).toEqual([...page]);
    expect(after.files.map((f) => [f.name, f.base, [...f.file]])).toEqual([['mine.bin', 0x1000, [...file]]]);
  });

  it('replaces what was there', async () => {
    const read = readBackup(packBackup(await fill()));
    await database.craft.put({...demoFleet[0]!, id: 'other', name: 'Other'});
    if (read.ok) await restoreBackup(read.value);
    expect(await database.craft.count()).toBe(demoFleet.length);
  });

  it('is refused whole when anything in it is wrong, with the place', async () => {
    const zip = packBackup(await fill());
    expect(refusal(zip.subarray(0, zip.length / 2))).toEqual([
      'backup, file',
      'It is not a zip file, or it was cut off.',
    ]);
    expect(refusal(strToU8('hello'))![0]).toBe('backup, file');
    expect(refusal(bend(zip, 'craft.json', undefined))).toEqual(['backup, craft.json', 'It is missing from the zip.']);
    expect(refusal(bend(zip, 'journal.json', strToU8('[{')))).toEqual(['backup, journal.json', 'It is not JSON.']);
    const poles = JSON.stringify(demoFleet.map((c) => ({...c, motor: {...c.motor, poles: 13}})));
    expect(refusal(bend(zip, 'craft.json', strToU8(poles)))![0]).toBe('backup, craft.json, 0 motor poles');
    const newer = strToU8(JSON.stringify({kind: 'Bidex backup', format: 3, createdAt: now}));
    expect(refusal(bend(zip, 'bidex.json', newer))![1]).toContain('made by a newer Bidex');
    expect(refusal(bend(zip, `files/${sha256Hex(file)}`, Uint8Array.of(1)))).toEqual([
      'backup, mine.bin',
      'The image file is missing or was altered.',
    ]);
  });

  it('of format 1 had no presets, and is read all the same', async () => {
    const old = strToU8(JSON.stringify({kind: 'Bidex backup', format: 1, createdAt: now}));
    const zip = bend(bend(packBackup(await fill()), 'presets.json', undefined), 'bidex.json', old);
    const read = readBackup(zip);
    expect(read.ok && [read.value.rows.craft.length, read.value.rows.presets]).toEqual([demoFleet.length, []]);
  });

  it('that fails while it is put in place leaves everything as it was', async () => {
    const backup = await fill();
    const [first] = backup.rows.craft;
    const twice: Backup = {...backup, rows: {...backup.rows, craft: [first!, first!]}};
    await expect(restoreBackup(twice)).rejects.toThrow();
    expect(await database.craft.count()).toBe(demoFleet.length);
    expect(await database.claims.count()).toBe(1);
  });
});
