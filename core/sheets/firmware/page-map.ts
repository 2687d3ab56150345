/** The flash of one ESC, page by page: what stays, what is written, what is kept. */
import {findChip, type Chip} from '../../firmware/chips';
import type {PagePlan} from '../../firmware/plan/page-plan';
import {hexOf} from '../../hex';

type PageKind = 'boot' | 'write' | 'equal' | 'empty' | 'settings';

interface PageMap {
  /** By address, from 0 on. */
  readonly pages: readonly {readonly kind: PageKind; readonly text: string}[];
  /** Addresses worth naming: the start, the image's ends, the end; with their share of the flash, 0…1. */
  readonly marks: readonly {readonly share: number; readonly address: string}[];
  readonly key: readonly {readonly kind: PageKind; readonly text: string}[];
  /** The key in one sentence. */
  readonly summary: string;
}

const words: Readonly<Record<PageKind, string>> = {
  boot: 'bootloader, never touched',
  write: 'to write',
  equal: 'already equal',
  empty: 'empty',
  settings: 'settings page, kept',
};

/**
 * @param wording whether filled pages stand for pages to write, or just for pages of the image.
 * @throws RangeError for a chip that is not in the table.
 */
export function pageMap(chipName: string, plan: PagePlan, wording: 'write' | 'image'): PageMap {
  const chip = findChip(chipName);
  if (!chip) throw new RangeError(`No chip ${chipName}`);
  const pages = Array.from({length: chip.flashBytes / chip.pageBytes}, (_, i) => {
    const address = i * chip.pageBytes;
    const kind = kindAt(address, chip, plan);
    return {kind, text: `0x${hexOf(address, 4)}: ${words[kind]}`};
  });
  const key = keyOf(plan, wording);
  return {pages, marks: marksOf(chip, plan), key, summary: key.map((k) => k.text).join(', ')};
}

function kindAt(address: number, chip: Chip, {image, toWrite}: PagePlan): PageKind {
  if (address >= chip.bootloader.start && address < chip.bootloader.end) return 'boot';
  if (address === chip.settings.start) return 'settings';
  if (toWrite.some((p) => p.address === address)) return 'write';
  return image.some((p) => p.address === address) ? 'equal' : 'empty';
}

function marksOf({flashBytes, pageBytes}: Chip, {image}: PagePlan): PageMap['marks'] {
  const ends = image.length ? [image[0]!.address, image.at(-1)!.address + pageBytes] : [];
  const marks = [0, ...ends].map((at) => ({share: at / flashBytes, address: `0x${hexOf(at, 4)}`}));
  return [...marks, {share: 1, address: `0x${hexOf(flashBytes - 1, 4)}`}];
}

function keyOf({image, toWrite, equalCount}: PagePlan, wording: 'write' | 'image'): PageMap['key'] {
  const filled: PageMap['key'] =
    wording === 'image'
      ? [{kind: 'write', text: `${image.length} pages of the image`}]
      : [
          {kind: 'write', text: `${toWrite.length} pages to write`},
          {kind: 'equal', text: `${equalCount} pages already equal`},
        ];
  return [
    {kind: 'boot', text: words.boot},
    ...filled,
    {kind: 'settings', text: words.settings},
    {kind: 'empty', text: words.empty},
  ];
}
