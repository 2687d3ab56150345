/** The shelf, the inspector and the hex difference, with the demo's catalogue and its images. */
import {describe, expect, it} from 'vitest';
import type {Catalogue} from '../../firmware/releases';
import {inspectImage} from '../../firmware/inspect-image';
import {meridianImage} from '@simulator/firmware/meridian';
import {Harness, shelf} from '@simulator/testing/bench-harness';
import {juniper} from '@demo/craft/juniper';
import received from '../../../demo/catalogue.json';
import {hexDifference, hexRowSheet} from './hex-difference';
import {hexFile, inspectorSheet, rawFile, type Inspected, type InspectorNow} from './inspector';
import {kibText} from '../../words/size';
import {readAddress, shelfSheet, wholeShelf, type ShelfSearch} from './shelf';

const {releases} = JSON.parse(received.catalogue) as Catalogue;
const found = await new Harness().survey();
const images = new Map(releases.map((r) => [r.sha256, shelf.image(r.id)]));
const gneiss = {board: 'Gneiss 45', deadTimeNs: 45};

describe('the shelf', () => {
  const search = (to: Partial<ShelfSearch> = {}, isKept = true) =>
    shelfSheet({releases, isKept: () => isKept, search: {...wholeShelf, ...to}});

  it('lists every release, newest first, with what it asks of the flight controller', () => {
    const sheet = search();
    expect([sheet.rows.length, sheet.title, sheet.keptCount]).toEqual([26, 'Releases, 26 of 26', 26]);
    expect(sheet.rows[0]!.title).toContain('Meridian 4.3-b1');
    expect(sheet.rows.map((r) => r.needs)).toContain('requires a flight controller with Plumb 2.2');
    expect(search({}, false)).toMatchObject({keptCount: 0});
    expect(shelfSheet({releases: [], isKept: () => true, search: wholeShelf}).title).toBe('Releases, 0 of 0');
  });
  it.each([
    [{text: 'chalk 96'}, 3],
    [{text: 'withdrawn'}, 2],
    [{standing: 'withdrawn'}, 2],
    [{text: 'melody basalt'}, 2],
    [{text: 'reply module'}, 2],
    [{text: 'nothing like it'}, 0],
  ] as const)('%o leaves %i', (to, count) => expect(search(to).rows).toHaveLength(count));
  it('narrows by board, family and feature together', () => {
    const {boards, families, features} = search();
    const [board, family, feature] = [boards[0]!.value, families.at(-1)!.value, features[0]!.value];
    for (const {release} of search({board, family, feature}).rows) {
      expect([release.board, release.family]).toEqual([board, family]);
      expect(release.features).toContain(feature);
    }
  });
  it('takes an address as hex or as a whole number, and refuses anything else with its reason', () => {
    expect([readAddress(' 0x1000 '), readAddress('4096')]).toEqual([
      {ok: true, value: 4096},
      {ok: true, value: 4096},
    ]);
    for (const typed of ['', '0x', '10.5', '-1', 'start'])
      expect(readAddress(typed), typed).toMatchObject({ok: false, problem: {place: 'base address'}});
    expect(kibText(1536)).toBe('1.5 KiB');
  });
});

