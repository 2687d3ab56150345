/** Writes one image to one ESC behind the flight controller; images for different ESCs go side by side. */
import {findChip, pageWriteMs} from '../../firmware/chips';
import {isForeign, type FoundEsc} from '../../bench/found';
import {keepMs} from '../../order/estimated-time';
import {imageToWriteSchema, stepText, targetSchema} from '../../order/step-schemas';
import type {EscWork} from '../../order/esc-work';
import type {ImageToWrite, Step, StepOf, StepTarget} from '../../order/steps';
import {ProblemError} from '../../problem';
import * as z from 'zod';
import {checkBattery} from '../steps/check-battery';
import {eachEsc, StepError, type EscJob} from '../steps/isolate';
import type {JournalEntry} from '../journal';
import type {RunContext} from '../run-context';
import type {RunnableKind} from '../steps/runnable-kind';
import {keepForeign} from '../steps/keep-foreign';
import {writeImage} from '../steps/write-image';

declare module '../../order/steps' {
  interface StepShapes {
    'write-firmware': ImageToWrite & {readonly target: StepTarget};
  }
}

export const writeFirmware: RunnableKind<'write-firmware'> = {
  kind: 'write-firmware',
  shape: imageToWriteSchema.extend({...stepText, kind: z.literal('write-firmware'), target: targetSchema}),
  plan: ({found, works}) => (found.road === 'controller' ? works.flatMap(planned) : []),
  inverse: ({escs}) =>
    escs.flatMap(({before, images}) =>
      images
        .filter((write) => write.pages > 0)
        .map((write) =>
          stepOf(before, write, {
            title: `Put back ${write.image.name}`,
            note: `motor ${before.output + 1}: ${write.pages} of ${write.pages + write.equal} pages differ`,
          }),
        ),
    ),
  touches: ({target}) => [{of: 'firmware', at: target.output}],
  images: (step) => ({target: step.target, writes: [step]}),
  leavable: 'Writing firmware',
  isGrouped: true,
  run: writeSideBySide,
};

function planned({order: {esc}, writes}: EscWork): StepOf<'write-firmware'>[] {
  const loses = esc.module && writes[0]?.part === 'base';
  return writes.map((write) => {
    const {part, image, pages, equal} = write;
    const takes = loses && part === 'base' ? '; takes the reply module away' : '';
    const again = write.rewrite ? ', all written again' : ` of ${pages + equal} pages differ`;
    const kept = isForeign(esc) ? '; the firmware it came with is read and kept first' : '';
    const note = `motor ${esc.output + 1}: ${pages}${write.rewrite ? ' pages' : ''}${again}${takes}${kept}`;
    return stepOf(esc, write, {title: `Write ${image.name}`, note});
  });
}

/** `text` says what a person reads of it. */
function stepOf(esc: FoundEsc, write: ImageToWrite, text: Pick<Step, 'title' | 'note'>): StepOf<'write-firmware'> {
  const {output, boot} = esc;
  return {
    ...write,
    ...text,
    id: write.part === 'base' ? `write-${output}` : `write-${output}-module`,
    kind: 'write-firmware',
    target: {output, serial: boot.serial},
    estimateMs: write.pages * pageWriteMs(findChip(boot.chip)!) + keepMs(esc),
  };
}

/** Each ESC's images in their order, all ESCs at once. */
async function writeSideBySide(
  run: RunContext,
  steps: readonly StepOf<'write-firmware'>[],
  entries: readonly JournalEntry[],
): Promise<void> {
  await checkBattery(run);
  const outputs = [...new Set(steps.map((s) => s.target.output))];
  const jobs = outputs.map((output): EscJob => {
    const own = steps.filter((s) => s.target.output === output);
    const work = async () => {
      for (const step of own) {
        try {
          await writeStep(run, step, entries);
        } catch (error) {
          throw error instanceof ProblemError ? new StepError(step, error.problem) : error;
        }
      }
    };
    return {step: own[0]!, output, work};
  });
  await eachEsc(run, jobs);
}

async function writeStep(
  run: RunContext,
  step: StepOf<'write-firmware'>,
  entries: readonly JournalEntry[],
): Promise<void> {
  const name = run.wire(step.target.output).name;
  run.checkCancel();
  await run.note(step, 'begin', `${step.title}, ${name}. The identity page goes first out and last in.`);
  const chip = await run.enter(step.target);
  if (step.part === 'base') await keepForeign(run, chip, {step, target: step.target, entries});
  await run.note(step, 'done', await writeImage(run, chip, {...step, step, entries}));
}
