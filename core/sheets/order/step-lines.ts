/** The steps of an order as the docket lists them: what each does, how far it is, whether a person may skip it. */
import type {ChangeText, Step, StepKind} from '../../order/steps';
import type {WorkOrder} from '../../order/work-order';
import {isForPerson, stepKinds} from '../../run/steps/step-kinds';
import {duration} from '../../words/duration';
import type {WorkNow} from './work-now';

export interface StepLine {
  readonly id: string;
  /** Its number, or a tick. */
  readonly mark: string;
  readonly title: string;
  readonly note: string;
  /** About how long it takes; empty once it is done. */
  readonly time: string;
  readonly isDone: boolean;
  /** A person has a part in it, now or still to come. */
  readonly isForPerson: boolean;
  /** What it says of itself while it is at work; several write side by side. */
  readonly at: {readonly percent: number; readonly text: string} | undefined;
  /** What it changes, value by value. */
  readonly changes: readonly ChangeText[];
  /** The kind that may be skipped, at the first step of that kind. */
  readonly skip: {readonly kind: StepKind; readonly name: string} | undefined;
}

export function stepLines(order: WorkOrder, work: WorkNow): StepLine[] {
  const seen = new Set<StepKind>();
  return order.steps.map((step, i) => {
    const isFirst = !seen.has(step.kind);
    seen.add(step.kind);
    const isDone = work.stepStates[step.id] === 'done';
    const at = isDone ? undefined : progressOf(step, work);
    // A visit to an ESC is a person's part, and its changes are told, while it is at work.
    const isNow = step.kind !== 'visit' || at !== undefined;
    const {leavable} = stepKinds.of(step);
    return {
      ...{id: step.id, title: step.title, note: step.note, isDone},
      mark: isDone ? '✓' : String(i + 1),
      time: isDone ? '' : duration(step.estimateMs),
      isForPerson: isForPerson(step) && !isDone && isNow,
      at: at && {percent: at.share * 100, text: at.text},
      changes: 'changes' in step && isNow ? step.changes : [],
      skip: leavable && isFirst && !work.open && !order.rollsBack ? {kind: step.kind, name: leavable} : undefined,
    };
  });
}

function progressOf(step: Step, {isRunning, progress, working}: WorkNow) {
  if (!isRunning) return undefined;
  return stepKinds.of(step).isGrouped || progress?.stepId === step.id ? working[step.id] : undefined;
}
