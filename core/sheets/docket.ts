/** What the docket says beside its steps: what became of the last order, which is history, and what the plan asks now. */
import type {WorkOrder} from '../order/work-order';
import type {Problem, Result} from '../problem';

export interface DocketQuestion {
  /** The order that was carried out last since the page was loaded. */
  readonly last: WorkOrder | undefined;
  /** An order that runs, or was stopped and not resumed. */
  readonly isOpen: boolean;
  /** The order that follows from plan and survey. */
  readonly draft: Result<WorkOrder> | undefined;
  /** Whether the craft was surveyed. */
  readonly isRead: boolean;
  readonly onAdapter: boolean;
  /** After a roll-back a person said that the plan stays. */
  readonly keepsPlan: boolean;
}

export interface LastOrder {
  readonly sign: 'carried out' | 'rolled back';
  readonly text: string;
}

export type DocketNow =
  /** Steps of the open order, or of the one that follows. */
  | {readonly kind: 'steps'}
  /** The plan still asks for what was rolled back: a person says which of both is wanted. */
  | {readonly kind: 'plan or craft'; readonly text: string}
  | {readonly kind: 'refused'; readonly problem: Problem}
  | {readonly kind: 'skipped' | 'as planned' | 'not read'; readonly text: string};

export interface DocketSheet {
  readonly last: LastOrder | undefined;
  readonly now: DocketNow;
}

export function docketSheet(q: DocketQuestion): DocketSheet {
  const now = q.isOpen ? ({kind: 'steps'} as const) : nowOf(q);
  return {last: q.last && !q.isOpen ? lastOf(q.last, now) : undefined, now};
}

function nowOf({draft, isRead, last, onAdapter, keepsPlan}: DocketQuestion): DocketNow {
  if (draft && !draft.ok) return {kind: 'refused', problem: draft.problem};
  const count = draft?.value.steps.length ?? 0;
  if (count && last?.rollsBack !== undefined && !draft?.value.rollsBack && !keepsPlan)
    return {
      kind: 'plan or craft',
      text: `The plan still asks for what was rolled back: ${count} ${count === 1 ? 'step' : 'steps'}. Which of the two do you want?`,
    };
  if (count) return {kind: 'steps'};
  if (!isRead)
    return {kind: 'not read', text: 'The order is made from the difference between the plan and what a survey finds.'};
  const skipped = draft?.value;
  if (skipped?.leftSteps?.length) return {kind: 'skipped', text: 'Nothing is left to do but what you skipped.'};
  if (skipped?.leftOut.length) return {kind: 'skipped', text: 'Nothing to do on the other motors.'};
  return {
    kind: 'as planned',
    text: onAdapter
      ? 'Nothing to write: the ESCs match the plan. The flight controller is not on this connection.'
      : 'Nothing to write: the craft matches the plan.',
  };
}

function lastOf({rollsBack, leftOut, leftSteps = []}: WorkOrder, now: DocketNow): LastOrder {
  const open = leftOut.length || leftSteps.length ? ' What was skipped stays open.' : '';
  const isNew = now.kind === 'steps' ? ' The plan has changed since; these steps are new:' : '';
  if (rollsBack !== undefined)
    return {sign: 'rolled back', text: `The craft holds what it held before that order.${open}${isNew}`};
  return {sign: 'carried out', text: `Every step was done and proven.${open}${isNew}`};
}
