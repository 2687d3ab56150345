/** What a person should know about the planned signal, in sentences. */
import type {FoundEsc} from '../bench/found';
import type {ControllerPlan} from '../controller/plan';
import {loadLimits, type LoopBudget} from '../dshot/loop-budget';
import {protocolRate} from '../dshot/protocol';
import {findChip} from '../firmware/chips';
import type {Remark} from '../remark';

export interface SignalQuestion {
  readonly plan: Pick<ControllerPlan, 'protocol' | 'replies'>;
  /** Of the plan, on the controller that was found. */
  readonly budget: LoopBudget;
  readonly escs: readonly Pick<FoundEsc, 'boot'>[];
}

export function signalRemarks({plan: {protocol, replies}, budget, escs}: SignalQuestion): Remark[] {
  const out: Remark[] = [];
  const load = `${(budget.load * 100).toFixed(0)} %`;
  if (replies && !budget.wireFits)
    out.push({
      tag: 'diff',
      word: 'too slow',
      text: `One exchange takes ${budget.wire.totalUs.toFixed(0)} µs, the loop repeats every ${budget.periodUs.toFixed(0)} µs. Plan a slower loop or a faster protocol.`,
    });
  if (budget.load > loadLimits.lost)
    out.push({
      tag: 'diff',
      word: 'overloaded',
      text: `The gyro task would take ${load} of the loop; beyond ${100 * loadLimits.lost} % replies are lost.`,
    });
  else if (budget.load > loadLimits.good)
    out.push({
      tag: 'wait',
      word: 'close',
      text: `The gyro task would take ${load} of the loop; under ${100 * loadLimits.good} % is good practice.`,
    });
  const slow = replies && escs.find((e) => protocolRate[protocol] > fastestReply(e));
  if (slow)
    out.push({
      tag: 'diff',
      word: 'too fast',
      text: `${slow.boot.chip} hears at most DShot${fastestReply(slow)} with replies.`,
    });
  return out.length
    ? out
    : [{tag: 'ok', word: 'fits', text: 'The exchange ends before the next loop, and the load leaves room.'}];
}

const fastestReply = ({boot}: Pick<FoundEsc, 'boot'>): number => findChip(boot.chip)?.fastestReplyDshot ?? 0;
