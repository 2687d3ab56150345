import {TestBed} from '@angular/core/testing';
import {crc32} from '@core/checksums';
import {chips, pageCount} from '@core/firmware/chips';
import {flatten} from '@core/firmware/image';
import {planPages} from '@core/firmware/plan/page-plan';
import {meridianImage} from '@simulator/firmware/meridian';
import {textOf} from '../../testing/fakes';
import {PageMapComponent} from './page-map.component';

const chip = chips.M32;
const gneiss = {board: 'Gneiss 45', deadTimeNs: 45};
const crcsOf = (version: string) => {
  const flat = flatten(meridianImage(version, gneiss), chip.application);
  return Array.from({length: pageCount(chip, chip.application)}, (_, i) =>
    crc32(flat.subarray(i * 1024, (i + 1) * 1024)),
  );
};

function map(from: string) {
  const fixture = TestBed.createComponent(PageMapComponent);
  fixture.componentRef.setInput('chipName', 'M32');
  fixture.componentRef.setInput('plan', planPages(chip, meridianImage('4.2', gneiss), crcsOf(from)));
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const count = (kind: string) =>
    [...host.querySelectorAll(`rect.${kind}`)].filter((r) => r.querySelector('title')).length;
  return {host, count};
}

describe('page map', () => {
  it('draws every page of the chip once, each as what happens to it', () => {
    const {count} = map('3.7');
    expect([count('boot'), count('write'), count('equal'), count('settings'), count('empty')]).toEqual([
      4, 33, 8, 1, 18,
    ]);
  });

  it('has nothing to write over the same image', () => {
    const {count, host} = map('4.2');
    expect([count('write'), count('equal')]).toEqual([0, 41]);
    expect(textOf(host)).toContain('0 pages to write');
  });

  it('marks where things begin, and says it all in words', () => {
    const {host} = map('3.9');
    expect([...host.querySelectorAll('text')].map((t) => t.textContent?.trim())).toEqual([
      '0x0000',
      '0x1000',
      '0xB400',
      '0xFFFF',
    ]);
    expect(host.querySelector('svg')!.getAttribute('aria-label')).toContain(
      '17 pages to write, 24 pages already equal',
    );
    expect(host.querySelector('rect title')!.textContent).toBe('0x0000: bootloader, never touched');
  });
});
