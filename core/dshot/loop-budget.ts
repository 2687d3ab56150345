/** Where the microseconds of one control loop go. */
import {bitUs, isDigital, pulseSpanUs, type Protocol} from './protocol';

/** Pause between the command and its reply, µs (open trade protocol: "about 30"). */
export const turnaroundUs = 30;

export interface WireTime {
  readonly commandUs: number;
  readonly turnaroundUs: number;
  readonly replyUs: number;
  readonly totalUs: number;
}

/** Time one exchange takes on the motor wires; all outputs run side by side. A pulse takes longest at full throttle, and has no reply. */
export function wireTime(protocol: Protocol, replies: boolean): WireTime {
  if (!isDigital(protocol)) {
    const [, longest] = pulseSpanUs[protocol];
    return {commandUs: longest, turnaroundUs: 0, replyUs: 0, totalUs: longest};
  }
  const commandUs = 16 * bitUs(protocol);
  const replyUs = replies ? 21 * bitUs(protocol) * 0.8 : 0;
  const pause = replies ? turnaroundUs : 0;
  return {commandUs, turnaroundUs: pause, replyUs, totalUs: commandUs + pause + replyUs};
}

/** Processor cycles of our model of a gyro task; entries of the simulated controllers. */
export const taskCycles = {base: 3_000, biquad: 52, sendPerOutput: 260, replyPerOutput: 540} as const;

export interface LoopQuestion {
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
  /** Whether one exchange ends before the next loop starts; an analog pulse is sent by a timer of its own, not once a loop. */
  readonly wireFits: boolean;
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
    wireFits: q.protocol === 'analog' || wire.totalUs <= periodUs,
    baseUs,
    filtersUs,
    protocolUs,
    load: (baseUs + filtersUs + protocolUs) / periodUs,
  };
}

/** Share of the loop that the gyro task may take: under `good` is good practice, beyond `lost` replies get lost (common practice). */
export const loadLimits = {good: 0.5, lost: 0.65} as const;
