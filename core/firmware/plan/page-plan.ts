/** Which pages of an ESC change when an image is written, and in which order. */
import {pageWriteMs, type AddressRange, type Chip} from '../chips';
import type {Image} from '../image';
import {isBlankPage} from './module-region';
import {contentOf, type PlannedPage} from '../formats/image-content';

export type {PlannedPage};

export interface PagePlan {
  /** Pages of the image, by address. The first one holds the identity block. */
  readonly image: readonly PlannedPage[];
  /**
   * Pages to write, the identity page last, so that a half-written image never looks valid. Only what lies in the region of a
   * reply module comes behind it; the identity block's checksum covers that too.
   */
  readonly toWrite: readonly PlannedPage[];
  readonly equalCount: number;
  readonly estimateMs: number;
}

/** Part of an ESC's flash that an image goes to. */
export type ImagePart = 'base' | 'module';

/** Where a part lives. Throws when the chip has no such region: the fit refuses that before. */
export function regionOf(chip: Chip, part: ImagePart): AddressRange {
  if (part === 'base') return chip.application;
  if (!chip.module) throw new RangeError(`${chip.name} has no region for a reply module`);
  return chip.module;
}

/**
 * Plans a write.
 * @param known CRC-32 of the application pages now in flash, by index from the application's start;
 *   undefined where unknown: such a page is written.
 */
export function planPages(
  chip: Chip,
  image: Image,
  known: readonly (number | undefined)[],
  part: ImagePart = 'base',
): PagePlan {
  const region = regionOf(chip, part);
  const firstIndex = (region.start - chip.application.start) / chip.pageBytes;
  const {pages} = contentOf(image, chip, region);
  const identity = pages[0];
  const isClearedWithIt = ({address}: PlannedPage) => part === 'base' && !!chip.module && address >= chip.module.start;
  const differs = pages.filter((page, i) => page.crc32 !== known[firstIndex + i]);
  const body = differs.filter((page) => page !== identity && !isClearedWithIt(page));
  // Erasing the identity page clears the module's region: what an image has there is written behind it, all but empty pages.
  const behind = differs.length ? pages.filter((page) => isClearedWithIt(page) && !isBlankPage(chip, page.crc32)) : [];
  // The identity page is written again whenever anything changes: it goes first out and last in.
  const toWrite = differs.length && identity ? [...body, identity, ...behind] : [];
  return {
    image: pages,
    toWrite,
    equalCount: pages.length - toWrite.length,
    estimateMs: toWrite.length * pageWriteMs(chip),
  };
}
