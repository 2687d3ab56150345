import type {AddressRange} from './chips';

/** A run of bytes at an address. The bytes belong to the image and are not to be changed. */
export interface Segment {
  readonly start: number;
  readonly bytes: Uint8Array;
}

/** Sorted segments that neither touch nor overlap. */
export interface Image {
  readonly segments: readonly Segment[];
}

/** First address used and first address after the image; undefined for an image without bytes. */
export function extent(image: Image): AddressRange | undefined {
  const first = image.segments[0];
  const last = image.segments.at(-1);
  return first && last ? {start: first.start, end: last.start + last.bytes.length} : undefined;
}

/** Fresh copy of `range`, gaps filled with 0xFF as erased flash reads. */
export function flatten(image: Image, range: AddressRange): Uint8Array {
  const flat = new Uint8Array(range.end - range.start).fill(0xff);
  for (const {start, bytes} of image.segments) {
    const from = Math.max(start, range.start);
    const to = Math.min(start + bytes.length, range.end);
    if (from < to) flat.set(bytes.subarray(from - start, to - start), from - range.start);
  }
  return flat;
}

type FaultKind =
  | 'bad-checksum'
  | 'bad-length'
  | 'bad-character'
  | 'missing-end'
  | 'conflicting-overlap'
  | 'data-after-end'
  | 'unknown-record'
  | 'out-of-range'
  /** Stands last where so many faults were found that the rest is only counted. */
  | 'more-faults'
  | 'bad-block';

export interface ImageFault {
  /** Line from 1; for UF2 the block number from 0, as its specification counts. */
  readonly line: number;
  /** 1-based column, where one character is to blame. */
  readonly column?: number;
  readonly kind: FaultKind;
  readonly text: string;
}

/** Something unusual that does no harm. */
export interface ImageNote {
  readonly line: number;
  readonly text: string;
}

export interface ImageReading {
  readonly image: Image;
  /** In the order of their lines. An image with faults is never written. */
  readonly faults: readonly ImageFault[];
  readonly notes: readonly ImageNote[];
}
