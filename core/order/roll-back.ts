/** The order that puts back what another order changed: images, settings pages and flight controller as they were. */
import type {ImagePart} from '../firmware/plan/page-plan';
import {failure, success, type Problem, type Result} from '../problem';
import {firmwareText, foundEsc, isForeign, hasModuleRest, type Found, type FoundEsc} from '../bench/found';
import {keptApplication} from '../firmware/plan/kept-application';
import {heldImage, type ImageSupply} from '../firmware/plan/planned-image';
import {fitOf} from '../compare/esc-firmware';
import {runningName} from '../firmware/controller-releases';
import {type LeftOut, type WorkOrder} from './work-order';
import {imageToWrite} from './image-to-write';
import type {StepMeanings} from './step-kind';
import type {ImageToWrite} from './steps';
import type {Craft} from '../craft/craft';

export interface RollBackQuestion {
  readonly id: string;
  readonly at: number;
  readonly craft: Craft;
  /** The order to undo. */
  readonly order: WorkOrder;
  /** The bench as it is now. */
  readonly found: Found;
  /** The shelf: releases, files and backups that the images of before are taken from. */
  readonly supply: ImageSupply;
}

/**
 * Builds the order of `kinds`. ESCs whose image of before is not at hand, or never could be written, are left out with
 * the reason.
 */
export function buildRollBack(question: RollBackQuestion, {all}: StepMeanings): Result<WorkOrder> {
  const {craft, order, found, at, id} = question;
  if (found.road !== 'controller')
    return failure({
      code: 'roll-back-road',
      place: 'single-wire adapter',
      meaning: 'A whole craft is rolled back through its flight controller only.',
      remedy: 'Plan the firmware of before and carry out a round; the snapshot in the Logbook has the settings.',
    });
  const leftOut: LeftOut[] = [];
  const escs: {before: FoundEsc; images: readonly ImageToWrite[]}[] = [];
  for (const before of order.found.escs) {
    const now = foundEsc(found, before.output);
    const images = now && imagesBack(question, before, now);
    if (!images || 'code' in images) leftOut.push({output: before.output, problem: images ?? gone(before.output)});
    else escs.push({before, images});
  }
  const first = leftOut[0];
  if (!escs.length && first) return failure(first.problem);
  return success({
    id,
    craftId: craft.id,
    createdAt: at,
    plan: craft.plan,
    cells: craft.battery.cells,
    found,
    leftOut,
    rollsBack: order.id,
    stays: [...controllerStays(order.found, found), ...escs.flatMap(({before}) => restErased(before))],
    steps: all.flatMap((kind) => kind.inverse({before: order.found, now: found, escs})),
  });
}

/** Images an ESC held before, each with the pages that differ now: none where it still holds it. */
function imagesBack(
  {craft, found, supply}: RollBackQuestion,
  before: FoundEsc,
  now: FoundEsc,
): ImageToWrite[] | Problem {
  if (now.boot.serial !== before.boot.serial) return gone(before.output);
  const place = `motor ${before.output + 1}`;
  const parts: readonly ImagePart[] = before.module ? ['base', 'module'] : ['base'];
  const writes: ImageToWrite[] = [];
  for (const part of parts) {
    const planned =
      part === 'base' && isForeign(before)
        ? keptApplication(supply, before)
        : heldImage(supply, part === 'base' ? before.identity : before.module, part);
    if (!planned)
      return {
        code: 'no-image-before',
        place,
        meaning: `The image it held before (${firmwareText(before)}) is not at hand, so it cannot be put back.`,
        remedy: 'It stays as it is. Put the file on the Shelf if you have it.',
      };
    const refused = fitOf({
      craft,
      found,
      esc: {...now, settings: before.settings},
      planned,
      part,
      identity: before.identity,
    }).reasons.find((r) => r.verdict === 'refused' && r.check !== 'standing');
    if (refused) return {code: 'no-fit', place, meaning: refused.text, remedy: 'It stays as it is.'};
    const write = imageToWrite(now, planned, {
      part,
      known: part === 'base' || !writes[0]?.pages ? now.pageCrcs : [],
      rewrite: false,
      clearsModule: part === 'base' && !before.module && (now.module !== undefined || hasModuleRest(now)),
    });
    writes.push(write);
  }
  return writes;
}

/** Firmware of a flight controller is not put back: no image is kept of what it ran, and behind it ESCs may be out of reach. */
function controllerStays(before: Found, now: Found): Problem[] {
  const [was, is] = [before.controller?.identity, now.controller?.identity];
  if (!is || (was && runningName(was) === runningName(is))) return [];
  return [
    {
      code: 'controller-stays',
      place: 'flight controller',
      meaning: `It stays at ${runningName(is)}${was ? `; before, it ran ${runningName(was)}` : ''}. A roll-back does not write its firmware.`,
      remedy: was
        ? `To go back, plan ${runningName(was)} on the Firmware station and carry out that order after this one.`
        : 'It ran no firmware before.',
    },
  ];
}

/** What an interrupted write left behind an image is not an image: it can only be erased. */
function restErased(before: FoundEsc): Problem[] {
  if (!hasModuleRest(before)) return [];
  return [
    {
      code: 'module-rest',
      place: `motor ${before.output + 1}`,
      meaning: `Before, it held ${firmwareText(before)}, left there by an interrupted write. The rest is erased and not put back.`,
      remedy: 'The firmware itself is as before. No action is needed.',
    },
  ];
}

const gone = (output: number): Problem => ({
  code: 'other-esc',
  place: `motor ${output + 1}`,
  meaning: 'It is silent, or another ESC is there now.',
  remedy: 'It is skipped.',
});
