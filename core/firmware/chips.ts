/** A run of flash addresses in bytes; `end` is the first address after it. */
export interface AddressRange {
  readonly start: number;
  readonly end: number;
}

/** What Bidex knows of a chip. Addresses and sizes in bytes. */
export interface Chip {
  readonly name: ChipName;
  readonly flashBytes: number;
  readonly pageBytes: number;
  readonly bootloader: AddressRange;
  readonly application: AddressRange;
  readonly settings: AddressRange;
  /** End of the application range that a reply module may take; the bootloader clears it when the base is written. */
  readonly module?: AddressRange;
  /** Speed of the single wire to its bootloader, bit/s; ten bits a byte. */
  readonly wireBaud: number;
  /** Whether the bootloader can compute the CRC-32 of a range itself. */
  readonly canChecksum: boolean;
  /** Fastest DShot (kbit/s) it can hear and answer. */
  readonly fastestReplyDshot: 150 | 300 | 600;
  /** Whether its firmware has the room to tell more than speeds with its replies. */
  readonly tellsMore: boolean;
}

export type ChipName = 'M32' | 'K8';

export const chips: Readonly<Record<ChipName, Chip>> = {
  M32: {
    name: 'M32',
    flashBytes: 0x10000,
    pageBytes: 1024,
    bootloader: {start: 0x0000, end: 0x1000},
    application: {start: 0x1000, end: 0xf800},
    settings: {start: 0xf800, end: 0xfc00},
    module: {start: 0xe000, end: 0xf800},
    wireBaud: 19_200,
    canChecksum: true,
    fastestReplyDshot: 600,
    tellsMore: true,
  },
  K8: {
    name: 'K8',
    flashBytes: 0x2000,
    pageBytes: 512,
    bootloader: {start: 0x1c00, end: 0x2000},
    application: {start: 0x0000, end: 0x1a00},
    settings: {start: 0x1a00, end: 0x1c00},
    wireBaud: 9_600,
    canChecksum: false,
    fastestReplyDshot: 300,
    tellsMore: false,
  },
};

export function findChip(name: string): Chip | undefined {
  return name === 'M32' || name === 'K8' ? chips[name] : undefined;
}

/** Of some chips the one that hears the least: what it cannot hear does not work. Names that nobody knows are passed over. */
export const slowestChip = (names: readonly (string | undefined)[]): Chip | undefined =>
  names.flatMap((name) => (name && findChip(name)) || []).sort((a, b) => a.fastestReplyDshot - b.fastestReplyDshot)[0];

/** Largest payload of one read or write on the wire, bytes. */
export const chunkBytes = 256;
/** Flash times of every supported chip, ms. */
export const eraseMs = 20;
export const writeMsPer128Bytes = 2;
/** Bytes that frame one bootloader command and its answer on the single wire. */
const wireOverheadBytes = 8;

/** Time on the single wire for `bytes` of payload plus framing, ms. */
export function wireMs(chip: Chip, bytes: number): number {
  return ((bytes + wireOverheadBytes) * 10_000) / chip.wireBaud;
}

/** Time to erase, write and check one page over the wire, ms: by checksum, or by reading it back. */
export function pageWriteMs(chip: Chip): number {
  const flash = eraseMs + (chip.pageBytes / 128) * writeMsPer128Bytes;
  return flash + wireMs(chip, 0) + pageTransferMs(chip) + pageCheckMs(chip);
}

/** Time to learn whether a page holds what it should, ms. */
const pageCheckMs = (chip: Chip): number => (chip.canChecksum ? wireMs(chip, 4) : pageTransferMs(chip));

function pageTransferMs(chip: Chip): number {
  const chunks = Math.ceil(chip.pageBytes / chunkBytes);
  return chunks * wireMs(chip, Math.min(chunkBytes, chip.pageBytes));
}

export const pageCount = (chip: Chip, range: AddressRange): number =>
  Math.ceil((range.end - range.start) / chip.pageBytes);
