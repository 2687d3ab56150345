/**
 * Carries out a work order: journal first, one step after the other, stops at the first problem with a true account.
 * Writes to different ESCs run side by side, and one ESC that fails does not hold the others. Running the same order
 * again resumes it; every step looks at the hardware anew instead of trusting the journal.
 */
import type {BenchClient} from '../link/client';
import {sleep} from '../link/port';
import {assertNever, ProblemError, type Problem} from '../problem';
import {batteryRefusal, poweredVolts} from '../bench/battery';
import type {Found} from '../bench/found';
import {stepState, type JournalEntry} from './journal';
import type {ProofRecord} from '../proof/proof';
import {eachEsc, isolate, StepError, type EscJob} from './isolate';
import {ChangedMeanwhile, lookAgain, type Change} from './look-again';
import {needsEveryEsc, proveReplies, proveSettings} from './prove';
import {provePages} from './prove-pages';
import {setController} from './set-controller';
import {RunContext, type RunnerHost} from './run-context';
import type {Step, StepOf} from '../order/steps';
import {survey} from '../bench/survey';
import {takeSnapshot} from './take-snapshot';
import {visit} from './visit';
import {orderEstimateMs, type WorkOrder} from '../order/work-order';
import {writeImage} from './write-firmware';
import {restoreSettings, setParameters} from './write-settings';

export type Outcome =
  | {readonly kind: 'finished'; readonly found: Found; readonly proofs: readonly ProofRecord[]}
  /** `found` is what the order read last, where it read anything. */
  | {
      readonly kind: 'stopped';
      readonly step: Step;
      readonly problem: Problem;
      readonly found: Found | undefined;
      /** What was changed since an earlier stop and would be overwritten: a person is asked. */
      readonly changes?: readonly Change[];
    };

export async function runWorkOrder(client: BenchClient, order: WorkOrder, host: RunnerHost): Promise<Outcome> {
  const run = new RunContext(client, order, host);
  const blind = await lookFirst(run);
  if (blind) return blind;
  for (let i = 0; i < order.steps.length;) {
    const group = groupAt(order.steps, i);
    i += group.length;
    const outcome = await attempt(run, group);
    if (outcome) return outcome;
  }
  for (const [output, error] of run.isolated) {
    const step = order.steps.find((s) => 'target' in s && s.target.output === output) ?? settingsStep(order, output);
    return stopped(run, step, new ProblemError(isolatedProblem(run, error.problem)));
  }
  if (run.controllerLost) {
    const step = order.steps.find((s) => s.kind === 'set-controller')!;
    return stopped(run, step, run.controllerLost);
  }
  try {
    return await finish(run);
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    // Everything is done; only the last look at the bench is missing.
    return {kind: 'stopped', step: order.steps.at(-1)!, problem: error.problem, found: run.found};
  }
}

const settingsStep = (order: WorkOrder, output: number): Step =>
  order.steps.find((s) => 'targets' in s && s.targets.some((t) => t.output === output)) ?? order.steps[0]!;

/** A resumed order looks before it overwrites; returns only when it must stop for what it saw. */
async function lookFirst(run: RunContext): Promise<Outcome | undefined> {
  if (run.onAdapter) return undefined;
  let entries: readonly JournalEntry[] = [];
  try {
    entries = await run.host.journal.entries(run.order.id);
    await lookAgain(run, entries);
    return undefined;
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    const next = run.order.steps.find((s) => stepState(entries, s.id) !== 'done') ?? run.order.steps[0]!;
    return stopped(run, next, error);
  }
}

/** The account of a stop. A journal that refuses it too does not hide why the order stopped. */
async function stopped(run: RunContext, step: Step, error: ProblemError): Promise<Outcome> {
  const {problem} = error;
  const changes = error instanceof ChangedMeanwhile ? {changes: error.changes} : {};
  try {
    await run.note(step, 'stopped', problem.meaning);
  } catch (refused) {
    if (!(refused instanceof ProblemError)) throw refused;
  }
  return {kind: 'stopped', step, problem, found: run.found, ...changes};
}

/** Writes that follow each other run side by side; everything else stands alone. */
function groupAt(steps: readonly Step[], index: number): readonly Step[] {
  let end = index + 1;
  if (steps[index]!.kind === 'write-firmware') while (steps[end]?.kind === 'write-firmware') end++;
  return steps.slice(index, end);
}

