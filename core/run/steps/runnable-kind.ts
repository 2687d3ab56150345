/** A kind of step that the runner can carry out. */
import type {StepMeaning} from '../../order/step-kind';
import type {StepKind, StepOf} from '../../order/steps';
import type {JournalEntry} from '../journal';
import type {RunContext} from '../run-context';

export interface RunnableKind<K extends StepKind = StepKind> extends StepMeaning<K> {
  /** Steps of this kind that follow each other are carried out together; else each stands alone. */
  readonly isGrouped?: true;
  /** Absent where the runner has it: see `late-runs.ts`. `entries` is what the journal says of the order so far. Throws a problem when the order must stop. */
  run?(run: RunContext, steps: readonly [StepOf<K>, ...StepOf<K>[]], entries: readonly JournalEntry[]): Promise<void>;
}
