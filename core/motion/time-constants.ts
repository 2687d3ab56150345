/** How fast a motor follows: up to 63 % of a step, down to 37 % of its speed after a cut. Seconds. */
import {estimateOf, noEstimate, type Answer, type Estimate} from './answer';
import {cutsOf, stepsOf, type Step} from './phases';
import {turningRpm} from './starting';
import {type OwnTrace} from './trace';
import {median} from '../numbers/median';

/** Speeds of 1 − 1/e and 1/e, as the trade rounds them. */
const upShare = 0.63;
const downShare = 0.37;
/** A speed has settled when its last two quarters differ by less than this share of the step. */
const settledShare = 0.04;

/** Row, with its fraction, at which the speed first crosses `goal` from row `from` on; undefined when it does not. */
function crossing({rpm, timeS}: OwnTrace, goal: number, {from, to}: {from: number; to: number}): number | undefined {
  for (let i = from + 1; i < to; i++) {
    const [a, b] = [rpm[i - 1]!, rpm[i]!];
    if (a === b || (a - goal) * (b - goal) > 0) continue;
    return timeS[i - 1]! + ((goal - a) / (b - a)) * (timeS[i]! - timeS[i - 1]!);
  }
  return undefined;
}

interface Timed {
  readonly seconds: number;
  readonly fromRest: boolean;
}

/** Seconds from a step up to 63 % of the change; undefined when the speed had not settled before or after. */
function spoolUpOf(trace: OwnTrace, {at, before, after}: Step, without: readonly number[]): Timed | undefined {
  const {rpm, timeS} = trace;
  if (after.throttle <= before.throttle || without.some((row) => row >= before.from && row < after.to))
    return undefined;
  const length = after.to - after.from;
  const low = median(rpm.subarray(before.to - Math.ceil((before.to - before.from) / 4), before.to));
  const high = median(rpm.subarray(after.to - Math.ceil(length / 4), after.to));
  const earlier = median(rpm.subarray(after.to - Math.ceil(length / 2), after.to - Math.floor(length / 4)));
  if (high - low < 2 * turningRpm || Math.abs(high - earlier) > settledShare * (high - low)) return undefined;
  const reached = crossing(trace, low + upShare * (high - low), {from: at, to: after.to});
  return reached === undefined ? undefined : {seconds: reached - timeS[at]!, fromRest: low < turningRpm};
}

/** Time up to 63 %, the middle of the steps; steps from rest, which hold the start too, only where there are no others. */
export function spoolUpS(trace: OwnTrace, without: readonly number[] = []): Answer {
  const steps = stepsOf(trace);
  const times = steps.flatMap((step) => spoolUpOf(trace, step, without) ?? []);
  const turning = times.filter((t) => !t.fromRest);
  const used = (turning.length ? turning : times).map((t) => t.seconds);
  if (used.length) return fineEnough(used, trace.stepS);
  const rises = steps.some((s) => s.after.throttle > s.before.throttle);
  return noEstimate(rises ? 'No step up was held until the speed had settled.' : 'The trace has no step up.');
}

/** Time down to 37 % after a cut, the middle of the cuts. */
export function coastDownS(trace: OwnTrace): Answer {
  const {rpm, timeS, stepS} = trace;
  const cuts = cutsOf(trace, 3 * turningRpm);
  let longest = 0;
  const times = cuts.flatMap(({from, to}) => {
    const speed = median(rpm.subarray(Math.max(0, from - 3), from + 1));
    const reached = crossing(trace, downShare * speed, {from, to});
    longest = Math.max(longest, timeS[to - 1]! - timeS[from]!);
    return reached === undefined ? [] : [reached - timeS[from]!];
  });
  if (times.length) return fineEnough(times, stepS);
  if (!cuts.length) return noEstimate('The trace has no cut from a turning motor.');
  return {
    value: undefined,
    reason: `It had not fallen to 37 % after ${longest.toFixed(2)} s, where the trace ends or turns it again.`,
    atLeast: longest,
  };
}

/** The middle of what was timed; said only where the rows are close enough to have seen it. */
function fineEnough(times: readonly number[], stepS: number): Answer {
  const value = median(times);
  if (value < stepS)
    return noEstimate(`It took less than the ${(stepS * 1000).toFixed(0)} ms between two rows; record a burst.`);
  return estimateOf(value, eitherOf(times, stepS));
}

const eitherOf = (times: readonly number[], stepS: number): number =>
  Math.max(Math.max(...times) - Math.min(...times), stepS) / (times.length > 3 ? 2 : 1);

export const isEstimate = (answer: Answer): answer is Estimate => answer.value !== undefined;