describe('the inspector', () => {
  const of = (id: string): Inspected => {
    const release = releases.find((r) => r.id === id)!;
    const reading = {format: 'intel-hex' as const, image: shelf.image(id), faults: [], notes: []};
    return {name: id, sha256: release.sha256, sizeBytes: release.sizeBytes, reading, release};
  };
  const sheet = (file: Inspected, over: Partial<InspectorNow> = {}) =>
    inspectorSheet({
      ...{file, craft: juniper, found, releases, files: [], imageIn: (s) => images.get(s), against: null},
      ...over,
    });
  const right = of('meridian_4.2_gneiss-45_multirotor');

  it('shows identity, memory and what it would mean for the craft in hand', () => {
    const s = sheet(right);
    expect(s.identity).toContainEqual(['Board signature', 'gneiss45/m32/45ns']);
    expect(s.segments).toMatchObject({title: 'Memory, 1 segment', more: ''});
    expect(s.segments.rows).toEqual([{range: '0x1000–0xB3FF', bytes: '41984 B'}]);
    expect(s.fits!.rows).toEqual([
      {motors: 'all motors', verdict: 'fits', text: 'Board, flash, variant and settings hold.'},
    ]);
    expect(s.standing).toMatchObject({kind: 'plan', text: 'steady, signed'});
    expect(s.map).toMatchObject({chip: 'M32'});
  });
  it('without a craft or a survey it says nothing of one', () => {
    expect(sheet(right, {craft: undefined}).fits).toBeUndefined();
    expect(sheet(right, {found: undefined}).fits).toBeUndefined();
    expect(sheet(right, {found: {...found, escs: found.escs.slice(0, 2)}}).fits!.rows[0]!.motors).toBe('all motors');
    const unknown = found.escs.map((e, i) => (i ? e : {...e, hardware: undefined}));
    expect(sheet(right, {found: {...found, escs: unknown}}).fits!.rows).toEqual([
      {motors: 'motor 1', verdict: 'refused', text: 'Its board is not known.'},
      expect.objectContaining({motors: 'motors 2, 3 and 4', verdict: 'fits'}),
    ]);
  });
  it('refuses for other boards in words, and knows a reply module by its region', () => {
    expect(sheet(of('meridian_4.2_basalt-30_multirotor')).fits!.rows[0]!.text).toContain('It would burn the bridge.');
    const module = sheet(of('meridian_1.1_schist-40_reply-module'));
    expect(module.identity).toContainEqual(['Base firmware', 'Meridian 3.8 to 3.9']);
    expect(module.segments.rows[0]!.range).toMatch(/^0xE000–/);
  });
  it('says when nothing tells the board, and what is wrong with a file, eight faults at most', () => {
    const read = inspectImage('raw.bin', new Uint8Array(64), {base: 0x2000_0000});
    if (!read.ok) throw new Error(read.problem.meaning);
    expect(sheet({...read.value, release: undefined})).toMatchObject({
      ...{identity: undefined, map: undefined, standing: {text: 'own file, not signed', kind: 'wait'}},
    });
    const lines = `${':0400000001020304F3\n'.repeat(12)}`;
    const bad = inspectImage('bad.hex', new TextEncoder().encode(lines), {base: undefined});
    if (!bad.ok) throw new Error(bad.problem.meaning);
    const {faults, fits} = sheet({...bad.value, release: undefined});
    expect(faults!.title).toMatch(/^\d+ faults: it is not kept and cannot be written$/);
    expect(faults!.lines).toHaveLength(8);
    expect(faults!.lines[0]).toMatchObject({
      place: expect.stringMatching(/^line 1/),
      text: expect.stringMatching(/^bad/),
    });
    expect([faults!.more, fits]).toEqual([expect.stringMatching(/^and \d+ more\.$/), undefined]);
  });
  it('is held against another image byte by byte, against an ESC page by page', () => {
    const other = releases.find((r) => r.id === 'meridian_3.9_gneiss-45_multirotor') ?? releases[1]!;
    const s = sheet(right, {against: other.sha256});
    expect(s.difference).toMatchObject({kind: 'bytes', pageBytes: 1024});
    expect(s.others.map((o) => o.value)).toEqual(expect.arrayContaining(['esc 0', other.sha256]));
    expect(s.others.map((o) => o.value)).not.toContain(right.sha256);
    expect(sheet(right, {against: 'esc 2'}).difference).toMatchObject({
      ...{kind: 'pages', text: expect.stringMatching(/^33 of 41 pages differ from motor 3, by the checksums/)},
    });
    expect(sheet(of('meridian_1.1_schist-40_reply-module'), {against: 'esc 0'}).difference!.kind).toMatch(/pages|chip/);
    const k8 = found.escs.map((e) => ({...e, boot: {...e.boot, chip: 'K8'}}));
    expect(sheet(right, {against: 'esc 0', found: {...found, escs: k8}}).difference).toMatchObject({
      kind: 'other chip',
    });
    expect(sheet(right, {against: 'gone'}).difference).toBeUndefined();
  });
  it('saves it as Intel HEX that reads back the same, and as raw bytes', () => {
    const hex = hexFile(right);
    expect(hex.name).toBe('meridian_4.2_gneiss-45_multirotor.hex');
    const back = inspectImage(hex.name, new TextEncoder().encode(hex.content as string), {base: undefined});
    expect(back.ok && back.value.reading.image).toEqual(right.reading.image);
    expect(rawFile(right)).toMatchObject({name: 'meridian_4.2_gneiss-45_multirotor from 0x1000.bin'});
    const apart = {segments: [0, 0x8000_0000].map((start) => ({start, bytes: new Uint8Array(4)}))};
    const far = {...right, reading: {...right.reading, image: apart}};
    expect([rawFile(far), sheet(far).rawFrom]).toEqual([undefined, undefined]);
  });
});

describe('the hex difference', () => {
  const [old, now] = [meridianImage('3.9', gneiss), meridianImage('4.2', gneiss)];
  it('counts bytes and pages, and marks the bytes that differ on both sides', () => {
    const sheet = hexDifference(now, old, 1024);
    expect(sheet).toMatchObject({isEqual: false, pages: '17', cut: ''});
    const row = hexRowSheet(now, old, sheet.rows[0]!);
    expect(row.address).toBe('0x1000');
    expect(row.sides[0]!.map((b) => b.differs)).toEqual(row.sides[1]!.map((b) => b.differs));
    expect(row.sides[0]!.some((b) => b.differs)).toBe(true);
  });
  it('says when all is equal, and where one image ends', () => {
    expect(hexDifference(now, now, 1024)).toMatchObject({isEqual: true, rows: []});
    const short = {segments: [{start: 0x1000, bytes: now.segments[0]!.bytes.slice(0, 8)}]};
    expect(
      hexRowSheet(now, short, 0x1000)
        .sides[1]!.map((b) => b.text)
        .slice(6, 10),
    ).toEqual([...[expect.stringMatching(/^[0-9A-F]{2}$/), expect.stringMatching(/^[0-9A-F]{2}$/), '··', '··']]);
  });
});
