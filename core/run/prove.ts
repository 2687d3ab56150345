/** The proofs of settings and replies at the end of an order. */
import {formatControllerField} from '../controller/fields';
import {whoAnswers} from '../bench/who-answers';
import {ProblemError} from '../problem';
import {plannedFor} from '../proof/planned';
import {countOf, isSome, type Count, type ProofRecord, type ProofScope} from '../proof/proof';
import {judgeReplies, type ReplyMeasure} from '../proof/replies';
import type {ParameterKey} from '../settings/definitions';
import {contradict, type Contradiction} from './contradicted';
import {findDifferences, type Differences, type ParameterDifference} from '../compare/difference';
import {foundEsc, type Found} from '../bench/found';
import {otherEsc, stop, type RunContext} from './run-context';
import type {LeavableStep, Step, StepOf} from '../order/steps';
import {survey} from '../bench/survey';

export async function proveSettings(run: RunContext, step: StepOf<'prove-settings'>): Promise<void> {
  await run.note(step, 'begin', 'Reading every setting back.');
  const found = await survey(run.client, {
    at: run.host.today(),
    known: run.known,
    onProgress: (share, text) => run.progress(step, share, `Reading back, ${text}`),
  });
  run.found = found;
  run.host.onFound?.(found);
  const outputs = step.outputs.filter((output) => !run.isolated.has(output));
  const own = {...found, escs: found.escs.filter((e) => outputs.includes(e.output))};
  for (const output of outputs) {
    const esc = foundEsc(found, output);
    const silent = found.silent.find((s) => s.output === output);
    if (!esc) throw new ProblemError(silent!.problem);
    if (esc.boot.serial !== foundEsc(run.order.found, output)?.boot.serial) throw otherEsc(`motor ${output + 1}`);
  }
  const first = firstContradiction(wantedDifferences(run, own));
  if (first) await contradict(run, first);
  const count = countOf(own.escs.reduce((sum, e) => sum + Object.keys(e.settings?.values ?? {}).length, 0));
  const on = own.escs.map(({output, boot: {serial}}) => ({output, serial}));
  if (count === undefined || !isSome(on)) return run.end(step, 'No setting could be read: nothing is proven by it.');
  const config = found.controller?.config;
  const controller = config
    ? `; ${formatControllerField('protocol', config.protocol)} with replies ${config.replies ? 'on' : 'off'} in the flight controller`
    : '';
  await run.prove(step, {kind: 'settings', text: `${count} ESC settings read back${controller}`, on, count});
}

function firstContradiction({firmware, parameters, controller}: Differences): Contradiction | undefined {
  const [setting, field, image] = [parameters[0], controller[0], firmware[0]];
  if (setting)
    return {
      place: `${setting.key} of motor ${setting.output + 1}`,
      meaning: 'Read back, it is not what the plan says.',
      at: setting.output,
      of: 'settings',
    };
  if (field)
    return {
      place: field.field,
      meaning: `Read back, the flight controller holds ${field.from} and not ${field.to}.`,
      at: 'controller',
      of: 'controller',
    };
  return (
    image && {
      place: `motor ${image.output + 1}`,
      meaning: `Read back, it runs ${image.from} and not ${image.to}.`,
      at: image.output,
      of: 'firmware',
    }
  );
}

/** Where the bench is not as this order should have left it. What a person left out of the order is not its business. */
function wantedDifferences(run: RunContext, found: Found): Differences {
  const {plan, leftSteps = [], steps} = run.order;
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
    controller: isLeft('set-controller') || run.controllerLost ? [] : all.controller,
  };
}

export async function proveReplies(run: RunContext, step: StepOf<'prove-replies'>): Promise<void> {
  await run.note(step, 'begin', 'Waiting for a person to hold.');
  run.progress(step, 0, 'Hold the button: idle, 30 %, 60 %, 2 s each.', {waitsFor: 'hold'});
  const measures = await run.host.measureReplies(step, run.host.cancel);
  const on = await whoAnswers(
    run.client,
    Array.from({length: step.outputs}, (_, output) => output),
  );
  const swapped = on.find(({output, serial}) => foundEsc(run.order.found, output)?.boot.serial !== serial);
  if (swapped) throw otherEsc(`motor ${swapped.output + 1}`);
  const {cycles} = await run.client.request('power', null);
  const verdict = judgeReplies(measures);
  const planned = plannedFor('replies', run.order.plan);
  const record = replyProof(measures, on, {at: run.host.today(), session: run.host.session, cycles, planned});
  await run.note(step, verdict.holds ? 'done' : 'stopped', verdict.text, record && {proof: record});
  if (verdict.holds) return;
  throw stop('proof-failed', 'replies', verdict.text, verdict.remedy);
}

/** The proof that reply measures give; undefined when no reply was asked for on any ESC. */
export function replyProof(
  measures: readonly ReplyMeasure[],
  on: readonly {readonly output: number; readonly serial: string}[],
  about: Pick<ProofRecord, 'at' | 'session' | 'cycles' | 'planned'>,
): ProofRecord | undefined {
  const scope = replyScope(measures, on);
  const {holds, text} = judgeReplies(measures);
  return scope && {...scope, ...about, holds, text, kind: 'replies', replies: measures};
}

function replyScope(
  measures: readonly ReplyMeasure[],
  on: readonly {output: number; serial: string}[],
): ProofScope | undefined {
  const count: Count | undefined = countOf(
    measures.reduce((sum, m) => sum + m.motors.reduce((s, motor) => s + motor.asked, 0), 0),
  );
  return count === undefined || !isSome(on) ? undefined : {count, on};
}

/** Steps that cannot be proven while an ESC is isolated. */
export const needsEveryEsc = (step: Step): boolean => step.kind === 'prove-replies';
