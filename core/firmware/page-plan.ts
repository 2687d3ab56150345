/** Which pages of an ESC change when an image is written, and in which order. */
import {crc32} from '../checksums';
import {pageWriteMs, type Chip} from './chips';
import {flatten, type Image} from './image';

export interface PlannedPage {
  readonly address: number;
  /** Exactly one page, a view into the plan's own copy of the image. */
  readonly bytes: Uint8Array;
  readonly crc32: number;
}

export interface PagePlan {
  /** Pages of the image, by address. The first one holds the identity block. */
  readonly image: readonly PlannedPage[];
  /** Pages to write, the identity page last, so that a half-written image never looks valid. */
  readonly toWrite: readonly PlannedPage[];
  readonly equalCount: number;
  readonly estimateMs: number;
}

/**
 * Plans a write.
 * @param known CRC-32 of the application pages now in flash, by index from the application's start;
 *   undefined where unknown: such a page is written.
 */
export function planPages(chip: Chip, image: Image, known: readonly (number | undefined)[]): PagePlan {
  const flat = flatten(image, chip.application);
  const used = lastUsedPage(image, chip) + 1;
  const pages = Array.from({length: used}, (_, i): PlannedPage => {
    const bytes = flat.subarray(i * chip.pageBytes, (i + 1) * chip.pageBytes);
    return {address: chip.application.start + i * chip.pageBytes, bytes, crc32: crc32(bytes)};
  });
  const differs = pages.filter((page, i) => page.crc32 !== known[i]);
  const identity = pages[0];
  const body = differs.filter((page) => page !== identity);
  // The identity page is written again whenever anything changes: it goes first out and last in.
  const toWrite = differs.length && identity ? [...body, identity] : [];
  return {
    image: pages,
    toWrite,
    equalCount: pages.length - toWrite.length,
    estimateMs: toWrite.length * pageWriteMs(chip),
  };
}

function lastUsedPage(image: Image, chip: Chip): number {
  const last = image.segments.at(-1);
  return last ? Math.floor((last.start + last.bytes.length - 1 - chip.application.start) / chip.pageBytes) : -1;
}
