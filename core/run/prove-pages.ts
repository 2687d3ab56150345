/** The proof of the firmware: every page of the images by its checksum, and that what must be empty is. */
import type {Chip} from '../firmware/chips';
import {clearablePages, isBlankPage} from '../firmware/module-region';
import {planPages} from '../firmware/page-plan';
import {addressText} from '../hex';
import {countOf, isSome} from '../proof/proof';
import {sideBySide} from '../side-by-side';
import {contradict} from './contradicted';
import {pageChecksum} from '../bench/esc-access';
import type {RunContext} from './run-context';
import type {ProvenTarget, StepOf} from '../order/steps';
import {survey} from '../bench/survey';
import {endOf} from './write-firmware';

export async function provePages(run: RunContext, step: StepOf<'prove-pages'>): Promise<void> {
  await run.note(step, 'begin', 'Checksum of every page of the images.');
  const targets = step.targets.filter((t) => !run.isIsolated(t));
  const checks = await sideBySide(targets, async (target) => {
    const chip = await run.enter(target);
    const check = await checkPages(run, chip, target, (share) =>
      run.progress(step, share, `Motor ${target.output + 1}: checksums`, {output: target.output}),
    );
    await run.leave(target);
    return {...check, target};
  });
  const bad = checks.find((c) => c.wrong);
  if (bad) {
    run.found = await survey(run.client, {at: run.host.today(), known: run.known});
    await contradict(run, {...bad.wrong!, at: bad.target.output, of: 'firmware'});
  }
  const count = countOf(checks.reduce((sum, c) => sum + c.pages, 0));
  const on = checks.filter((c) => c.pages > 0).map(({target: {output, serial}}) => ({output, serial}));
  if (count === undefined || !isSome(on)) return run.end(step, 'No page was there to check: nothing is proven by it.');
  const empty = checks.reduce((sum, c) => sum + c.empty, 0);
  const clear = empty ? `; ${empty} pages behind it are empty, as they must be` : '';
  await run.prove(step, {
    kind: 'pages',
    text: `${count} of ${count} page checksums equal the image, ${on.length} ${on.length === 1 ? 'ESC' : 'ESCs'}${clear}`,
    on,
    count,
  });
}

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
