/** What was done to a craft: its work orders with their journals, and what a person confirmed. */
import type {WorkOrder} from '../../order/work-order';
import type {JournalEntry} from '../../run/journal';
import {imagesOf} from '../../run/steps/step-kinds';
import {counted} from '../../words/counted';
import {clockSeconds, momentText} from '../../words/moment';

/** An order as it is kept. */
export interface KeptOrderState {
  readonly id: string;
  readonly order: WorkOrder;
  readonly state: keyof typeof stateWords;
}

interface OrderLine<Kept extends KeptOrderState = KeptOrderState> {
  readonly kept: Kept;
  readonly title: string;
  readonly state: {readonly text: string; readonly kind: 'ok' | 'wait' | ''};
  readonly about: string;
  /** Whether what it did can be taken back from here. */
  readonly canRollBack: boolean;
}

const stateWords = {
  running: 'under way',
  stopped: 'stopped, can be resumed',
  finished: '✓ finished',
  'given up': 'put away',
} as const;

const stateKinds = {running: 'wait', stopped: 'wait', finished: 'ok', 'given up': ''} as const;

/** The newest first. */
export const orderLines = <Kept extends KeptOrderState>(orders: readonly Kept[]): OrderLine<Kept>[] =>
  [...orders]
    .sort((a, b) => b.order.createdAt - a.order.createdAt)
    .map((kept) => ({
      ...{kept, title: titleOf(kept.order)},
      state: {text: stateWords[kept.state], kind: stateKinds[kept.state]},
      about: `${momentText(kept.order.createdAt)}, ${counted(kept.order.steps.length, 'step')}`,
      canRollBack: kept.state === 'finished' && !kept.order.rollsBack,
    }));

function titleOf({rollsBack, steps}: WorkOrder): string {
  if (rollsBack) return 'Roll-back';
  const images = new Set(steps.flatMap((s) => imagesOf(s).map((w) => w.image.name)));
  return images.size ? `Write ${[...images].join(' and ')}` : 'Set parameters and flight controller';
}

export const journalLines = (
  entries: readonly JournalEntry[],
): {readonly time: string; readonly event: JournalEntry['event']; readonly text: string}[] =>
  entries.map(({at, event, text}) => ({time: clockSeconds(at), event, text}));

/** A board that a person confirmed. */
interface ClaimLine {
  readonly of: string;
  readonly board: string;
  readonly by: string;
  readonly when: string;
}

interface BoardClaim {
  readonly board: string;
  readonly by: string;
  readonly at: number;
}

export const claimLines = (
  controller: BoardClaim | undefined,
  escs: readonly (BoardClaim & {readonly serial: string; readonly deadTimeNs: number})[],
): ClaimLine[] => [
  ...(controller ? [claimLine('flight controller', controller, controller.board)] : []),
  ...escs.map((claim) => claimLine(claim.serial, claim, `${claim.board}, ${claim.deadTimeNs} ns`)),
];

const claimLine = (of: string, {by, at}: BoardClaim, board: string): ClaimLine => ({
  ...{of, board, by, when: momentText(at)},
});
