/** What was recorded while motors turned: one row per moment, whatever kept it. */
import type {BurstTrace} from '../link/burst';
import {rpmOfErpm} from '../dshot/reply';
import {median} from '../numbers/median';

/** One motor over a trace, one value per row. */
interface MotorTrace {
  /** Commanded throttle, 0…1. */
  readonly throttle: Float64Array;
  /** rpm; NaN where no reply came. */
  readonly rpm: Float64Array;
  /** Phase current, A, NaN where it is missing; undefined where nobody measured it. */
  readonly amps: Float64Array | undefined;
}

export interface SpinTrace {
  /** s, rising. */
  readonly timeS: Float64Array;
  /** Supply of the bridges, V; undefined where nobody measured it. */
  readonly volts: Float64Array | undefined;
  readonly motors: readonly MotorTrace[];
  /** Poles of the motors, where speeds are those of replies as they came: an electrical turn old, more or less. */
  readonly poles?: number | undefined;
  /** What was left out or mended when it was read. */
  readonly notes: readonly string[];
}

/** A burst of motors with so many poles. */
export function traceOfBurst({timeS, volts, outputs}: BurstTrace, poles: number): SpinTrace {
  const motors = outputs.map(({erpm, throttle, amps}) => ({
    throttle,
    rpm: erpm.map((value) => rpmOfErpm(value, poles)),
    amps,
  }));
  return {timeS, volts, motors, poles, notes: []};
}

/** One motor alone, with the time and supply it shares with the others. */
export interface OwnTrace extends MotorTrace {
  readonly timeS: Float64Array;
  readonly volts: Float64Array | undefined;
  readonly poles?: number | undefined;
  /** Usual time between rows, s. */
  readonly stepS: number;
}

/** Motor `m`, counted from 0, cleared of single rows that no motor can have followed. */
export function ownTrace(trace: SpinTrace, m: number): OwnTrace {
  const motor = trace.motors[m];
  if (!motor) throw new RangeError(`The trace has no motor ${m + 1}`);
  const {timeS, volts, poles} = trace;
  return {...motor, poles, rpm: withoutSpikes(bridged(motor.rpm)), timeS, volts, stepS: usualStep(timeS)};
}

/** The middle distance of the rows, s. */
export function usualStep(timeS: Float64Array): number {
  const steps = Array.from({length: Math.max(0, timeS.length - 1)}, (_, i) => timeS[i + 1]! - timeS[i]!);
  return steps.length ? median(steps) : 0;
}

/** Missing replies follow a line between those beside them; at the ends the nearest is taken. */
function bridged(rpm: Float64Array): Float64Array {
  const out = rpm.slice();
  let last = -1;
  for (let i = 0; i < out.length; i++) {
    if (Number.isNaN(out[i])) continue;
    for (let gap = last + 1; gap < i; gap++)
      out[gap] = last < 0 ? out[i]! : out[last]! + ((out[i]! - out[last]!) * (gap - last)) / (i - last);
    last = i;
  }
  return last < 0 ? out.fill(0) : out.fill(out[last]!, last + 1);
}

/** A single row that differs from both its neighbours by far more than they do from each other is a spoilt reply. */
function withoutSpikes(rpm: Float64Array): Float64Array {
  const out = rpm.slice();
  for (let i = 1; i + 1 < rpm.length; i++) {
    const [before, own, after] = [out[i - 1]!, rpm[i]!, rpm[i + 1]!];
    const apart = Math.min(Math.abs(own - before), Math.abs(own - after));
    if (apart > 0.15 * Math.max(before, after) && apart > 4 * Math.abs(after - before)) out[i] = (before + after) / 2;
  }
  return out;
}

/** The highest of any number of values; −Infinity of none. */
export const highestOf = (values: Iterable<number>): number => {
  let highest = -Infinity;
  for (const value of values) if (value > highest) highest = value;
  return highest;
};