/** Carries out a group unless the journal says it is done; returns only when the order stops here. */
async function attempt(run: RunContext, group: readonly Step[]): Promise<Outcome | undefined> {
  let first = group[0]!;
  try {
    const entries = await run.host.journal.entries(run.order.id);
    const open = group.filter((step) => stepState(entries, step.id) !== 'done');
    if (!open[0] || (run.isPartial && needsEveryEsc(open[0]))) return undefined;
    first = open[0];
    run.checkCancel();
    const writes = open.filter((step) => step.kind === 'write-firmware');
    if (writes.length) await writeSideBySide(run, writes, entries);
    else if (first.kind === 'visit') await visitOrIsolate(run, first, entries);
    else await carryOut(run, first, entries);
    return undefined;
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    return stopped(run, error instanceof StepError ? error.step : first, error);
  }
}

/** A visit whose ESC fails alone says nothing about the next arm. */
async function visitOrIsolate(run: RunContext, step: StepOf<'visit'>, entries: readonly JournalEntry[]): Promise<void> {
  try {
    await carryOut(run, step, entries);
  } catch (error) {
    if (!(error instanceof ProblemError) || !alone.has(error.problem.code)) throw error;
    await isolate(run, {step, output: step.target.output}, error);
  }
}

function carryOut(run: RunContext, step: Step, entries: readonly JournalEntry[]): Promise<void> {
  switch (step.kind) {
    case 'snapshot':
      return takeSnapshot(run, step);
    case 'write-firmware':
      return writeSideBySide(run, [step], entries);
    case 'cycle-battery':
      return cycleBattery(run, step, entries);
    case 'set-parameters':
      return setParameters(run, step, entries);
    case 'restore-settings':
      return restoreSettings(run, step);
    case 'set-controller':
      return setController(run, step);
    case 'visit':
      return checkBattery(run).then(() => visit(run, step, entries));
    case 'prove-pages':
      return provePages(run, step);
    case 'prove-settings':
      return proveSettings(run, step);
    case 'prove-replies':
      return proveReplies(run, step);
    default:
      return assertNever(step);
  }
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

/** Problems of one ESC on an adapter that say nothing about the next arm. */
const alone: ReadonlySet<string> = new Set(['page-check', 'proof-failed']);

async function writeStep(
  run: RunContext,
  step: StepOf<'write-firmware'>,
  entries: readonly JournalEntry[],
): Promise<void> {
  const name = run.wire(step.target.output).name;
  run.checkCancel();
  await run.note(step, 'begin', `${step.title}, ${name}. The identity page goes first out and last in.`);
  const chip = await run.enter(step.target);
  await run.note(step, 'done', await writeImage(run, chip, {...step, step, entries}));
}

async function checkBattery(run: RunContext): Promise<void> {
  const power = await run.client.request('power', null);
  const refusal = batteryRefusal(power, run.order.cells, orderEstimateMs(run.order));
  if (refusal) throw new ProblemError(refusal);
}

async function cycleBattery(run: RunContext, step: Step, entries: readonly JournalEntry[]): Promise<void> {
  // A cycle that ended in part was for the ESCs that went well; one that was isolated and written since needs its own.
  const last = entries.findLast((e) => e.stepId === step.id && (e.event === 'begin' || e.event === 'part'));
  const begun = last?.event === 'begin' ? last : undefined;
  const before = begun?.cycles ?? (await run.client.request('power', null)).cycles;
  if (!begun) await run.note(step, 'begin', 'Waiting for the battery to go off and on.', {cycles: before});
  for (;;) {
    run.checkCancel();
    const power = await run.client.request('power', null);
    const on = power.volts > poweredVolts;
    if (power.cycles !== before && on) break;
    const text = on ? 'Take the battery off.' : 'Now connect the battery again.';
    run.progress(step, on ? 0 : 0.5, text, {waitsFor: 'battery'});
    await sleep(run.host.clock, 200);
  }
  // The ESCs start up and sound their tones before they answer again.
  await sleep(run.host.clock, 600);
  await run.end(step, 'The battery went off and on again.');
}

async function finish(run: RunContext): Promise<Outcome> {
  const entries = await run.host.journal.entries(run.order.id);
  const proofs = entries.flatMap((e) => (e.proof ? [e.proof] : []));
  // A round cannot be read again at once; what its visits read stands, with the battery cycle that came after.
  const round = run.onAdapter && (run.found ?? run.order.found);
  const last = round ? {...round, power: await run.client.request('power', null)} : run.found;
  const found = last ?? (await survey(run.client, {at: run.host.today(), known: run.known}));
  return {kind: 'finished', found, proofs};
}

function isolatedProblem(run: RunContext, problem: Problem): Problem {
  const names = [...run.isolated.keys()].map((o) => `motor ${o + 1}`).join(' and ');
  const rest = run.order.found.escs.length - run.isolated.size;
  return {...problem, meaning: `${names} was isolated: ${problem.meaning} The other ${rest} are finished and checked.`};
}

export type {RunnerHost};
export type {Progress} from './run-context';
export type {Change} from './look-again';
