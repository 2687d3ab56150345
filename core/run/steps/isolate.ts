/** Work on several ESCs side by side: one that fails alone is isolated, what hits all stops the order. */
import {ProblemError, type Problem} from '../../problem';
import {sideBySide} from '../../side-by-side';
import {poweredVolts} from '../../bench/battery';
import type {RunContext} from '../run-context';
import type {Step} from '../../order/steps';

export interface EscJob {
  readonly step: Step;
  readonly output: number;
  readonly work: () => Promise<void>;
}

/** A problem that belongs to one of several steps that ran side by side. */
export class StepError extends ProblemError {
  constructor(
    readonly step: Step,
    problem: Problem,
  ) {
    super(problem);
  }
}

/** Problems that say nothing about one ESC alone. */
const hitsAll: ReadonlySet<string> = new Set(['stopped-by-person', 'abandoned', 'store-failed', 'found-changed']);

/** Runs all jobs to their end. Throws only when every one of them has ended. */
export async function eachEsc(run: RunContext, jobs: readonly EscJob[]): Promise<void> {
  const failures: {job: EscJob; error: StepError}[] = [];
  await sideBySide(jobs, async (job) => {
    try {
      await job.work();
    } catch (error) {
      if (error instanceof ProblemError) {
        failures.push({job, error: error instanceof StepError ? error : new StepError(job.step, error.problem)});
        return;
      }
      // A fault of the program or of the store: the others stop after their page, then it is told.
      run.abandon();
      throw error;
    }
  });
  const first = failures.find((f) => f.error.problem.code === 'store-failed') ?? failures[0];
  if (!first) return;
  const all = failures.some((f) => hitsAll.has(f.error.problem.code));
  const others = run.order.found.escs.length > failures.length + run.isolated.size;
  if (all || run.client.isClosed || !others || !(await isPowered(run))) throw first.error;
  for (const {job, error} of failures) await isolate(run, {...job, step: error.step}, error);
}

export async function isolate(
  run: RunContext,
  {step, output}: Omit<EscJob, 'work'>,
  error: ProblemError,
): Promise<void> {
  run.isolated.set(output, error);
  await run.note(step, 'isolated', `${error.problem.meaning} The other ESCs are finished without it.`);
}

async function isPowered(run: RunContext): Promise<boolean> {
  try {
    return (await run.client.request('power', null)).volts > poweredVolts;
  } catch (error) {
    if (error instanceof ProblemError) return false;
    throw error;
  }
}
