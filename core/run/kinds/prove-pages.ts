/** The proof of the firmware: every page of the images by its checksum, and that what must be empty is. */
import * as z from 'zod';
import type {Found} from '../../bench/found';
import type {Craft} from '../../craft/craft';
import {motorList} from '../../words/motor-list';
import {longestSurveyMs} from '../../order/estimated-time';
import {provenTargetSchema, stepText} from '../../order/step-schemas';
import type {ProvenTarget, StepOf} from '../../order/steps';
import {countOf, isSome} from '../../proof/proof';
import {sideBySide} from '../../side-by-side';
import {checkPages, type PageCheck} from '../steps/check-pages';
import {contradict} from '../resume/contradicted';
import {pagesRow} from '../proof-rows';
import type {RunContext} from '../run-context';
import type {RunnableKind} from '../steps/runnable-kind';

declare module '../../order/steps' {
  interface StepShapes {
    'prove-pages': {readonly targets: readonly ProvenTarget[]};
  }
}

/** Whether the bench can be read in one go: behind a flight controller, and where there is one ESC alone. */
export const isReadAtOnce = ({loose}: Pick<Craft, 'loose'>, {road}: Found): boolean => road === 'controller' || !!loose;

const step = {id: 'prove-pages', kind: 'prove-pages', title: 'Prove the firmware'} as const;

export const provePages: RunnableKind<'prove-pages'> = {
  kind: 'prove-pages',
  shape: z.object({...stepText, kind: z.literal('prove-pages'), targets: z.array(provenTargetSchema)}),
  plan({craft, found, works}) {
    const targets = works.map((w) => w.proves).filter((t) => t.images.length > 0);
    if (!isReadAtOnce(craft, found) || !targets.length) return [];
    const escs = works.map((w) => w.order.esc);
    const motors = motorList(
      escs.map((e) => e.output),
      craft.arms.length,
    );
    const note = `every page read or checksummed, ${motors}`;
    return [{...step, note, targets, estimateMs: longestSurveyMs(escs)}];
  },
  inverse({before, escs}) {
    // What needed no writing is proven too: that it is there is looked at, not remembered.
    const targets = escs.map(({before: {output, boot, module}, images}): ProvenTarget => ({
      output,
      serial: boot.serial,
      images: images.map(({part, image}) => ({part, sha256: image.sha256})),
      noModule: !module,
    }));
    const motors = motorList(
      targets.map((t) => t.output),
      before.escs.length,
    );
    return [{...step, note: `every page, ${motors}`, targets, estimateMs: 1_200}];
  },
  touches: () => [],
  follows: ['firmware'],
  run: (run, [first]) => checkAll(run, first),
};

async function checkAll(run: RunContext, step: StepOf<'prove-pages'>): Promise<void> {
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
    run.found = await run.readAll();
    await contradict(run, {...bad.wrong!, at: bad.target.output, of: 'firmware'});
  }
  const count = countOf(checks.reduce((sum, c) => sum + c.pages, 0));
  const on = checks.filter((c) => c.pages > 0).map(({target: {output, serial}}) => ({output, serial}));
  if (count === undefined || !isSome(on)) return run.end(step, 'No page was there to check: nothing is proven by it.');
  const empty = checks.reduce((sum, c) => sum + c.empty, 0);
  const clear = empty ? `; ${empty} pages behind it are empty, as they must be` : '';
  await run.prove(step, pagesRow, {
    found: asChecked(run, checks),
    text: `${count} of ${count} page checksums equal the image, ${on.length} ${on.length === 1 ? 'ESC' : 'ESCs'}${clear}`,
    on,
    count,
  });
}

/** What was found, with the images whose pages were just checked in the place of what was there before. */
function asChecked(run: RunContext, checks: readonly (PageCheck & {readonly target: ProvenTarget})[]): Found {
  const found = run.found ?? run.order.found;
  return {
    ...found,
    escs: found.escs.map((esc) => {
      const check = checks.find((c) => c.target.output === esc.output);
      if (!check?.pages) return esc;
      const {serial} = check.target;
      return {...esc, boot: {...esc.boot, serial, applicationValid: true}, ...check.holds};
    }),
  };
}
