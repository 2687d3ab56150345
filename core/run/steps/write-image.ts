/** Writes one image to one ESC: only the pages that differ, the identity page first out and last in. */
import type {Chip} from '../../firmware/chips';
import {clearablePages, moduleRest} from '../../firmware/plan/module-region';
import {planPages, regionOf, type PagePlan} from '../../firmware/plan/page-plan';
import {erasePage, pageChecksum, type EscWire} from '../../bench/esc-access';
import {foundEsc} from '../../bench/found';
import type {JournalEntry} from '../journal';
import {addressText} from '../../hex';
import {stop, type RunContext} from '../run-context';
import {capital} from '../../words/capital';
import type {ImageToWrite, Step, StepTarget} from '../../order/steps';
import {writeWithRetries} from './write-with-retries';

const left = 'It stays in its bootloader, which is whole, and runs nothing.';

interface WriteQuestion extends ImageToWrite {
  readonly step: Step;
  readonly target: StepTarget;
  /** What the journal already says about this step. */
  readonly entries: readonly JournalEntry[];
}

/** The ESC must be in its bootloader. Returns an account in words. */
export async function writeImage(run: RunContext, chip: Chip, q: WriteQuestion): Promise<string> {
  const {step, target, part} = q;
  const wire = run.wire(target.output);
  const plan = await pagesToWrite(run, chip, q);
  const total = Math.max(q.pages, plan.toWrite.length);
  const bytesTotal = total * chip.pageBytes;
  await writePages(run, {chip, wire, plan, total}, q);
  const pages = plan.toWrite;
  const equal = plan.image.length - pages.length;
  const text = `${capital(wire.name)}: ${pages.length} pages written and checked, ${equal} were equal.`;
  run.progress(step, 1, text, {
    output: target.output,
    pagesDone: total,
    pagesTotal: total,
    bytesDone: bytesTotal,
    bytesTotal,
    leftMs: 0,
  });
  if (part === 'base') await checkBase(chip, wire, plan);
  return text;
}

interface PageWork {
  readonly chip: Chip;
  readonly wire: EscWire;
  readonly plan: PagePlan;
  /** Pages the step counts: those of before an interruption too. */
  readonly total: number;
}

/** The identity page out first, then page after page, told as it goes. */
async function writePages(
  run: RunContext,
  {chip, wire, plan, total}: PageWork,
  {step, target: {output}}: WriteQuestion,
): Promise<void> {
  const pages = plan.toWrite;
  const {pageBytes} = chip;
  if (pages.length) await erasePage(wire, plan.image[0]!.address);
  const began = run.host.clock.now();
  for (const [index, page] of pages.entries()) {
    const done = total - pages.length + index;
    const leftMs = index ? ((run.host.clock.now() - began) / index) * (pages.length - index) : undefined;
    const at = (written: number) => ({
      share: done / total,
      text: `${capital(wire.name)}: page ${done + 1} of ${total}`,
      output,
      pagesDone: done,
      pagesTotal: total,
      bytesDone: done * pageBytes + written,
      bytesTotal: total * pageBytes,
      ...(leftMs !== undefined && {leftMs}),
    });
    const report = (written: number) => {
      const {share, text, ...more} = at(written);
      run.progress(step, share, text, more);
    };
    await run.betweenPages(step, at(0));
    report(0);
    await writeWithRetries(run, {chip, wire, page, step, left}, report);
    const {address} = page;
    const text = `${capital(wire.name)}: page ${addressText(address)} written and checked.`;
    await run.note(step, 'page', text, {address, output});
  }
}

/**
 * Pages to write, from what flash holds now. On the first attempt the snapshot of this order knows it; after an
 * interruption, and for a module whose base may just have been written, flash is asked. Whether the module region is
 * clear is looked at too: what is remembered of it may be of before an interruption.
 */
async function pagesToWrite(run: RunContext, chip: Chip, q: WriteQuestion): Promise<PagePlan> {
  const {step, target, part, rewrite, clearsModule} = q;
  const image = await run.host.image(q.image.sha256);
  const fresh = planPages(chip, image, [], part);
  const resumed = q.entries.some((e) => e.stepId === step.id && e.event === 'page');
  // A re-write that was interrupted goes on with what is missing: what it wrote is equal by now.
  if (rewrite && !resumed) return fresh;
  const begun = q.entries.some((e) => e.stepId === step.id && e.event === 'begin');
  const before = foundEsc(run.order.found, target.output);
  const isKnown = !begun && part === 'base' && before;
  const known = isKnown ? [...before.pageCrcs] : await askPages(run, chip, q, fresh);
  if (clearsModule && (await holdsModuleRest(run, chip, q, {known, imageEnd: endOf(fresh, chip)})))
    known[0] = undefined;
  return planPages(chip, image, known, part);
}

/** CRC-32 of the image's pages as flash holds them, by index from the application's start. */
async function askPages(
  run: RunContext,
  chip: Chip,
  q: WriteQuestion,
  fresh: PagePlan,
): Promise<(number | undefined)[]> {
  const {step, target, part} = q;
  const wire = run.wire(target.output);
  const known: (number | undefined)[] = [];
  const first = (regionOf(chip, part).start - chip.application.start) / chip.pageBytes;
  for (const [i, page] of fresh.image.entries()) {
    known[first + i] = await pageChecksum(wire, chip, page.address);
    run.progress(step, 0, `${capital(wire.name)}: comparing page ${i + 1} of ${fresh.image.length}`, {
      output: target.output,
      pagesDone: 0,
      pagesTotal: q.pages,
    });
  }
  return known;
}

/** First address behind an image, in whole pages. */
export const endOf = ({image}: PagePlan, chip: Chip): number => (image.at(-1)?.address ?? 0) + chip.pageBytes;

/** Whether anything lies where a module would; pages whose checksum is not known yet are asked for. */
async function holdsModuleRest(
  run: RunContext,
  chip: Chip,
  {target}: WriteQuestion,
  {known, imageEnd}: {readonly known: readonly (number | undefined)[]; readonly imageEnd: number},
): Promise<boolean> {
  const crcs = new Map<number, number>();
  for (const address of clearablePages(imageEnd, chip)) {
    const index = (address - chip.application.start) / chip.pageBytes;
    crcs.set(address, known[index] ?? (await pageChecksum(run.wire(target.output), chip, address)));
  }
  return moduleRest(imageEnd, chip, (address) => crcs.get(address)).length > 0;
}

/** The identity page went in last; when nothing was to be written it must be there already. */
async function checkBase(chip: Chip, wire: EscWire, plan: PagePlan): Promise<void> {
  const identity = plan.image[0]!;
  if (plan.toWrite.length || (await pageChecksum(wire, chip, identity.address)) === identity.crc32) return;
  throw stop('page-check', wire.name, 'Its identity page is not the one of the image.', 'Resume: it is written again.');
}
