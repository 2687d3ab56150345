/** The map of an ESC's flash: every page has its kind, and the key counts them. */
import {describe, expect, it} from 'vitest';
import {chips} from '../../firmware/chips';
import {pageMap} from './page-map';

const chip = Object.values(chips)[0]!;
const page = (n: number) => ({address: chip.application.start + n * chip.pageBytes, bytes: new Uint8Array(0)});
const plan = {image: [page(0), page(1), page(2)], toWrite: [page(2), page(0)], equalCount: 1, estimateMs: 0} as never;

describe('the page map', () => {
  it('has one cell for every page: bootloader and settings stay, pages are written, equal or empty', () => {
    const {pages} = pageMap(chip.name, plan, 'write');
    expect(pages).toHaveLength(chip.flashBytes / chip.pageBytes);
    const at = (address: number) => pages[address / chip.pageBytes]!.kind;
    expect(at(chip.bootloader.start)).toBe('boot');
    expect(at(chip.settings.start)).toBe('settings');
    expect([0, 1, 2, 3].map((n) => at(page(n).address))).toEqual(['write', 'equal', 'write', 'empty']);
    expect(pages[chip.settings.start / chip.pageBytes]!.text).toMatch(/^0x[0-9A-F]+: settings page, kept$/);
  });

  it('counts in its key what is written, or just what an image holds', () => {
    expect(pageMap(chip.name, plan, 'write').summary).toContain('2 pages to write, 1 pages already equal');
    expect(pageMap(chip.name, plan, 'image').summary).toContain('3 pages of the image');
    expect(() => pageMap('no such chip', plan, 'write')).toThrow(RangeError);
  });

  it('names the ends of the flash and of the image', () => {
    const {marks} = pageMap(chip.name, plan, 'write');
    expect([marks[0]!.share, marks.at(-1)!.share, marks.length]).toEqual([0, 1, 4]);
  });
});
