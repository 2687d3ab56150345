/** A proof that contradicts what steps said: they are opened again, so that resuming looks at them anew. */
import type {RunContext} from './run-context';
import {stop} from './run-context';
import type {Step} from '../order/steps';

/** What is not as the order should have left it. */
export interface Contradiction {
  readonly place: string;
  readonly meaning: string;
  /** The ESC, or the flight controller. */
  readonly at: number | 'controller';
  readonly of: 'firmware' | 'settings' | 'controller';
}

/** Opens the steps that made what is contradicted, and the battery cycle behind them; then throws. */
export async function contradict(run: RunContext, c: Contradiction): Promise<never> {
  const made = run.order.steps.filter((step) => makes(step, c));
  const again = made.some((s) => s.kind === 'write-firmware' || s.kind === 'visit')
    ? [...made, ...run.order.steps.filter((s) => s.kind === 'cycle-battery')]
    : made;
  for (const step of again)
    await run.note(step, 'reopened', `${c.meaning} It is done again when the order is resumed.`);
  // Nothing in this order makes it: the order is not for this bench any more.
  if (!made.length)
    throw stop('found-changed', c.place, c.meaning, 'Look at the order that follows from what is there now.');
  throw stop('proof-failed', c.place, c.meaning, 'Resume: it is looked at again and written.');
}

function makes(step: Step, {at, of}: Contradiction): boolean {
  switch (step.kind) {
    case 'write-firmware':
      return of === 'firmware' && step.target.output === at;
    case 'visit':
      return of !== 'controller' && step.target.output === at;
    case 'set-parameters':
    case 'restore-settings':
      return of === 'settings' && step.targets.some((t) => t.output === at);
    case 'set-controller':
      return of === 'controller';
    default:
      return false;
  }
}
