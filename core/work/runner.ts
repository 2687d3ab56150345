/**
 * Carries out a work order: journal first, one step after the other, stops at the first problem with a true account.
 * Writes to different ESCs run side by side, and one ESC that fails does not hold the others. Running the same order
 * again resumes it; every step looks at the hardware anew instead of trusting the journal.
 */
import type {BenchClient} from '../link/client';
import {sleep} from '../link/port';
import {assertNever, ProblemError, type Problem} from '../problem';
import {batteryRefusal, poweredVolts} from './battery';
import type {Found} from './found';
import {stepState, type JournalEntry} from './journal';
import type {ProofRecord} from './proof';
import {needsEveryEsc, provePages, proveReplies, proveSettings} from './prove';
import {RunContext, type RunnerHost} from './run-context';
import type {Step, StepOf} from './steps';
import {survey} from './survey';
import {takeSnapshot} from './take-snapshot';
import {visit} from './visit';
import {orderEstimateMs, type WorkOrder} from './work-order';
import {writeImage} from './write-firmware';
import {restoreSettings, setParameters} from './write-settings';

export type Outcome =
  | {readonly kind: 'finished'; readonly found: Found; readonly proofs: readonly ProofRecord[]}
  /** `found` is what the order read last, where it read anything. */
  | {readonly kind: 'stopped'; readonly step: Step; readonly problem: Problem; readonly found: Found | undefined};

export async function runWorkOrder(client: BenchClient, order: WorkOrder, host: RunnerHost): Promise<Outcome> {
  const run = new RunContext(client, order, host);
  for (let i = 0; i < order.steps.length;) {
    const group = groupAt(order.steps, i);
    i += group.length;
    const outcome = await attempt(run, group);
    if (outcome) return outcome;
  }
  for (const [output, {problem}] of run.isolated) {
    const step = order.steps.find((s) => 'target' in s && s.target.output === output)!;
    const whole = isolatedProblem(run, problem);
    await run.note(step, 'stopped', whole.meaning);
    return {kind: 'stopped', step, problem: whole, found: run.found};
  }
  try {
    return await finish(run);
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    // Everything is done; only the last look at the bench is missing.
    return {kind: 'stopped', step: order.steps.at(-1)!, problem: error.problem, found: run.found};
  }
}

/** Writes that follow each other run side by side; everything else stands alone. */
function groupAt(steps: readonly Step[], index: number): readonly Step[] {
  let end = index + 1;
  if (steps[index]!.kind === 'write-firmware') while (steps[end]?.kind === 'write-firmware') end++;
  return steps.slice(index, end);
}

/** Carries out a group unless the journal says it is done; returns only when the order stops here. */
async function attempt(run: RunContext, group: readonly Step[]): Promise<Outcome | undefined> {
  const entries = await run.host.journal.entries(run.order.id);
  const open = group.filter((step) => stepState(entries, step.id) !== 'done');
  const first = open[0];
  if (!first || (run.isolated.size && needsEveryEsc(first))) return undefined;
  try {
    run.checkCancel();
    const writes = open.filter((step) => step.kind === 'write-firmware');
    if (writes.length) await writeSideBySide(run, writes, entries);
    else await carryOut(run, first, entries);
    return undefined;
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    if (first.kind === 'visit' && alone.has(error.problem.code)) {
      await isolate(run, first, error);
      return undefined;
    }
    const at = error instanceof StepError ? error.step : first;
    await run.note(at, 'stopped', error.problem.meaning);
    return {kind: 'stopped', step: at, problem: error.problem, found: run.found};
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

/** A problem that belongs to one of several steps that ran side by side. */
class StepError extends ProblemError {
  constructor(
    readonly step: StepOf<'write-firmware'>,
    problem: Problem,
  ) {
    super(problem);
  }
}

/** Each ESC's images in their order, all ESCs at once. An ESC that fails alone is isolated; what hits all stops the order. */
async function writeSideBySide(
  run: RunContext,
  steps: readonly StepOf<'write-firmware'>[],
  entries: readonly JournalEntry[],
): Promise<void> {
  await checkBattery(run);
  const outputs = [...new Set(steps.map((s) => s.target.output))];
  const failures: StepError[] = [];
  await Promise.all(
    outputs.map(async (output) => {
      for (const step of steps.filter((s) => s.target.output === output)) {
        try {
          await writeStep(run, step, entries);
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          failures.push(new StepError(step, error.problem));
          return;
        }
      }
    }),
  );
  const first = failures[0];
  if (!first) return;
  const byPerson = failures.some((f) => f.problem.code === 'stopped-by-person');
  const others = run.order.found.escs.length > failures.length && outputs.length >= failures.length;
  if (byPerson || run.client.isClosed || !others || !(await isPowered(run))) throw first;
  for (const failure of failures) await isolate(run, failure.step, failure);
}

/** Problems of one ESC on an adapter that say nothing about the next arm. */
const alone: ReadonlySet<string> = new Set(['page-check', 'proof-failed']);

async function isolate(run: RunContext, step: StepOf<'write-firmware' | 'visit'>, error: ProblemError): Promise<void> {
  run.isolated.set(step.target.output, error);
  await run.note(step, 'isolated', `${error.problem.meaning} The other ESCs are finished without it.`);
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
  await run.note(step, 'done', await writeImage(run, chip, {...step, step, entries}));
}

async function checkBattery(run: RunContext): Promise<void> {
  const power = await run.client.request('power', null);
  const refusal = batteryRefusal(power, run.order.cells, orderEstimateMs(run.order));
  if (refusal) throw new ProblemError(refusal);
}

async function isPowered(run: RunContext): Promise<boolean> {
  try {
    return (await run.client.request('power', null)).volts > poweredVolts;
  } catch (error) {
    if (error instanceof ProblemError) return false;
    throw error;
  }
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

async function setController(run: RunContext, step: StepOf<'set-controller'>): Promise<void> {
  await run.note(step, 'begin', 'Setting the flight controller.');
  run.progress(step, 0.2, 'Flight controller: setting fields');
  await run.client.request('controller.set', step.config);
  await run.client.request('controller.save', null);
  run.progress(step, 0.6, 'Flight controller: restarting');
  await run.client.request('controller.restart', null);
  await run.note(step, 'done', 'Flight controller set, saved and restarted.');
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
