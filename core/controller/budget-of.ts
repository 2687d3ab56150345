/** The loop budget of a configuration: one formula for the rule, the search, the stations and the stand-in. */
import {loopBudget, type LoopBudget} from '../dshot/loop-budget';
import {sectionsPerAxis} from '../filters/chain';
import {chainOf} from './chain-of';
import {runningMhz} from './raised-clock';
import {asRunning, type ControllerConfig, type ControllerFields} from './plan';

type LoopFields = Omit<ControllerFields, 'poles' | 'arms' | 'idlePercent'>;
interface Board {
  /** Rated; a raised clock of the configuration takes its place. */
  readonly clockMhz: number;
  readonly outputs: number;
}

/** With the filters of the configuration. Notches that follow motors run with replies only; one that is absent is off. */
export const budgetOf = (fields: LoopFields, board: Board): LoopBudget =>
  budgetWith(fields, sectionsPerAxis(chainOf(asRunning(fields as ControllerConfig)), board.outputs), board);

/** With so many sections an axis in place of the configuration's own filters. */
export const budgetWith = (
  {protocol, replies, loopHz, clockMhz}: Pick<ControllerFields, 'protocol' | 'replies' | 'loopHz' | 'clockMhz'>,
  biquadsPerAxis: number,
  board: Board,
): LoopBudget =>
  loopBudget({
    ...{outputs: board.outputs, protocol, replies, loopHz, biquadsPerAxis},
    clockMhz: runningMhz({clockMhz}, board.clockMhz),
  });
