import {strFromU8, strToU8, unzipSync, zipSync} from 'fflate';
import {demoFleet} from '@demo/craft/fleet';
import {blankRecord, withProofs} from '@core/route/craft-record';
import {sha256Hex} from '@core/firmware/releases';
import {collectBackup, packBackup, readBackup, restoreBackup, type Backup} from './backup';
import {Harness} from '@simulator/testing/bench-harness';
import {browserJournal, database} from './database';
import {maxBytes} from '@core/backup/sealed-zip';

type Rows = Readonly<Record<'records' | 'orders' | 'journal', Record<string, unknown>[]>>;

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

/** A survey, an order and its journal as an interrupted order leaves them. */
async function fillWithOrder(): Promise<Backup> {
  const h = new Harness();
  const order = await h.order();
  const outcome = await h.carryOut(order);
  if (outcome.kind !== 'finished') throw new Error(outcome.problem.meaning);
  for (const entry of h.journal.all) await browserJournal.append(entry);
  await database.orders.put({id: order.id, craftId: 'juniper', state: 'finished', order});
  await database.records.put({
    ...blankRecord('juniper'),
    found: outcome.found,
    ...withProofs(blankRecord('juniper'), outcome.proofs),
    noise: {flight: 'flight 11', ratio: undefined, gainDb: 8, delayMs: 1.5, planned: '', at: 3},
    written: {firmware: 2},
  });
  await database.logs.put({id: 'l1', craftId: 'juniper', name: 'hover.csv', addedAt: 4, file: strToU8('time_us')});
  return fill();
}

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
    const newer = strToU8(JSON.stringify({kind: 'Bidex backup', format: 7, createdAt: now}));
    expect(refusal(bend(zip, 'bidex.json', newer))![1]).toContain('made by a newer Bidex');
    expect(refusal(bend(zip, `files/${sha256Hex(file)}`, Uint8Array.of(1)))).toEqual([
      'backup, mine.bin',
      'The file is missing or was altered.',
    ]);
  });

  it('of format 1 had no presets, and is read all the same', async () => {
    const old = strToU8(JSON.stringify({kind: 'Bidex backup', format: 1, createdAt: now}));
    const zip = bend(bend(packBackup(await fill()), 'presets.json', undefined), 'bidex.json', old);
    const read = readBackup(zip);
    expect(read.ok && [read.value.rows.craft.length, read.value.rows.presets]).toEqual([demoFleet.length, []]);
  });

  it('brings everything of an order back exactly, proofs and logs too', async () => {
    const before = await fillWithOrder();
    const read = readBackup(packBackup(before));
    if (!read.ok) throw new Error(`${read.problem.place}: ${read.problem.meaning}`);
    const plain = (backup: Backup) => JSON.parse(JSON.stringify(backup.rows)) as object;
    expect(plain(read.value)).toEqual(plain(before));
    expect(read.value.logs.map((l) => [l.name, [...l.file]])).toEqual([['hover.csv', [...strToU8('time_us')]]]);
  });

  it('no altered bit passes: every flip of a sealed file is refused', async () => {
    const zip = packBackup(await fill());
    const passed: number[] = [];
    // Every bit of the seal and what stands before it, and every 61st of the rest.
    for (let bit = 0; bit < zip.length * 8; bit += bit < (zip.length - 120) * 8 ? 61 : 1) {
      zip[bit >> 3]! ^= 1 << (bit & 7);
      if (readBackup(zip).ok) passed.push(bit);
      zip[bit >> 3]! ^= 1 << (bit & 7);
    }
    expect(passed).toEqual([]);
    expect(readBackup(zip).ok).toBe(true);
  });

  it('an older file without a seal is held against its CRC-32s', async () => {
    const zip = bend(packBackup(await fill()), 'note.txt', strToU8('x'));
    const textOf = (read: ReturnType<typeof readBackup>) => JSON.stringify(read.ok && read.value.rows['craft']);
    const whole = readBackup(zip);
    expect(whole.ok).toBe(true);
    let passed = 0;
    let flips = 0;
    // The data of craft.json: its local header ends with its name.
    const at = Buffer.from(zip).indexOf('craft.json') + 10;
    for (let i = 0; i < 400; i++) {
      zip[at + i]! ^= 1;
      flips++;
      // A bit of the packing that nothing is unpacked from may flip: what is read is the same.
      const read = readBackup(zip);
      if (read.ok && textOf(read) !== textOf(whole)) passed++;
      zip[at + i]! ^= 1;
    }
    expect([flips, passed]).toEqual([400, 0]);
  });

  it.each([-5, 0, 1.5, '3'])('format %s is no format', async (wrong) => {
    const manifest = strToU8(JSON.stringify({kind: 'Bidex backup', format: wrong, createdAt: now}));
    expect(refusal(bend(packBackup(await fill()), 'bidex.json', manifest))![0]).toBe('backup, bidex.json, format');
  });

  it.each([
    ['found: {}', (r: Rows) => (r.records[0]!['found'] = {}), 'records.json, 0 found at'],
    [
      'half an ESC',
      (r: Rows) => delete (r.records[0] as {found: {escs: Rows['records']}}).found.escs[1]!['boot'],
      'records.json, 0 found escs 1 boot',
    ],
    [
      'a page that is no bytes',
      (r: Rows) => ((r.records[0] as {found: {escs: Rows['records']}}).found.escs[0]!['settingsPage'] = {$bytes: '!'}),
      'records.json, 0 found escs 0 settingsPage',
    ],
    [
      'a proof of nothing',
      (r: Rows) => ((r.records[0] as {proofs: Rows['records']}).proofs[0]!['on'] = []),
      'records.json, 0 proofs 0 on',
    ],
    [
      'a step without its kind',
      (r: Rows) => delete (r.orders[0] as {order: {steps: Rows['records']}}).order.steps[0]!['kind'],
      'orders.json, 0 order steps 0 kind',
    ],
    ['an event nobody knows', (r: Rows) => (r.journal[0]!['event'] = 'dance'), 'journal.json, 0 event'],
  ] as [string, (rows: Rows) => void, string][])('%s is refused with its place', async (_, spoil, place) => {
    const zip = packBackup(await fillWithOrder());
    const entries = unzipSync(zip);
    const rows = Object.fromEntries(
      ['records', 'orders', 'journal'].map((t) => [t, JSON.parse(strFromU8(entries[`${t}.json`]!)) as object[]]),
    ) as unknown as Rows;
    spoil(rows);
    for (const [table, list] of Object.entries(rows)) entries[`${table}.json`] = strToU8(JSON.stringify(list));
    expect(refusal(zipSync(entries))![0]).toBe(`backup, ${place}`);
  });

  it('that would unpack to too much is refused before it is unpacked', () => {
    // A small zip whose directory says that each entry unpacks to half a backup and a byte.
    const bomb = zipSync({'bidex.json': new Uint8Array(100), 'craft.json': new Uint8Array(100)});
    const view = new DataView(bomb.buffer, bomb.byteOffset);
    const first = view.getUint32(bomb.length - 6, true);
    for (const at of [first, first + 46 + 'bidex.json'.length]) view.setUint32(at + 24, maxBytes / 2 + 1, true);
    const began = performance.now();
    expect(refusal(bomb)![1]).toContain(
      'It would unpack to 2 entries of 1,025 MiB in all; a backup has at most 40,000 and 1024 MiB.',
    );
    expect(performance.now() - began).toBeLessThan(1_000);
  });

  it('that lies about what it unpacks to is refused without being kept', () => {
    const zip = zipSync({'bidex.json': new Uint8Array(1 << 20)});
    const view = new DataView(zip.buffer, zip.byteOffset);
    const directory = view.getUint32(zip.length - 6, true);
    view.setUint32(directory + 24, 16, true);
    expect(refusal(zip)).toEqual([
      'backup, bidex.json',
      'It does not unpack to what the zip says it is: it was altered or damaged.',
    ]);
  });

  it('of format 2 loses its proofs that name no ESC, and nothing else', async () => {
    const entries = unzipSync(packBackup(await fillWithOrder()));
    const old = (name: string, change: (row: Record<string, unknown>) => object) =>
      (entries[name] = strToU8(
        JSON.stringify((JSON.parse(strFromU8(entries[name]!)) as Record<string, unknown>[]).map(change)),
      ));
    const nameless = {kind: 'pages', at: 1, holds: true, text: '0 of 0 page checksums equal'};
    old('records.json', ({written: _, ...row}) => ({...row, proofs: [nameless]}));
    old('journal.json', (row) => (row['proof'] ? {...row, proof: nameless} : row));
    entries['bidex.json'] = strToU8(JSON.stringify({kind: 'Bidex backup', format: 2, createdAt: now}));
    delete entries['logs.json'];
    const read = readBackup(zipSync(entries));
    if (!read.ok) throw new Error(`${read.problem.place}: ${read.problem.meaning}`);
    const {records, journal} = read.value.rows;
    expect(records[0]).toMatchObject({proofs: [], written: {}, found: {escs: {length: 4}}});
    expect(journal.length).toBeGreaterThan(10);
    expect(journal.some((e) => 'proof' in e)).toBe(false);
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
