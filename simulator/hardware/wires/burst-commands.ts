/** Requests for a burst, as the simulated flight controller takes them. */
import {maxBurstBytes, type Argument, type Operation} from '@core/link/operations';
import type {BurstMemory} from './burst-memory';

type BurstOperation = Extract<Operation, `burst.${string}`>;
export type BurstCall = {[O in BurstOperation]: {operation: O; argument: Argument<O>}}[BurstOperation];

interface Now {
  readonly nowMs: number;
  readonly loopHz: number;
}

type BurstAnswer = {readonly value: unknown} | {readonly code: string; readonly text: string};

export function takeBurstCommand(memory: BurstMemory, call: BurstCall, now: Now): BurstAnswer {
  switch (call.operation) {
    case 'burst.start':
      return start(memory, call.argument, now);
    case 'burst.state':
      return {value: memory.state(now.loopHz)};
    case 'burst.read':
      return read(memory, call.argument, now);
  }
}

function start(memory: BurstMemory, {rows, rateHz}: Argument<'burst.start'>, now: Now): BurstAnswer {
  const {memoryRows} = memory;
  if (rows > memoryRows)
    return {code: 'burst-too-long', text: `The memory of this controller holds ${memoryRows} rows, not ${rows}.`};
  if (rateHz > now.loopHz) return {code: 'burst-too-fast', text: `This controller runs ${now.loopHz} loops a second.`};
  memory.start(rows, rateHz, now);
  return {value: memory.state(now.loopHz)};
}

function read(memory: BurstMemory, {from, count}: Argument<'burst.read'>, {loopHz}: Now): BurstAnswer {
  if (count * memory.state(loopHz).rowBytes > maxBurstBytes)
    return {code: 'bad-argument', text: `${count} rows are more than ${maxBurstBytes} bytes.`};
  const piece = memory.read(from, count);
  return piece ? {value: piece} : {code: 'not-kept', text: `Rows ${from + 1} to ${from + count} were not kept.`};
}
