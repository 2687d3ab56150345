/** Refuses to begin writing on a battery that would not last for the order. */
import {batteryRefusal} from '../../bench/battery';
import {ProblemError} from '../../problem';
import {orderEstimateMs} from '../../order/work-order';
import type {RunContext} from '../run-context';

export async function checkBattery(run: RunContext): Promise<void> {
  const power = await run.client.request('power', null);
  const refusal = batteryRefusal(power, run.order.cells, orderEstimateMs(run.order));
  if (refusal) throw new ProblemError(refusal);
}
