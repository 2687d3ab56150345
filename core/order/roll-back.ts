/** The order that puts back what another order changed: images, settings pages and flight controller as they were. */
import type {ImagePart} from '../firmware/page-plan';
import {failure, success, type Problem, type Result} from '../problem';
import {controllerDifferences, controllerFields} from '../controller/fields';
import {motorList} from '../craft/motor-list';
import {firmwareText, foundEsc, hasModuleRest, type Found, type FoundEsc} from '../bench/found';
import {heldImage, type ImageSupply} from '../firmware/planned-image';
import {fitOf} from '../compare/esc-firmware';
import {type LeftOut, type WorkOrder} from './work-order';
import {controllerStep, cycleStep, imageToWrite, writeStep} from './shared-steps';
import type {ImageToWrite, ProvenTarget, Step} from './steps';
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

/** Builds the order. ESCs whose image of before is not at hand, or never could be written, are left out with the reason. */
export function buildRollBack(question: RollBackQuestion): Result<WorkOrder> {
  const {craft, order, found, at, id} = question;
  if (found.road !== 'controller')
    return failure({
      code: 'roll-back-road',
      place: 'single-wire adapter',
      meaning: 'A whole craft is rolled back through its flight controller only.',
      remedy: 'Plan the firmware of before and carry out a round; the snapshot in the Logbook has the settings.',
    });
  const leftOut: LeftOut[] = [];
  const steps: Step[] = [];
  const proven: ProvenTarget[] = [];
  const pages: {output: number; serial: string; page: Uint8Array}[] = [];
  for (const before of order.found.escs) {
    const now = foundEsc(found, before.output);
    const back = now && imagesBack(question, before, now);
    if (!back || 'code' in back) {
      leftOut.push({output: before.output, problem: back ?? gone(before.output)});
      continue;
    }
    const writes = back.filter((write) => write.pages > 0);
    const target = {output: before.output, serial: before.boot.serial};
    for (const write of writes)
      steps.push(
        writeStep(before, write, {
          title: `Put back ${write.image.name}`,
          note: `motor ${before.output + 1}: ${write.pages} of ${write.pages + write.equal} pages differ`,
        }),
      );
    pages.push({...target, page: before.settingsPage});
    // What needed no writing is proven too: that it is there is looked at, not remembered.
    proven.push({
      ...target,
      images: back.map(({part, image}) => ({part, sha256: image.sha256})),
      noModule: !before.module,
    });
  }
  const first = leftOut[0];
  if (!pages.length && first) return failure(first.problem);
  const all = order.found.escs.length;
  const outputs = pages.map((p) => p.output);
  const hadWrites = steps.length > 0;
  steps.unshift({
    id: 'snapshot',
    kind: 'snapshot',
    title: 'Take a snapshot',
    note: motorList(outputs, all),
    outputs,
    estimateMs: 8_000,
  });
  if (hadWrites) steps.push(cycleStep);
  steps.push({
    id: 'restore',
    kind: 'restore-settings',
    title: 'Put the settings back',
    note: `byte for byte as before, ${motorList(outputs, all)}`,
    targets: pages,
    estimateMs: outputs.length * 1_400,
  });
  steps.push(...controllerBack(order.found, found));
  steps.push({
    id: 'prove-pages',
    kind: 'prove-pages',
    title: 'Prove the firmware',
    note: `every page, ${motorList(outputs, all)}`,
    targets: proven,
    estimateMs: 1_200,
  });
  const {plan} = craft;
  return success({
    id,
    craftId: craft.id,
    createdAt: at,
    plan,
    cells: craft.battery.cells,
    found,
    leftOut,
    rollsBack: order.id,
    steps,
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
    const planned = heldImage(supply, part === 'base' ? before.identity : before.module, part);
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

function controllerBack(before: Found, now: Found): Step[] {
  const [was, is] = [before.controller?.config, now.controller?.config];
  if (!was || !is) return [];
  const config = Object.fromEntries(controllerFields.map(({field}) => [field, was[field]]));
  return controllerStep('Put the flight controller back', config, controllerDifferences(is, was));
}

const gone = (output: number): Problem => ({
  code: 'other-esc',
  place: `motor ${output + 1}`,
  meaning: 'It is silent, or another ESC is there now.',
  remedy: 'It is left out.',
});
