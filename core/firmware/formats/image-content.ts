/**
 * What an image holds in a region of a chip: its identity and its pages with their checksums. Worked out once for each
 * image, which nobody changes after it was read; an order asks for it once per ESC and edit.
 */
import {crc32} from '../../checksums';
import type {Result} from '../../problem';
import type {AddressRange, Chip} from '../chips';
import {checkApplication, type Identity, type IdentityFault} from '../identity';
import {flatten, type Image} from '../image';

export interface PlannedPage {
  readonly address: number;
  /** Exactly one page, a view into our own copy of the image. */
  readonly bytes: Uint8Array;
  readonly crc32: number;
}

interface ImageContent {
  readonly identity: Result<Identity, IdentityFault>;
  /** Pages of the image, by address. The first one holds the identity block. */
  readonly pages: readonly PlannedPage[];
}

const known = new WeakMap<Image, Map<string, ImageContent>>();

export function contentOf(image: Image, chip: Chip, region: AddressRange): ImageContent {
  const ofImage = known.get(image) ?? new Map<string, ImageContent>();
  known.set(image, ofImage);
  const id = `${chip.name} ${region.start} ${region.end}`;
  const content = ofImage.get(id) ?? readContent(image, chip, region);
  ofImage.set(id, content);
  return content;
}

/** Each half is worked out when it is first asked for: an identity is read of images that no page plan is ever made for. */
function readContent(image: Image, chip: Chip, region: AddressRange): ImageContent {
  let identity: ImageContent['identity'] | undefined;
  let pages: readonly PlannedPage[] | undefined;
  return {
    get identity() {
      return (identity ??= checkApplication(flatten(image, region)));
    },
    get pages() {
      return (pages ??= readPages(image, chip, region));
    },
  };
}

function readPages(image: Image, chip: Chip, region: AddressRange): PlannedPage[] {
  const flat = flatten(image, region);
  return Array.from({length: usedPages(image, chip, region)}, (_, i) => {
    const bytes = flat.subarray(i * chip.pageBytes, (i + 1) * chip.pageBytes);
    return {address: region.start + i * chip.pageBytes, bytes, crc32: crc32(bytes)};
  });
}

function usedPages(image: Image, chip: Chip, region: AddressRange): number {
  const last = image.segments.at(-1);
  return last ? Math.ceil((last.start + last.bytes.length - region.start) / chip.pageBytes) : 0;
}
