/**
 * Writes the flight controller's own firmware by its loader: block after block from the first, checked as a whole, started
 * only when it checks. Whatever interrupts it, the loader stays, and writing begins anew.
 */
import * as z from 'zod';
import {crc32} from '../../checksums';
import {findControllerChip} from '../../controller/firmware/chips';
import {controllerIdentityOf} from '../../controller/firmware/fit';
import {
  controllerFirmwareName,
  controllerFirmwareSchema,
  runningName,
  type ControllerFirmware,
} from '../../firmware/controller-releases';
import {isInLoader} from '../../bench/survey';
import {extent, flatten} from '../../firmware/image';
import type {ImageRef} from '../../firmware/plan/planned-image';
import type {LoaderIdentity} from '../../link/operations';
import {sleep} from '../../link/port';
import {stepText} from '../../order/step-schemas';
import type {StepOf} from '../../order/steps';
import {ProblemError} from '../../problem';
import {textSchema} from '../../schemas';
import {stop, type RunContext} from '../run-context';
import type {RunnableKind} from '../steps/runnable-kind';
import {pageRetries} from '../steps/write-with-retries';

declare module '../../order/steps' {
  interface StepShapes {
    'write-controller': {
      readonly image: ImageRef;
      readonly board: string;
      readonly chip: string;
      readonly to: ControllerFirmware;
      /** A person named the board; nothing in it tells. */
      readonly claimed?: boolean;
      /** Written although it is there: what is there did not answer. */
      readonly again?: boolean;
    };
  }
}

/** Time for a block of 1 KiB, and for going into the loader and out of it, ms: estimates. */
const [blockMs, restartsMs] = [40, 2_000];
/** A board that starts anew is looked for as long as this, and this often, ms. */
const [backWithinMs, lookEveryMs] = [8_000, 400];

export const writeController: RunnableKind<'write-controller'> = {
  kind: 'write-controller',
  shape: z.object({
    ...stepText,
    kind: z.literal('write-controller'),
    image: z.object({name: textSchema, sha256: textSchema}),
    board: textSchema,
    chip: textSchema,
    to: controllerFirmwareSchema,
    claimed: z.boolean().optional(),
    again: z.boolean().optional(),
  }),
  plan({controllerWork: work}) {
    if (!work) return [];
    const {image, board, chip, to, from, bytes} = work;
    const blocks = Math.ceil(bytes / 1024);
    return [
      {
        ...{id: 'write-controller', kind: 'write-controller', image, board, chip, to},
        ...(!from && {again: true}),
        ...(work.isClaimed && {claimed: true}),
        title: `Write ${image.name} to the flight controller`,
        note: `${board}: ${from ? `runs ${from}; ` : 'no firmware runs; '}${blocks} blocks, by its loader`,
        estimateMs: blocks * blockMs + restartsMs,
      },
    ];
  },
  // What it ran before is written by planning that version: no image is kept of it.
  inverse: () => [],
  touches: () => [{of: 'loader', at: 'controller'}],
  leavable: 'Writing the flight controller’s firmware',
  // Where ESCs are reached as it is, they are finished first: then the part that can go wrong alone comes alone.
  before: ({controllerWork}) => (controllerWork?.isFirst ? undefined : 'set-controller'),
  run: (run, [step]) => write(run, step),
};

async function write(run: RunContext, step: StepOf<'write-controller'>): Promise<void> {
  const {client} = run;
  await run.note(step, 'begin', `${step.title}. What interrupts it leaves the loader in place.`);
  await client.hello();
  if (!isInLoader(client)) {
    const identity = await client.request('controller.identify', null);
    checkBoard(step, identity);
    if (runningName(identity) === controllerFirmwareName(step.to))
      return run.note(step, 'done', `The flight controller runs ${step.image.name} already.`);
    run.progress(step, 0, 'Flight controller: starting its loader');
    await client.request('loader.enter', null);
    await client.hello();
  }
  const loader = await client.request('loader.identify', null);
  checkBoard(step, loader);
  await bring(run, step, {loader, bytes: await bytesFor(run, step)});
  run.progress(step, 0.97, 'Flight controller: starting the new firmware');
  await leave(run);
  await comesBack(run, step);
  await run.note(step, 'done', `The flight controller runs ${step.image.name}: written, checked as a whole, started.`);
}

function checkBoard(step: StepOf<'write-controller'>, found: {readonly board: string; readonly chip: string}): void {
  const isNamed = step.claimed === true && found.board === '';
  if ((isNamed || found.board === step.board) && found.chip === step.chip) return;
  throw stop(
    'other-controller',
    'flight controller',
    `This is a ${found.board}, the order was made for a ${step.board}.`,
    'Connect the right craft, or survey and make a new order.',
  );
}

