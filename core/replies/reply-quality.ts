/** What a stress run says of replies: counts with bounds, by kind and over what they rise, and the rule by which it passes. */
import * as z from 'zod';
import {upperBound} from './binomial-bound';
import {provenLoss} from './replies';
import {grouped} from '../words/grouped';
import {percent} from '../words/percent';

export const lossKinds = ['missing', 'code', 'checksum'] as const;
export type LossKind = (typeof lossKinds)[number];

const count = z.number().int().min(0);
const binSchema = z.object({asked: count, lost: count});
export type LossBin = z.infer<typeof binSchema>;

const motorSchema = z.object({
  asked: count,
  lost: count,
  /** Absent where the flight controller does not tell them apart. */
  lostAs: z.object({missing: count, code: count, checksum: count}).optional(),
  longestRun: count.optional(),
  /** Oldest that the newest good reply became, ms. */
  oldestMs: z.number().min(0).optional(),
  /** Speeds that no motor can make. */
  implausible: count,
  /** By throttle from 0 to 1, and by speed from 0 to `mostRpm`. */
  overThrottle: z.array(binSchema).max(20),
  /** Of `overThrottle` what was counted while every other motor stood; absent in runs that had no such part. */
  alone: z.array(binSchema).max(20).optional(),
  overSpeed: z.array(binSchema).max(20),
});
export type MotorQuality = z.infer<typeof motorSchema>;

export const replyQualitySchema = z.object({
  seconds: z.number().min(0),
  /** Highest load of the gyro task, share of the loop. */
  load: z.number().min(0),
  mostRpm: z.number().positive(),
  motors: z.array(motorSchema).max(16),
  /** Bins of so many seconds, from the begin on; one number for each motor. */
  timeS: z.number().positive(),
  overTime: z
    .array(
      z.object({
        asked: z.array(count).max(16),
        lost: z.array(count).max(16),
        rpm: z.array(z.number().min(0).nullable()).max(16),
        throttle: z.number().min(0).max(1),
      }),
    )
    .max(1000),
});
export type ReplyQuality = z.infer<typeof replyQualitySchema>;

export const shareOf = ({asked, lost}: LossBin): number | undefined => (asked ? lost / asked : undefined);

/**
 * What motors lose at one throttle, each alone and all together: the highest at which both were counted.
 * @returns undefined where no motor turned alone.
 */
export function aloneAndTogether({
  motors,
}: ReplyQuality): {readonly alone: LossBin; readonly together: LossBin; readonly upTo: number} | undefined {
  const bins = Math.max(0, ...motors.map((m) => m.overThrottle.length));
  // The lowest bin holds what was counted while motors stood.
  for (let i = bins - 1; i > 0; i--) {
    const alone = sumOf(motors.map((m) => m.alone?.[i] ?? nothing));
    const all = sumOf(motors.map((m) => m.overThrottle[i] ?? nothing));
    const together = {asked: all.asked - alone.asked, lost: all.lost - alone.lost};
    if (alone.asked > 0 && together.asked > 0) return {alone, together, upTo: (i + 1) / bins};
  }
  return undefined;
}

const nothing: LossBin = {asked: 0, lost: 0};
export const sumOf = (bins: readonly LossBin[]): LossBin =>
  bins.reduce((all, b) => ({asked: all.asked + b.asked, lost: all.lost + b.lost}), nothing);

interface QualityVerdict {
  readonly holds: boolean;
  readonly text: string;
}

/** Passes with none lost, none implausible, and so many counted that the loss lies below {@link provenLoss} with 95 % certainty. */
export function judgeQuality({motors, seconds}: ReplyQuality): QualityVerdict {
  const asked = motors.reduce((sum, m) => sum + m.asked, 0);
  if (!motors.length || motors.some((m) => m.asked === 0))
    return {holds: false, text: 'No replies were requested: they are off, or the motors were let go at once.'};
  const worst = motors.reduce((a, b, i) => (b.lost / b.asked > a.share ? {i, share: b.lost / b.asked} : a), {
    i: 0,
    share: -1,
  });
  const {lost, asked: ofAsked} = motors[worst.i]!;
  if (lost > 0)
    return {
      holds: false,
      text: `Motor ${worst.i + 1} lost ${grouped(lost)} of ${grouped(ofAsked)} replies, ${percent(worst.share)}; with 95 % certainty at most ${percent(upperBound(lost, ofAsked))}.`,
    };
  const odd = motors.findIndex((m) => m.implausible > 0);
  if (odd >= 0)
    return {
      holds: false,
      text: `Motor ${odd + 1} reported ${grouped(motors[odd]!.implausible)} speeds that it cannot reach.`,
    };
  const few = Math.min(...motors.map((m) => m.asked));
  const bound = upperBound(0, few);
  if (bound > provenLoss)
    return {
      holds: false,
      text: `None of ${grouped(asked)} replies lost, but only ${grouped(few)} per motor: too few to say that the loss is below ${percent(provenLoss)}.`,
    };
  return {
    holds: true,
    text: `None of ${grouped(asked)} replies lost in ${seconds.toFixed(0)} s; with 95 % certainty the loss is below ${percent(bound)} per motor.`,
  };
}
