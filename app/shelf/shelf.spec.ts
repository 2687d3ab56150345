/** Shelf, inspector and hex difference with the demo's releases. */
import {provideRouter} from '@angular/router';
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {juniper} from '@demo/craft/juniper';
import type {Catalogue, Release} from '@core/firmware/releases';
import {writeIntelHex} from '@core/firmware/formats/intel-hex';
import type {Problem} from '@core/problem';
import {meridianImage} from '@simulator/firmware/meridian';
import {moduleImage} from '@simulator/firmware/reply-module';
import {Harness, shelf as memoryShelf} from '@simulator/testing/bench-harness';
import received from '../../demo/catalogue.json';
import {FleetStore} from '../state/fleet.store';
import {FileInbox} from '../state/file-inbox';
import {RecordStore} from '../state/record.store';
import {ShelfStore} from '../state/shelf.store';
import type {OwnFile} from '../store/database';
import {button, textOf} from '../testing/fakes';
import {inspectImage} from '@core/firmware/inspect-image';
import type {Inspected} from '@core/sheets/keeping/inspector';
import {HexDifferenceComponent} from './hex-difference.component';
import {InspectorComponent} from './inspector.component';
import {ShelfComponent} from './shelf.component';

const catalogue = JSON.parse(received.catalogue) as Catalogue;
const asFound = await new Harness().survey();
const gneiss = {board: 'Gneiss 45', deadTimeNs: 45};
const images = Object.fromEntries(catalogue.releases.map((r) => [r.sha256, memoryShelf.image(r.id)]));

function bed() {
  const kept: string[] = [];
  const shelf = {
    catalogue: signal<Catalogue | undefined>(catalogue),
    images: signal(images),
    files: signal<OwnFile[]>([]),
    loading: signal(false),
    problem: signal<Problem | undefined>(undefined),
    mishap: signal(undefined),
    image: (sha256: string) => Promise.resolve(images[sha256]),
    keepFile: (file: {name: string}) => Promise.resolve(kept.push(file.name)),
    removeFile: (sha256: string) => Promise.resolve(kept.push(`removed ${sha256}`)),
    load: () => Promise.resolve(kept.push('load')),
  };
  TestBed.configureTestingModule({
    providers: [
      {provide: ShelfStore, useValue: shelf},
      provideRouter([{path: '**', component: ShelfComponent}]),
      {provide: FleetStore, useValue: {current: signal(juniper)}},
      {provide: RecordStore, useValue: {found: signal(asFound)}},
    ],
  });
  return {shelf, kept};
}

describe('shelf', () => {
  function open() {
    const {shelf, kept} = bed();
    const fixture = TestBed.createComponent(ShelfComponent);
    fixture.detectChanges();
    const host = fixture.nativeElement as HTMLElement;
    const rows = () => [...host.querySelectorAll('p-table tbody tr')].map(textOf);
    const search = async (text: string) => {
      const input = host.querySelector<HTMLInputElement>('input[type=search]')!;
      input.value = text;
      input.dispatchEvent(new Event('input'));
      fixture.detectChanges();
      await fixture.whenStable();
    };
    return {shelf, kept, fixture, host, rows, search, text: () => textOf(host)};
  }

  it('lists every release, newest first, with what it asks of the flight controller', () => {
    const {rows, text} = open();
    expect(rows()).toHaveLength(26);
    expect(rows()[0]).toContain('Meridian 4.3-b1');
    expect(text()).toContain('Catalogue of 2026-11-09, 26 releases, 26 images kept and checked here.');
    expect(text()).toContain('requires a flight controller with Plumb 2.2');
  });

  it('the rows stand as they stood when an image arrives, so that a press that has begun still counts', () => {
    const {shelf, fixture, host} = open();
    const names = () => [...host.querySelectorAll<HTMLButtonElement>('p-table button.name')];
    const before = names();
    expect(before.length).toBe(26);
    shelf.images.set({
      ...images,
      [catalogue.controllers!.releases[0]!.sha256]: memoryShelf.image(catalogue.releases[0]!.id),
    });
    fixture.detectChanges();
    expect(names().every((name, i) => name === before[i])).toBe(true);
  });

  it.each([
    ['chalk 96', 3],
    ['withdrawn', 2],
    ['melody basalt', 2],
    ['reply module', 2],
    ['nothing like it', 0],
  ])('the search "%s" leaves %i', async (words, count) => {
    const {rows, search, text} = open();
    await search(words);
    expect(rows().filter((r) => !r.startsWith('No release'))).toHaveLength(count);
    if (!count) expect(text()).toContain('No release matches.');
  });

  it('a dropped file is read, shown and kept; one with faults is shown only', async () => {
    const {fixture, kept, text} = open();
    const drop = async (name: string, content: string) => {
      const bytes = new TextEncoder().encode(content);
      // The DOM of these tests has files without their bytes.
      const whole = {arrayBuffer: () => Promise.resolve(bytes.buffer)};
      const file = {name, size: bytes.length, ...whole, slice: () => whole} as unknown as File;
      await TestBed.inject(FileInbox).arrive([file]);
      fixture.detectChanges();
      await fixture.whenStable();
      await new Promise((r) => setTimeout(r, 30));
      fixture.detectChanges();
    };
    await drop('mine.hex', writeIntelHex(meridianImage('4.1', gneiss)));
    expect(kept).toEqual(['mine.hex']);
    expect(text()).toContain('own file, not signed');
    await drop('bad.hex', ':0400000001020304F3\n');
    expect(text()).toContain('2 faults: it is not kept and cannot be written');
    expect(text()).toContain('bad-checksum: Checksum F3, computed F2. The file is damaged.');
    await drop('raw.bin', 'xyz');
    expect(text()).toContain('raw.bin needs a base address');
  });
});

