/**
 * What the docket says: the steps of an order and how far each is, what became of the last order, which is history, what the
 * plan asks now, and what is still to prove.
 */
import {batteryRefusal, withBatteryOn} from '../../bench/battery';
import type {Finding} from '../../compare/rules/rule';
import {orderEstimateMs, type WorkOrder} from '../../order/work-order';
import type {Step, StepKind} from '../../order/steps';
import type {Progress} from '../../run/runner';
import type {Power} from '../../link/operations';
import type {Problem} from '../../problem';
import {stillOpen} from '../../route/still-open';
import {stationTitles, type StationName} from '../../words/station-names';
import {leavableKinds, needsPropsOff, writesImages} from '../../run/steps/step-kinds';
import {counted} from '../../words/counted';
import {alike} from '../../words/alike';
import {capital} from '../../words/capital';
import {duration} from '../../words/duration';
import {motorList} from '../../words/motor-list';
import type {CraftQuestion} from '../craft-question';
import {stepLines, type StepLine} from './step-lines';
import type {WorkNow} from './work-now';

type DocketQuestion = Pick<CraftQuestion, 'craft' | 'states' | 'record' | 'bench'>;

interface LastOrder {
  readonly sign: 'carried out' | 'rolled back';
  readonly text: string;
}

type DocketNow =
  /** Steps of the open order, or of the one that follows. */
  | {readonly kind: 'steps'}
  /** The plan still contains what was rolled back: a person says which of both is wanted. */
  | {readonly kind: 'plan or craft'; readonly text: string}
  | {readonly kind: 'refused'; readonly problem: Problem}
  | {readonly kind: 'skipped' | 'as planned' | 'not read'; readonly text: string};

interface DocketSheet {
  readonly title: string;
  /** How much there is to do, or how far it is; empty where there is nothing. */
  readonly summary: string;
  /** The same for a docket that is folded: the step at work, else what is to do, else what is next. */
  readonly folded: string;
  readonly last: LastOrder | undefined;
  readonly now: DocketNow;
  readonly order: WorkOrder | undefined;
  readonly steps: readonly StepLine[];
  /** Rules that the plan breaks; told while the order is not begun. */
  readonly warnings: readonly Finding[];
  readonly open: OpenLines;
  readonly stillToProve: readonly StillLine[];
  /** Why the order stopped; what was changed meanwhile has its own place. */
  readonly problem: Problem | undefined;
  /** Of a stopped order: when it stopped and why. */
  readonly account: string;
  /** The bench is not what this order was made for: it would stop again, a new one follows from what is there. */
  readonly isOvertaken: boolean;
  /** That fields of the flight controller wait for its cable; empty where they do not. */
  readonly offRoad: string;
  /** What a person holds for now, or next in this order. */
  readonly hold: HoldText;
  readonly needsPropsOff: boolean;
  readonly writesImages: boolean;
  /** The craft is as planned and proven, and nothing is to be told of an order: the docket needs no room. */
  readonly isIdle: boolean;
}

/** Whether an order may begin, and why this battery cannot finish it. */
interface OrderStart {
  readonly canStart: boolean;
  readonly batteryLow: Problem | undefined;
}

/** What an order leaves open, and what a roll-back leaves as it is. */
interface OpenLines {
  readonly stays: readonly Problem[];
  readonly skipped: readonly {readonly kind: StepKind; readonly name: string}[];
  /** Motors of which the same is to be said share a line. */
  readonly leftOut: readonly {readonly title: string; readonly text: string}[];
}

/** What is still to be seen or measured, in the order of the route. */
interface StillLine {
  readonly station: StationName;
  readonly title: string;
  readonly text: string;
}

interface HoldText {
  readonly title: string;
  readonly note: string;
}

export function docketSheet(q: DocketQuestion, work: WorkNow): DocketSheet {
  const now = work.open ? ({kind: 'steps'} as const) : nowOf(q, work);
  const draft = work.draft?.ok ? work.draft.value : undefined;
  const order = work.open?.order ?? draft;
  const steps = order?.steps ?? [];
  const summary = summaryOf(work, order);
  const stillToProve = stillLines(q);
  const last = work.last && !work.open ? lastOf(work.last, now) : undefined;
  const problem = shownProblem(work.problem, q.bench.isPowered);
  return {
    ...{now, order, summary, stillToProve, folded: foldedText(work, summary, stillToProve[0])},
    title: order?.rollsBack ? 'Work order, roll-back' : 'Work order',
    last,
    steps: order ? stepLines(order, work) : [],
    warnings: work.open ? [] : (order?.warnings ?? []),
    open: openLines(order),
    problem,
    isIdle: now.kind === 'as planned' && !last && !problem && !stillToProve.length,
    account:
      work.journal.findLast((e) => e.event === 'stopped')?.text ?? 'The page was closed in the middle of this order.',
    isOvertaken: work.problem?.code === 'found-changed',
    offRoad: !work.open && q.bench.isOnAdapter && !q.craft.loose ? `${offRoad} ${plannedLater}` : '',
    hold: holdText(steps, work.progress),
    ...{needsPropsOff: needsPropsOff(steps), writesImages: steps.some(writesImages)},
  };
}

