/** Orders of a craft as they stand now, for the sheets that show them. */
import type {WorkOrder} from '../../order/work-order';
import type {Problem, Result} from '../../problem';
import type {JournalEntry, StepState} from '../../run/journal';
import type {Progress} from '../../run/runner';

export interface WorkNow {
  /** The order that was carried out last since the page was loaded. */
  readonly last: WorkOrder | undefined;
  /** An order that runs, or was stopped and not resumed. */
  readonly open: {readonly order: WorkOrder} | undefined;
  readonly isRunning: boolean;
  /** The order that follows from plan and survey. */
  readonly draft: Result<WorkOrder> | undefined;
  /** After a roll-back a person said that the plan stays. */
  readonly keepsPlan: boolean;
  readonly journal: readonly JournalEntry[];
  /** By step id. */
  readonly stepStates: Readonly<Record<string, StepState>>;
  /** What the step that speaks now says, and the last word of every step at work, by id. */
  readonly progress: Progress | undefined;
  readonly working: Readonly<Record<string, Progress>>;
  /** Why the order stopped or could not begin. */
  readonly problem: Problem | undefined;
}
