/** Steps that an order and a roll-back share: images to write, the battery cycle after them, the flight controller. */
import type {ControllerPlan} from '../controller/plan';
import {findChip, pageWriteMs} from '../firmware/chips';
import {planPages, type ImagePart} from '../firmware/page-plan';
import {controllerFieldName, type ControllerDifference} from '../controller/fields';
import type {FoundEsc} from '../bench/found';
import type {PlannedImage} from '../firmware/planned-image';
import type {ImageToWrite, Step, StepOf} from './steps';

export interface WriteWish {
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

/** The step that writes an image. `text` says what a person reads of it. */
export function writeStep(
  esc: FoundEsc,
  write: ImageToWrite,
  text: Pick<Step, 'title' | 'note'>,
): StepOf<'write-firmware'> {
  const {output, boot} = esc;
  return {
    ...write,
    ...text,
    id: write.part === 'base' ? `write-${output}` : `write-${output}-module`,
    kind: 'write-firmware',
    target: {output, serial: boot.serial},
    estimateMs: write.pages * pageWriteMs(findChip(boot.chip)!),
  };
}

/** After writing: the battery goes off and on again. */
export const cycleStep: StepOf<'cycle-battery'> = {
  id: 'cycle',
  kind: 'cycle-battery',
  title: 'Cycle the battery',
  note: 'you, when asked',
  estimateMs: 8_000,
};

/** The step that gives the flight controller `config`; none where nothing differs. */
export function controllerStep(
  title: string,
  config: Partial<ControllerPlan>,
  differences: readonly ControllerDifference[],
): StepOf<'set-controller'>[] {
  if (!differences.length) return [];
  return [
    {
      id: 'controller',
      kind: 'set-controller',
      title,
      note: `${differences.length} ${differences.length === 1 ? 'field' : 'fields'}, saved, then restarted`,
      config,
      changes: differences.map(({field, from, to}) => ({
        title: `${controllerFieldName(field)} ${from} → ${to}`,
        note: 'flight controller',
      })),
      estimateMs: 1_500,
    },
  ];
}
