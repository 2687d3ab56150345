/** The end of the application range that a reply module may take: what lies there when no module is planned. */
import {crc32} from '../../checksums';
import {chips, type Chip} from '../chips';

/** CRC-32 of an erased page, by page size. */
const blankCrc = new Map(Object.values(chips).map((c) => [c.pageBytes, crc32(new Uint8Array(c.pageBytes).fill(0xff))]));

/** CRC-32 of an erased page. */
export const blankPageCrc = (chip: Chip): number => blankCrc.get(chip.pageBytes)!;

export const isBlankPage = (chip: Chip, crc: number): boolean => crc === blankCrc.get(chip.pageBytes);

/** Addresses of the pages of the module region behind a base image that ends at `imageEnd`; none where there is no region. */
export function clearablePages(imageEnd: number, chip: Chip): number[] {
  if (!chip.module) return [];
  const pages: number[] = [];
  for (let at = chip.module.start; at < chip.module.end; at += chip.pageBytes) if (at >= imageEnd) pages.push(at);
  return pages;
}

/** Pages of the module region, outside the image, that are not erased. `crcAt` tells the CRC-32 of the page at an address, if known. */
export function moduleRest(imageEnd: number, chip: Chip, crcAt: (address: number) => number | undefined): number[] {
  return clearablePages(imageEnd, chip).filter((address) => {
    const crc = crcAt(address);
    return crc !== undefined && !isBlankPage(chip, crc);
  });
}
