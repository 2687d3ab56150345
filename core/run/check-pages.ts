/** Every page of an ESC's images by its checksum, and that what must be empty is. */
import type {Chip} from '../firmware/chips';
import {clearablePages, isBlankPage} from '../firmware/module-region';
import {planPages} from '../firmware/page-plan';
import {addressText} from '../hex';
import {pageChecksum} from '../bench/esc-access';
import type {RunContext} from './run-context';
import type {ProvenTarget} from '../order/steps';
import {endOf} from './write-image';

export interface PageCheck {
  /** Pages of images that are as they must be. */
  readonly pages: number;
  /** Pages behind the image that are empty, as they must be. */
  readonly empty: number;
  /** The first page that is not; the rest was not looked at. */
  readonly wrong?: {readonly place: string; readonly meaning: string};
}

/** Compares every page of the images with flash, and what must be empty with nothing. The ESC must be in its bootloader. */
export async function checkPages(
  run: RunContext,
  chip: Chip,
  {output, images, noModule}: ProvenTarget,
  onShare: (share: number) => void,
): Promise<PageCheck> {
  const wire = run.wire(output);
  const isWrong = (address: number, what: string) => ({
    place: wire.name,
    meaning: `Page ${addressText(address)} ${what}.`,
  });
  let pages = 0;
  let empty = 0;
  for (const {part, sha256} of images) {
    const plan = planPages(chip, await run.host.image(sha256), [], part);
    for (const page of plan.image) {
      if ((await pageChecksum(wire, chip, page.address)) !== page.crc32)
        return {pages, empty, wrong: isWrong(page.address, 'is not the page of the image')};
      pages++;
      onShare(pages / (plan.image.length * images.length));
    }
    if (part !== 'base' || !noModule) continue;
    for (const address of clearablePages(endOf(plan, chip), chip)) {
      if (!isBlankPage(chip, await pageChecksum(wire, chip, address)))
        return {
          pages,
          empty,
          wrong: isWrong(address, 'must be empty and is not: a reply module, or the rest of one, is there'),
        };
      empty++;
    }
  }
  return {pages, empty};
}