describe('inspector', () => {
  const release = (id: string): Release => catalogue.releases.find((r) => r.id === id)!;
  function inspect(file: Inspected) {
    bed();
    const fixture = TestBed.createComponent(InspectorComponent);
    fixture.componentRef.setInput('file', file);
    fixture.detectChanges();
    return {fixture, host: fixture.nativeElement as HTMLElement, text: () => textOf(fixture.nativeElement)};
  }
  const of = (id: string): Inspected => {
    const r = release(id);
    const image = memoryShelf.image(id);
    const reading = {format: 'intel-hex' as const, image, faults: [], notes: []};
    return {name: id, sha256: r.sha256, sizeBytes: r.sizeBytes, reading, release: r};
  };

  it('shows identity, digest, memory and what it would mean for the craft in hand', () => {
    const {text} = inspect(of('meridian_4.2_gneiss-45_multirotor'));
    expect(text()).toContain('Board signaturegneiss45/m32/45ns');
    expect(text()).toContain('0x1000–0xB3FF41984 B');
    expect(text()).toContain('41 pages of the image');
    expect(text()).toMatch(/all motors ?fits ?Board, flash, variant and settings hold\./);
  });

  it('refuses for other boards in words, and knows a reply module by its region', () => {
    expect(inspect(of('meridian_4.2_basalt-30_multirotor')).text()).toContain('It would burn the bridge.');
    TestBed.resetTestingModule();
    const module = inspect(of('meridian_1.1_schist-40_reply-module')).text();
    expect(module).toContain('Base firmwareMeridian 3.8 to 3.9');
    expect(module).toContain('0xE000–0xF3FF');
  });

  it('says when nothing tells the board', () => {
    const read = inspectImage('raw.bin', new Uint8Array(64), {base: 0x2000_0000});
    if (!read.ok) throw new Error(read.problem.meaning);
    const {text} = inspect({...read.value, release: undefined});
    expect(text()).toContain('Nothing says for which board it is, so no ESC gets it.');
    expect(text()).toContain('0x20000000–0x2000003F');
  });

  it('saves what it shows as Intel HEX and as raw bytes', async () => {
    const saved: {name: string; size: number}[] = [];
    vi.stubGlobal('URL', {createObjectURL: (b: Blob) => String(b.size), revokeObjectURL: () => undefined});
    vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
      saved.push({name: this.download, size: Number(this.href.split('/').at(-1))});
    });
    const {host} = inspect(of('meridian_1.1_schist-40_reply-module'));
    button(host, 'Save as Intel HEX').click();
    button(host, 'Save as raw bytes from 0xE000').click();
    expect(saved.map((s) => s.name)).toEqual([
      'meridian_1.1_schist-40_reply-module.hex',
      'meridian_1.1_schist-40_reply-module from 0xE000.bin',
    ]);
    expect(saved[1]!.size).toBe(moduleImage('1.1', {board: 'Schist 40', deadTimeNs: 40}).segments[0]!.bytes.length);
    await new Promise((r) => setTimeout(r, 1100));
    vi.unstubAllGlobals();
    vi.restoreAllMocks();
  });
});

describe('hex difference', () => {
  function compare(left: string, right: string) {
    const fixture = TestBed.createComponent(HexDifferenceComponent);
    fixture.componentRef.setInput('left', meridianImage(left, gneiss));
    fixture.componentRef.setInput('right', meridianImage(right, gneiss));
    fixture.componentRef.setInput('pageBytes', 1024);
    fixture.detectChanges();
    return {host: fixture.nativeElement as HTMLElement, text: textOf(fixture.nativeElement)};
  }
  it('counts bytes and pages, and marks the bytes that differ', () => {
    const {host, text} = compare('4.2', '3.9');
    expect(text).toMatch(/bytes differ, in 17 pages of 1024 B/);
    const first = host.querySelector('tbody tr')!;
    expect(textOf(first)).toContain('0x1000');
    expect(first.querySelectorAll('.off').length % 2).toBe(0);
  });
  it('says when all is equal', () => expect(compare('4.2', '4.2').text).toContain('Every byte is the same.'));
});