/** @param power as it is read now. */
export function orderStart(
  {order, writesImages, needsPropsOff}: Pick<DocketSheet, 'order' | 'writesImages' | 'needsPropsOff'>,
  {isConnected, isPowered, isOccupied, isPropsOff}: CraftQuestion['bench'],
  power: Power | undefined,
): OrderStart {
  const batteryLow =
    order && power && writesImages ? batteryRefusal(power, order.cells, orderEstimateMs(order)) : undefined;
  const isReady = isConnected && isPowered && !isOccupied && !batteryLow;
  return {canStart: isReady && (!needsPropsOff || isPropsOff), batteryLow};
}

function summaryOf({open, isRunning, stepStates}: WorkNow, order: WorkOrder | undefined): string {
  const count = order?.steps.length ?? 0;
  if (open) {
    const done = Object.values(stepStates).filter((s) => s === 'done').length;
    return `${done} of ${counted(count, 'step')} done${isRunning ? '' : ', stopped'}`;
  }
  return order && count
    ? `${counted(count, 'step')}, about ${duration(orderEstimateMs(order))}, nothing written yet`
    : '';
}

function foldedText({isRunning, progress}: WorkNow, summary: string, next: StillLine | undefined): string {
  if (isRunning && progress) return progress.text;
  return summary || (next ? `next: ${next.title}` : 'nothing open');
}

const stillLines = ({states}: DocketQuestion): StillLine[] =>
  stillOpen(states).map(({station, todo, note}) => ({
    ...{station, title: stationTitles[station], text: note ? `${todo}: ${note}` : todo},
  }));

const nameOfKind = new Map(leavableKinds.map(({kind, leavable}) => [kind, leavable ?? kind]));

function openLines(order: WorkOrder | undefined): OpenLines {
  return {
    stays: order?.stays ?? [],
    skipped: (order?.leftSteps ?? []).map((kind) => ({kind, name: nameOfKind.get(kind) ?? kind})),
    leftOut: leftOutLines(order?.leftOut ?? []),
  };
}

function leftOutLines(leftOut: WorkOrder['leftOut']): OpenLines['leftOut'] {
  const told = leftOut.map(({output, problem}) => ({output, text: `${problem.meaning} ${problem.remedy}`}));
  return alike(told, (l) => l.text).map((lines) => {
    const motors = motorList(
      lines.map((l) => l.output),
      Infinity,
    );
    return {title: `${capital(motors)} ${lines.length === 1 ? 'stays' : 'stay'} open.`, text: lines[0]!.text};
  });
}

/** One hold is enough for both, and whoever lets go between them holds again. */
function holdText(steps: readonly Step[], progress: Progress | undefined): HoldText {
  const motion = steps.find(({kind}) => kind === 'prove-motion');
  const card = 'each motor alone, then steps up to 30 %';
  const levels = 'all motors: idle, 30 %, 60 %';
  if (!motion) return {title: 'Hold to prove the replies', note: `${levels}; about ${repliesS} s`};
  const begins = steps.some(({kind}) => kind === 'prove-replies') && progress?.stepId !== motion.id;
  if (begins)
    return {
      title: 'Hold to prove replies and motion',
      note: `${levels}; then ${card}; about ${repliesS + seconds(motion)} s`,
    };
  const goesOn = progress?.stepId === motion.id && steps.length > 1 ? 'Hold on,' : 'Hold';
  return {title: `${goesOn} to prove how the motors move`, note: `${card}; about ${seconds(motion)} s`};
}

const repliesS = 7;
const seconds = ({estimateMs}: Step): number => Math.round(estimateMs / 1000);

const shownProblem = (problem: Problem | undefined, isPowered: boolean): Problem | undefined =>
  problem && problem.code !== 'changed-meanwhile' ? withBatteryOn(problem, isPowered) : undefined;

function nowOf({craft, record, bench}: DocketQuestion, {draft, last, keepsPlan}: WorkNow): DocketNow {
  if (draft && !draft.ok) return {kind: 'refused', problem: draft.problem};
  const count = draft?.value.steps.length ?? 0;
  if (count && last?.rollsBack !== undefined && !draft?.value.rollsBack && !keepsPlan)
    return {
      kind: 'plan or craft',
      text: `The plan still contains what was rolled back: ${counted(count, 'step')}. Which of the two do you want?`,
    };
  if (count) return {kind: 'steps'};
  if (!record.found)
    return {kind: 'not read', text: 'The order is made from the difference between the plan and what a survey finds.'};
  const skipped = draft?.value;
  if (skipped?.leftSteps?.length) return {kind: 'skipped', text: 'Nothing is left to do but what you skipped.'};
  if (skipped?.leftOut.length) return {kind: 'skipped', text: 'Nothing to do on the other motors.'};
  return {
    kind: 'as planned',
    text: craft.loose
      ? 'Nothing to write: the ESC matches the plan.'
      : bench.isOnAdapter
        ? `Nothing to write: the ESCs match the plan. ${offRoad}`
        : 'Nothing to write: the craft matches the plan.',
  };
}

const offRoad = 'The flight controller is not on this connection.';
const plannedLater = 'Its fields are planned once its cable is plugged in.';

function lastOf({rollsBack, leftOut, leftSteps = []}: WorkOrder, now: DocketNow): LastOrder {
  const open = leftOut.length || leftSteps.length ? ' What was skipped stays open.' : '';
  const isNew = now.kind === 'steps' ? ' The plan has changed since; these steps are new:' : '';
  if (rollsBack !== undefined)
    return {sign: 'rolled back', text: `The craft holds what it held before that order.${open}${isNew}`};
  return {sign: 'carried out', text: `Every step was done and proven.${open}${isNew}`};
}