/** The image as bytes from the application's start; refused where it is not for this board after all. */
async function bytesFor(run: RunContext, step: StepOf<'write-controller'>): Promise<Uint8Array> {
  const image = await run.host.image(step.image.sha256);
  const chip = findControllerChip(step.chip)!;
  const identity = controllerIdentityOf(image, chip);
  if (!identity.ok) throw stop('no-fit', 'flight controller', identity.problem, 'Choose another image.');
  const {board, chip: made} = identity.value;
  if (board !== step.board || made !== step.chip)
    throw stop(
      'no-fit',
      'flight controller',
      `The image is for ${board}, this board is ${step.board}.`,
      'Choose another image.',
    );
  return flatten(image, {start: chip.application.start, end: extent(image)!.end});
}

interface Download {
  readonly loader: LoaderIdentity;
  readonly bytes: Uint8Array;
}

/** Writes until the whole of it checks. */
async function bring(run: RunContext, step: StepOf<'write-controller'>, d: Download): Promise<void> {
  const wanted = crc32(d.bytes);
  const held = () => run.client.request('loader.checksum', {address: d.loader.start, length: d.bytes.length});
  for (let attempt = 0; ; attempt++) {
    if (!(attempt === 0 && step.again) && (await held()) === wanted) return;
    if (attempt > pageRetries)
      throw stop(
        'controller-verify',
        'flight controller',
        `Written ${attempt} times, its firmware does not check: its flash is worn.`,
        'The loader stays. Resume to try again. If it fails again, replace the flight controller.',
      );
    if (attempt)
      await run.note(step, 'retry', 'The checksum of what was written is wrong; trying again from the first block.');
    await download(run, step, d);
  }
}

async function download(
  run: RunContext,
  step: StepOf<'write-controller'>,
  {loader: {blockBytes}, bytes}: Download,
): Promise<void> {
  const {client} = run;
  const total = Math.ceil(bytes.length / blockBytes);
  await client.request('loader.clear', null);
  for (let block = 0; block < total; block++) {
    const share = 0.05 + (0.9 * block) / total;
    const text = `Flight controller: block ${block + 1} of ${total}`;
    const done = {pagesDone: block, pagesTotal: total, bytesDone: block * blockBytes, bytesTotal: bytes.length};
    await run.betweenPages(step, {share, text, ...done});
    run.progress(step, share, text, done);
    try {
      await client.request('loader.download', {
        block,
        bytes: bytes.slice(block * blockBytes, (block + 1) * blockBytes),
      });
    } catch (error) {
      throw await named(run, error);
    }
  }
}

/** A block that stays unanswered while short transfers get through: a hub that drops long ones. */
async function named(run: RunContext, error: unknown): Promise<unknown> {
  const unanswered = error instanceof ProblemError && error.problem.code === 'unanswered';
  if (!unanswered || run.client.isClosed) return error;
  try {
    await run.client.request('power', null);
  } catch {
    // Nothing gets through: the link itself is what is wrong.
    return error;
  }
  return stop(
    'long-transfers',
    'USB hub',
    'Blocks of firmware get lost on the way while short messages get through: a hub drops long transfers.',
    'Plug the cable straight into the computer, then resume. The loader stays.',
  );
}

async function leave(run: RunContext): Promise<void> {
  try {
    await run.client.request('loader.leave', null);
  } catch (error) {
    if (!(error instanceof ProblemError) || run.client.isClosed) throw error;
    // An answer that got lost while it started looks the same; whether it is back is looked at next.
    if (error.problem.code !== 'unanswered' && error.problem.code !== 'not-in-loader') throw error;
  }
}

/** The board is found again by itself, with what was written. */
async function comesBack(run: RunContext, step: StepOf<'write-controller'>): Promise<void> {
  const {client} = run;
  const until = run.host.clock.now() + backWithinMs;
  for (;;) {
    try {
      await client.hello();
      if (!isInLoader(client)) {
        const running = runningName(await client.request('controller.identify', null));
        if (running === controllerFirmwareName(step.to)) return;
        throw stop('controller-check', 'flight controller', `It started ${running}.`, 'Resume: it is written again.');
      }
    } catch (error) {
      if (!(error instanceof ProblemError) || error.problem.code !== 'unanswered' || client.isClosed) throw error;
    }
    if (run.host.clock.now() > until) throw gone();
    await sleep(run.host.clock, lookEveryMs);
  }
}

const gone = () =>
  stop(
    'controller-gone',
    'flight controller',
    'Its firmware was written and checked, and it does not come back.',
    'In this order: wait ten seconds; pull the cable and plug it in again; plug it in with its button held, then resume, so that it is written again.',
  );
