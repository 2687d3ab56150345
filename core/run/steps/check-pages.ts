/** Every page of an ESC's images by its checksum, and that what must be empty is. */
import type {FoundEsc} from '../../bench/found';
import {pageCount, type Chip} from '../../firmware/chips';
import type {Identity} from '../../firmware/identity';
import {blankPageCrc, clearablePages, isBlankPage} from '../../firmware/plan/module-region';
import {planPages, type ImagePart, type PagePlan} from '../../firmware/plan/page-plan';
import {identityOf} from '../../firmware/plan/planned-image';
import {addressText} from '../../hex';
import {pageChecksum} from '../../bench/esc-access';
import type {RunContext} from '../run-context';
import type {ProvenTarget} from '../../order/steps';
import {endOf} from './write-image';

export interface PageCheck {
  /** Pages of images that are as they must be. */
  readonly pages: number;
  /** Pages behind the image that are empty, as they must be. */
  readonly empty: number;
  /** What the ESC holds by these checks: identities of its images, and the checksum of every application page. */
  readonly holds: Pick<FoundEsc, 'identity' | 'module' | 'pageCrcs'>;
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
  let holds = erased(chip);
  for (const {part, sha256} of images) {
    const image = await run.host.image(sha256);
    const plan = planPages(chip, image, [], part);
    holds = withImage(holds, chip, {part, plan, identity: identityOf(image, chip.name, part)});
    for (const page of plan.image) {
      if ((await pageChecksum(wire, chip, page.address)) !== page.crc32)
        return {pages, empty, holds, wrong: isWrong(page.address, 'is not the page of the image')};
      pages++;
      onShare(pages / (plan.image.length * images.length));
    }
    if (part !== 'base' || !noModule) continue;
    for (const address of clearablePages(endOf(plan, chip), chip)) {
      if (!isBlankPage(chip, await pageChecksum(wire, chip, address)))
        return {
          pages,
          empty,
          holds,
          wrong: isWrong(address, 'must be empty and is not: a reply module, or the rest of one, is there'),
        };
      empty++;
    }
  }
  return {pages, empty, holds};
}

/** What no image covers is taken for empty: that is looked at where it matters. */
const erased = (chip: Chip): PageCheck['holds'] => ({
  identity: undefined,
  module: undefined,
  pageCrcs: Array.from({length: pageCount(chip, chip.application)}, () => blankPageCrc(chip)),
});

interface CheckedPart {
  readonly part: ImagePart;
  readonly plan: PagePlan;
  readonly identity: Identity | undefined;
}

/** Pages that are those of an image, laid over what was known of an ESC. */
function withImage(holds: PageCheck['holds'], chip: Chip, {part, plan, identity}: CheckedPart): PageCheck['holds'] {
  const pageCrcs = [...holds.pageCrcs];
  for (const {address, crc32} of plan.image) pageCrcs[(address - chip.application.start) / chip.pageBytes] = crc32;
  return {...holds, pageCrcs, [part === 'base' ? 'identity' : 'module']: identity};
}
