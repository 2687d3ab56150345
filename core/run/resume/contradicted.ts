/** A proof that contradicts what steps said: they are opened again, so that resuming looks at them anew. */
import {stepState} from '../journal';
import type {RunContext} from '../run-context';
import {stop} from '../run-context';
import type {Touch} from '../../order/step-kind';

/** What is not as the order should have left it. */
export interface Contradiction extends Touch {
  readonly place: string;
  readonly meaning: string;
}

/** Opens the steps that made what is contradicted, and those that follow them; then throws. */
export async function contradict(run: RunContext, c: Contradiction): Promise<never> {
  const {steps} = run.order;
  const made = steps.filter((step) => run.touches(step).some(({at, of}) => at === c.at && of === c.of));
  const touched = new Set(made.flatMap((step) => run.touches(step).map((t) => t.of)));
  const behind = steps.filter((step) => run.kinds.of(step).follows?.some((of) => touched.has(of)));
  const entries = await run.host.journal.entries(run.order.id);
  const again = [...made, ...behind.filter((step) => stepState(entries, step.id) === 'done')];
  for (const step of again)
    await run.note(step, 'reopened', `${c.meaning} It is done again when the order is resumed.`);
  // Nothing in this order makes it: the order is not for this bench any more.
  if (!made.length)
    throw stop('found-changed', c.place, c.meaning, 'Look at the order that follows from what is there now.');
  throw stop('proof-failed', c.place, c.meaning, 'Resume: it is looked at again and written.');
}
