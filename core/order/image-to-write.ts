/** How much of an image goes to an ESC. */
import {findChip} from '../firmware/chips';
import {planPages, type ImagePart} from '../firmware/plan/page-plan';
import type {FoundEsc} from '../bench/found';
import type {PlannedImage} from '../firmware/plan/planned-image';
import type {ImageToWrite} from './steps';

interface WriteWish {
  readonly part: ImagePart;
  /** CRC-32 of the application pages now in flash; empty where they are not to be trusted. */
  readonly known: readonly number[];
  readonly rewrite: boolean;
  readonly clearsModule: boolean;
}

/** Pages of `planned` that go to an ESC; none where it holds them all and nothing else asks for a write. */
export function imageToWrite(esc: FoundEsc, planned: PlannedImage, wish: WriteWish): ImageToWrite {
  const {part, known, rewrite, clearsModule} = wish;
  const plan = planPages(findChip(esc.boot.chip)!, planned.image, rewrite ? [] : known, part);
  const {name, sha256} = planned;
  const pages = plan.toWrite.length || (clearsModule ? 1 : 0);
  return {image: {name, sha256}, part, pages, equal: plan.image.length - pages, rewrite, clearsModule};
}
