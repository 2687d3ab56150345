/** The proofs at the end of an order: pages, settings, replies. */
import type {Chip} from '../firmware/chips';
import {planPages} from '../firmware/page-plan';
import {formatControllerField} from '../craft/controller-fields';
import type {ParameterKey} from '../settings/definitions';
import {findDifferences, hasDifferences, type Differences, type ParameterDifference} from './difference';
import type {Found} from './found';
import type {WorkOrder} from './work-order';
import {pageChecksum} from './esc-access';
import {worstLoss, type ProofRecord, type ReplyMeasure} from './proof';
import {addressText} from '../firmware/pieces';
import {stop, type RunContext} from './run-context';
import type {LeavableStep, ProvenTarget, Step, StepOf} from './steps';
import {survey} from './survey';

export async function provePages(run: RunContext, step: StepOf<'prove-pages'>): Promise<void> {
  await run.note(step, 'begin', 'Checksum of every page of the images.');
  const targets = step.targets.filter((t) => !run.isIsolated(t));
  const counts = targets.map(() => 0);
  await Promise.all(
    targets.map(async (target, i) => {
      const chip = await run.enter(target);
      counts[i] = await checkPages(run, chip, target, (share) =>
        run.progress(step, share, `Motor ${target.output + 1}: checksums`, {output: target.output}),
      );
      await run.leave(target);
    }),
  );
  const checked = counts.reduce((sum, n) => sum + n, 0);
  await run.prove(step, {
    kind: 'pages',
    text: `${checked} of ${checked} page checksums equal the image, ${targets.length} ESCs`,
  });
}

/** Compares every page of the images with flash; returns how many. The ESC must be in its bootloader. */
export async function checkPages(
  run: RunContext,
  chip: Chip,
  {output, images}: ProvenTarget,
  onShare: (share: number) => void,
): Promise<number> {
  const wire = run.wire(output);
  let checked = 0;
  for (const {part, sha256} of images) {
    const {image: pages} = planPages(chip, await run.host.image(sha256), [], part);
    for (const [i, page] of pages.entries()) {
      if ((await pageChecksum(wire, chip, page.address)) !== page.crc32)
        throw stop(
          'proof-failed',
          wire.name,
          `Page ${addressText(page.address)} is not the page of the image.`,
          'Survey again: the new order writes it.',
        );
      checked++;
      onShare((i + 1) / pages.length);
    }
  }
  return checked;
}

export async function proveSettings(run: RunContext, step: StepOf<'prove-settings'>): Promise<void> {
  await run.note(step, 'begin', 'Reading every setting back.');
  const found = await survey(run.client, {
    at: run.host.today(),
    known: run.known,
    onProgress: (share, text) => run.progress(step, share, `Reading back, ${text}`),
  });
  run.found = found;
  const outputs = step.outputs.filter((output) => !run.isolated.has(output));
  const own = {...found, escs: found.escs.filter((e) => outputs.includes(e.output))};
  const missing = outputs.find((output) => !own.escs.some((e) => e.output === output));
  const differences = wantedDifferences(run.order, own);
  if (missing !== undefined || hasDifferences(differences)) {
    const first = differences.parameters[0];
    const what = first
      ? `${first.key} of motor ${first.output + 1}`
      : missing !== undefined
        ? `motor ${missing + 1}`
        : (differences.controller[0]?.field ?? differences.firmware[0]?.from ?? 'settings');
    throw stop(
      'proof-failed',
      what,
      'Read back, it is not what the plan says.',
      'Survey again: the new order sets it.',
    );
  }
  const count = own.escs.reduce((sum, e) => sum + Object.keys(e.settings?.values ?? {}).length, 0);
  const config = found.controller?.config;
  const controller = config
    ? `; ${formatControllerField('protocol', config.protocol)} with replies ${config.replies ? 'on' : 'off'} in the flight controller`
    : '';
  await run.prove(step, {kind: 'settings', text: `${count} ESC settings read back${controller}`});
}

/** Where the bench is not as this order should have left it. What a person left out of the order is not its business. */
function wantedDifferences({plan, leftSteps = [], steps}: WorkOrder, found: Found): Differences {
  const all = findDifferences(plan, found);
  const isLeft = (kind: LeavableStep) => leftSteps.includes(kind);
  const targets = steps.flatMap((s) => (s.kind === 'set-parameters' ? s.targets : []));
  const carried = found.escs.flatMap(({output, settings}): ParameterDifference[] => {
    const values = targets.find((t) => t.output === output)?.values ?? {};
    return (Object.keys(values) as ParameterKey[]).flatMap((key) => {
      const [from, to] = [settings?.values[key], values[key]!];
      return from === to ? [] : [{key, output, from, to}];
    });
  });
  return {
    firmware: isLeft('write-firmware') ? [] : all.firmware,
    parameters: isLeft('set-parameters') ? carried : all.parameters,
    controller: isLeft('set-controller') ? [] : all.controller,
  };
}

export async function proveReplies(run: RunContext, step: StepOf<'prove-replies'>): Promise<void> {
  await run.note(step, 'begin', 'Waiting for a person to hold.');
  run.progress(step, 0, 'Hold the button: idle, 30 %, 60 %, 2 s each.', {waitsFor: 'hold'});
  const measures = await run.host.measureReplies(step.outputs, step.poles, run.host.cancel);
  const record = replyProof(measures, run.host.today());
  await run.note(step, record.holds ? 'done' : 'stopped', record.text, {proof: record});
  if (record.holds) return;
  throw stop(
    'proof-failed',
    'replies',
    worstLoss(measures) === undefined ? 'No replies came.' : record.text,
    'Look at the loop budget on the Signal station; replies must not be lost.',
  );
}

/** The proof that reply measures give. */
export function replyProof(measures: readonly ReplyMeasure[], at: number): ProofRecord {
  const loss = worstLoss(measures);
  const asked = measures.reduce((sum, m) => sum + m.motors.reduce((s, motor) => s + motor.asked, 0), 0);
  const text =
    loss === undefined
      ? 'No replies were asked for: they are off in the flight controller.'
      : `worst reply loss ${(loss * 100).toFixed(1)} % over ${asked.toLocaleString('en')} replies at idle, 30 % and 60 %`;
  return {kind: 'replies', at, holds: loss === 0, text, replies: measures};
}

/** Steps that cannot be proven while an ESC is isolated. */
export const needsEveryEsc = (step: Step): boolean => step.kind === 'prove-replies';
