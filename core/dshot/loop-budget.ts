/** Where the microseconds of one control loop go. */
import {isDigital, type Protocol} from './protocol';
import {wireTime, type WireTime} from './wire-time';

/** Processor cycles of our model of a gyro task; entries of the simulated controllers. */
const taskCycles = {base: 3_000, biquad: 52, sendPerOutput: 260, replyPerOutput: 540} as const;

interface LoopQuestion {
  readonly clockMhz: number;
  readonly loopHz: number;
  readonly protocol: Protocol;
  readonly replies: boolean;
  readonly outputs: number;
  /** Biquads run for every axis. */
  readonly biquadsPerAxis: number;
}

export interface LoopBudget {
  readonly periodUs: number;
  readonly wire: WireTime;
  /** Whether one exchange usually ends before the next loop starts; an analog pulse is sent by a timer of its own, not once a loop. */
  readonly wireFits: boolean;
  /** Whether it does at its longest too. */
  readonly wireAlwaysFits: boolean;
  readonly baseUs: number;
  readonly filtersUs: number;
  readonly protocolUs: number;
  /** Share of the period the gyro task computes, 0…1 and beyond when overloaded. */
  readonly load: number;
}

/** Budget of one loop. Cycles / MHz = µs. */
export function loopBudget(q: LoopQuestion): LoopBudget {
  const periodUs = 1e6 / q.loopHz;
  const wire = wireTime(q.protocol, q.replies);
  const baseUs = taskCycles.base / q.clockMhz;
  const filtersUs = (3 * q.biquadsPerAxis * taskCycles.biquad) / q.clockMhz;
  const perOutput = taskCycles.sendPerOutput + (q.replies && isDigital(q.protocol) ? taskCycles.replyPerOutput : 0);
  const protocolUs = (q.outputs * perOutput) / q.clockMhz;
  return {
    periodUs,
    wire,
    wireFits: q.protocol === 'analog' || wire.totalUs < periodUs,
    wireAlwaysFits: q.protocol === 'analog' || wire.longestUs < periodUs,
    baseUs,
    filtersUs,
    protocolUs,
    load: (baseUs + filtersUs + protocolUs) / periodUs,
  };
}

/** Share of the loop that the gyro task may take: under `good`, and `most` at the very most (common practice, no source). */
export const loadLimits = {good: 0.5, most: 0.65} as const;
