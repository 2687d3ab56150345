/**
 * Carries out a work order: journal first, one step after the other, stops at the first problem with a true account.
 * Writes to different ESCs run side by side, and one ESC that fails does not hold the others. Running the same order
 * again resumes it; every step looks at the hardware anew instead of trusting the journal.
 */
import {batteryOff, poweredVolts} from '../bench/battery';
import {isInLoader, survey, surveyController} from '../bench/survey';
import type {Found} from '../bench/found';
import type {BenchClient} from '../link/client';
import type {Step} from '../order/steps';
import type {WorkOrder} from '../order/work-order';
import {ProblemError, type Problem} from '../problem';
import type {NewProof} from '../proof/proof';
import {carryOutSteps} from './late-runs';
import {StepError} from './steps/isolate';
import {stepState, type JournalEntry} from './journal';
import {holdAgainstSteps} from './resume/last-look';
import {ChangedMeanwhile, lookAgain, type Change} from './resume/look-again';
import {RunContext, type RunnerHost} from './run-context';
import {stepKinds} from './steps/step-kinds';

export type Outcome =
  | {readonly kind: 'finished'; readonly found: Found; readonly proofs: readonly NewProof[]}
  /** `found` is what the order read last, where it read anything. */
  | {
      readonly kind: 'stopped';
      readonly step: Step;
      readonly problem: Problem;
      readonly found: Found | undefined;
      /** What was changed since an earlier stop and would be overwritten: a person is asked. */
      readonly changes?: readonly Change[];
    };

/** Rejects with a ProblemError only where the order has no step that it could stop at. */
export async function runWorkOrder(client: BenchClient, order: WorkOrder, host: RunnerHost): Promise<Outcome> {
  const run = new RunContext(client, order, host, stepKinds);
  try {
    return await carryOut(run);
  } finally {
    client.refuseChanges(undefined);
  }
}

async function carryOut(run: RunContext): Promise<Outcome> {
  const {order} = run;
  const blind = await lookFirst(run);
  if (blind) return blind;
  for (let i = 0; i < order.steps.length;) {
    const group = groupAt(order.steps, i);
    i += group.length;
    const outcome = await attempt(run, group);
    if (outcome) return outcome;
  }
  for (const [output, error] of run.isolated) {
    const step = order.steps.find((s) => run.touches(s).some((t) => t.at === output)) ?? order.steps[0]!;
    return stopped(run, step, new ProblemError(isolatedProblem(run, error.problem)));
  }
  if (run.controllerLost) {
    const step = order.steps.find((s) => run.touches(s).some((t) => t.of === 'controller'))!;
    return stopped(run, step, run.controllerLost);
  }
  try {
    return await finish(run);
  } catch (error) {
    const last = order.steps.at(-1);
    if (!(error instanceof ProblemError) || !last) throw error;
    // Everything was done; the last look at the bench is missing, or found it otherwise.
    return {kind: 'stopped', step: last, problem: (await ofBattery(run, error)).problem, found: run.found};
  }
}

/** A resumed order looks before it overwrites; returns only when it must stop for what it saw. */
async function lookFirst(run: RunContext): Promise<Outcome | undefined> {
  if (run.onAdapter) return undefined;
  let entries: readonly JournalEntry[] = [];
  try {
    entries = await run.host.journal.entries(run.order.id);
    const stuck = await outOfLoader(run, entries);
    if (stuck) return stuck;
    entries = await run.host.journal.entries(run.order.id);
    await lookAgain(run, entries);
    return undefined;
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    const next = run.order.steps.find((s) => stepState(entries, s.id) !== 'done') ?? run.order.steps[0];
    // Where there is nothing to do there is no step to stop at.
    if (!next) throw error;
    return stopped(run, next, error);
  }
}

/**
 * A flight controller that was left in its loader passes through to nobody: firmware that an earlier attempt began to write
 * is finished before anything else, and one with firmware that checks is started. Returns only when the order must stop.
 */
async function outOfLoader(run: RunContext, entries: readonly JournalEntry[]): Promise<Outcome | undefined> {
  const {client, order} = run;
  if (run.host.cancel.aborted) return undefined;
  await client.hello();
  if (!isInLoader(client)) return undefined;
  const write = order.steps.find((s) => s.kind === 'write-controller' && stepState(entries, s.id) !== 'done');
  if (write) return stepState(entries, write.id) === 'begun' ? attempt(run, [write]) : undefined;
  if ((await client.request('loader.identify', null)).applicationValid) await client.request('loader.leave', null);
  await client.hello();
  return undefined;
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

/** Steps of a grouped kind that follow each other go together; everything else stands alone. */
function groupAt(steps: readonly Step[], index: number): readonly Step[] {
  let end = index + 1;
  const {kind, isGrouped} = stepKinds.of(steps[index]!);
  if (isGrouped) while (steps[end]?.kind === kind) end++;
  return steps.slice(index, end);
}

/** Carries out a group unless the journal says it is done; returns only when the order stops here. */
async function attempt(run: RunContext, group: readonly Step[]): Promise<Outcome | undefined> {
  let first = group[0]!;
  const kind = stepKinds.of(first);
  try {
    const entries = await run.host.journal.entries(run.order.id);
    const [next, ...rest] = group.filter((step) => stepState(entries, step.id) !== 'done');
    if (!next || (run.isPartial && kind.needsEveryEsc)) return undefined;
    first = next;
    run.checkCancel();
    await carryOutSteps(run, [next, ...rest], entries);
    return undefined;
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    return stopped(run, error instanceof StepError ? error.step : first, await ofBattery(run, error));
  }
}

/** An ESC fell silent for want of power: without a battery all of them did, and none is to blame. */
async function ofBattery({client}: RunContext, error: ProblemError): Promise<ProblemError> {
  if (error.problem.code !== 'no-power' || client.isClosed) return error;
  try {
    const {volts} = await client.request('power', null);
    return volts <= poweredVolts ? new ProblemError(batteryOff) : error;
  } catch {
    // The link is what ended meanwhile; the next attempt finds that.
    return error;
  }
}

async function finish(run: RunContext): Promise<Outcome> {
  const entries = await run.host.journal.entries(run.order.id);
  const proofs = entries.flatMap((e) => (e.proof ? [e.proof] : []));
  // A round cannot be read again at once; what its visits read stands, with the battery cycle that came after.
  const round = run.onAdapter && (run.found ?? run.order.found);
  const last = round ? await withLastLook(run, round) : run.found;
  const found = last ?? (await survey(run.client, {at: run.host.today(), known: run.known}));
  if (!run.onAdapter) await holdAgainstSteps(run, found);
  return {kind: 'finished', found, proofs};
}

const withLastLook = async (run: RunContext, round: Found): Promise<Found> =>
  round.plugged === 'controller'
    ? surveyController(run.client, round)
    : {...round, power: await run.client.request('power', null)};

function isolatedProblem(run: RunContext, problem: Problem): Problem {
  const names = [...run.isolated.keys()].map((o) => `motor ${o + 1}`).join(' and ');
  const rest = run.order.found.escs.length - run.isolated.size;
  return {...problem, meaning: `${names} was isolated: ${problem.meaning} The other ${rest} are finished and checked.`};
}

export type {RunnerHost};
export type {Progress} from './run-context';
export type {Change} from './resume/look-again';
