/** Whether replies are proven: every motor turned as it should, and none of the replies asked for was lost. */
import {upperBound} from './binomial-bound';
import {motorList} from '../words/motor-list';
import {grouped} from '../words/grouped';
import {median} from '../numbers/median';
import {percent} from '../words/percent';

export interface MotorReplies {
  /** Replies asked for and replies missing or bad, from the moment the level was commanded: the ramp counts. */
  readonly asked: number;
  readonly lost: number;
  /** Median speed of the level's second half, from replies; null when none came. */
  readonly rpm: number | null;
  /** KV times the volts that the throttle gives, rpm: what this motor turns without load. */
  readonly noLoadRpm?: number;
}

/** What replies said while one motor alone was driven. */
export interface AloneState {
  /** Whether its own replies said that it turns. */
  readonly turned: boolean;
  /** Motors, counted from 0, whose replies said that they turn although nothing drives them. */
  readonly others: readonly number[];
}

export interface ReplyMeasure {
  /** Throttle, 0…1. */
  readonly throttle: number;
  /** Each motor driven alone before the first level; whose reply is whose is not known without it. */
  readonly alone?: readonly AloneState[];
  readonly motors: readonly MotorReplies[];
}

/** A motor on the bench turns between these shares of KV × volts × throttle: friction and dead time take the rest. */
export const plausibleShare = {least: 0.7, most: 1.1};
/** At idle friction takes more, and all that is asked is that the motor turns by itself. */
export const plausibleIdleShare = {least: 0.2, most: 1.3};
/** Throttle up to which a level counts as idle. */
export const idleThrottle = 0.15;
/** Motors of one craft turn alike within this share of their median. */
export const speedSpread = 0.12;
/** A proof needs so many replies per motor that, with none lost, the true loss lies below this (95 %). */
export const provenLoss = 0.001;

/** Share of replies lost, 0…1; undefined when none was asked for. */
export const replyLoss = ({asked, lost}: {asked: number; lost: number}): number | undefined =>
  asked > 0 ? lost / asked : undefined;

type Counted = readonly {readonly asked: number; readonly lost: number}[];
/** Share of replies lost between two counts, per motor; undefined for one that was asked for none, or not counted before. */
export const lossSince = (before: Counted, now: Counted): (number | undefined)[] =>
  now.map((m, i) => {
    const earlier = before[i];
    return earlier && replyLoss({asked: m.asked - earlier.asked, lost: m.lost - earlier.lost});
  });

interface ReplyVerdict {
  readonly holds: boolean;
  /** What was measured, in words and figures. */
  readonly text: string;
  /** What to do where it does not hold. */
  readonly remedy: string;
}

const remedies = {
  lost: 'Look at the loop budget on the Signal station; replies must not be lost.',
  still: 'Plan a higher idle on the Signal station if it does not start; else look at this motor, its plug and its KV.',
  few: 'Hold until the measurement says that it is done.',
  crossed: 'Check the signal wires and the motor outputs: each reply must come from its own motor.',
};

/** Judges what was measured; `idle` is the first level. */
export function judgeReplies(measures: readonly ReplyMeasure[]): ReplyVerdict {
  const totals = motorTotals(measures);
  if (!totals.length || totals.some((t) => t.asked === 0))
    return fails('No replies were requested: they are off in the flight controller.', remedies.lost);
  const asked = totals.reduce((sum, t) => sum + t.asked, 0);
  const worst = totals.reduce((a, b) => (b.lost / b.asked > a.lost / a.asked ? b : a));
  if (worst.lost > 0)
    return fails(
      `Motor ${worst.motor + 1} lost ${grouped(worst.lost)} of ${grouped(worst.asked)} replies (${percent(worst.lost / worst.asked)}, with 95 % certainty at most ${percent(upperBound(worst.lost, worst.asked))}); a proof needs none lost.`,
      remedies.lost,
    );
  const crossed = crossedReply(measures[0]?.alone);
  if (crossed) return fails(crossed, remedies.crossed);
  const still = measures.map(stillMotor).find((text) => text !== undefined);
  if (still) return fails(still, remedies.still);
  const few = Math.min(...totals.map((t) => t.asked));
  const bound = upperBound(0, few);
  if (bound > provenLoss)
    return fails(
      `Only ${grouped(few)} replies per motor were counted: too few to say that the loss is below ${percent(provenLoss)}.`,
      remedies.few,
    );
  return {
    holds: true,
    remedy: '',
    text: `none of ${grouped(asked)} replies lost at ${levelsText(measures)}, ramps counted, each motor driven alone first; with 95 % certainty below ${percent(bound)} per motor, up to ${percent(topOf(measures))} throttle`,
  };
}

/** Highest throttle of the levels: nothing is known above it. */
const topOf = (measures: readonly ReplyMeasure[]) => Math.max(...measures.map((m) => m.throttle));

/** A reply that came from another motor than it should, in words; undefined where each came from its own. */
export function crossedReply(alone: readonly AloneState[] | undefined): string | undefined {
  if (!alone) return 'The motors were not driven one by one, so it is not known whose reply is whose.';
  for (const [i, {turned, others}] of alone.entries()) {
    if (others.length)
      return `Only motor ${i + 1} was driven, and the replies of ${motorList(others, alone.length)} reported that ${others.length === 1 ? 'it turns' : 'they turn'}: replies come from the wrong motor.`;
    if (!turned) return `Motor ${i + 1} was driven alone, and its replies did not report that it turns.`;
  }
  return undefined;
}

function motorTotals(measures: readonly ReplyMeasure[]) {
  return (measures[0]?.motors ?? []).map((_, motor) =>
    measures.reduce(
      (sum, {motors}) => ({
        motor,
        asked: sum.asked + (motors[motor]?.asked ?? 0),
        lost: sum.lost + (motors[motor]?.lost ?? 0),
      }),
      {motor, asked: 0, lost: 0},
    ),
  );
}

/** What is wrong with the speeds of a level, in words; undefined when every motor turned plausibly and alike. */
function stillMotor({throttle, motors}: ReplyMeasure): string | undefined {
  const at = `at ${percent(throttle)} throttle`;
  const isIdle = throttle <= idleThrottle;
  const {least, most} = isIdle ? plausibleIdleShare : plausibleShare;
  for (const [i, {rpm, noLoadRpm}] of motors.entries()) {
    if (rpm === null) return `No speed came from motor ${i + 1} ${at}, so it is unknown whether it turned.`;
    if (rpm === 0) return `Motor ${i + 1} did not turn ${at}, so its replies prove nothing.`;
    if (noLoadRpm === undefined) continue;
    const share = rpm / noLoadRpm;
    if (share < least || share > most)
      return (
        `Motor ${i + 1} turned with ${grouped(rpm)} rpm ${at}; KV and battery voltage give ${grouped(noLoadRpm)}. ` +
        `A free motor stays between ${percent(least)} and ${percent(most)} of that.`
      );
  }
  if (isIdle) return undefined;
  const usual = median(motors.map((m) => m.rpm!));
  const odd = motors.findIndex((m) => Math.abs(m.rpm! / usual - 1) > speedSpread);
  if (odd < 0) return undefined;
  return `Motor ${odd + 1} turned with ${grouped(motors[odd]!.rpm!)} rpm ${at}, the others with about ${grouped(usual)}: more than ${percent(speedSpread)} apart.`;
}

const fails = (text: string, remedy: string): ReplyVerdict => ({holds: false, text, remedy});
const levelsText = (measures: readonly ReplyMeasure[]) =>
  measures.map(({throttle}) => (throttle <= idleThrottle ? 'idle' : percent(throttle))).join(', ');
