/** What Signal says of the proof of the replies: its counts by throttle and motor, and every motor as it is now. */
import {rpmOfErpm} from '../../dshot/reply';
import type {Report} from '../../link/operations';
import {upperBound} from '../../replies/binomial-bound';
import {plausibleShare, replyLoss, speedSpread, type MotorReplies, type ReplyMeasure} from '../../replies/replies';
import {standingText} from '../../proof/standing';
import {grouped} from '../../words/grouped';
import {percent, wholePercent} from '../../words/percent';
import {standingTag, standingWord} from '../../words/standing-words';
import {armName} from '../../craft/arm-name';
import type {CraftQuestion, JudgedCraft} from '../craft-question';

interface CountCell {
  readonly lost: string;
  readonly asked: string;
  readonly speed: string;
  /** Replies were lost, or the motor did not turn. */
  readonly isBad: boolean;
}

interface RepliesProofSheet {
  readonly tag: 'ok' | 'diff' | 'wait';
  readonly word: string;
  readonly text: string;
  readonly since: string;
  /** Counts of the proof; undefined where it was disproven under load, without levels of its own. */
  readonly counts: RepliesCounts | undefined;
}

interface RepliesCounts {
  readonly arms: readonly string[];
  readonly levels: readonly {readonly throttle: string; readonly cells: readonly CountCell[]}[];
  /** What the counts bound the true loss to, per motor. */
  readonly bounds: readonly string[];
}

/** When it is proven, in one sentence. */
export const repliesRule = `Lost of asked, ramps counted. Proven when none is lost, every motor turns within ${percent(plausibleShare.least)} to ${percent(plausibleShare.most)} of KV × volts × throttle, and the motors lie within ${percent(speedSpread)} of each other. Loss: 95 % upper bound, 1 − 0.05^(1/n).`;

/** Undefined while nothing was measured. */
export function repliesProofSheet({craft, standings}: JudgedCraft): RepliesProofSheet | undefined {
  const standing = standings.replies;
  if (standing.kind === 'none') return undefined;
  const {text, replies} = standing.proof;
  const arms = (replies?.[0]?.motors ?? []).map((_, output) => armName(craft, output));
  return {
    ...{tag: standingTag[standing.kind], word: standingWord[standing.kind], text, since: standingText(standing)},
    counts: replies && {arms, levels: replies.map(level), bounds: arms.map((_, motor) => lossBound(replies, motor))},
  };
}

const level = ({throttle, motors}: ReplyMeasure): RepliesCounts['levels'][number] => ({
  throttle: wholePercent(throttle),
  cells: motors.map(countCell),
});

/** Counts as people read them: a share alone would round one lost reply to nothing. */
const countCell = (motor: MotorReplies): CountCell => ({
  lost: motor.asked ? grouped(motor.lost) : '–',
  asked: `of ${grouped(motor.asked)}`,
  speed: motor.rpm === null ? 'no speed' : `${motor.rpm.toFixed(0)} rpm`,
  isBad: replyLoss(motor) !== 0 || !motor.rpm,
});

function lossBound(levels: readonly ReplyMeasure[], motor: number): string {
  const sum = (of: 'asked' | 'lost') => levels.reduce((total, {motors}) => total + (motors[motor]?.[of] ?? 0), 0);
  const [asked, lost] = [sum('asked'), sum('lost')];
  if (!asked) return '–';
  return `${lost ? `${percent(lost / asked)}, ` : ''}< ${percent(upperBound(lost, asked))}`;
}

/** Whether the replies can be measured now, and what stands against it. */
interface MeasureAsk {
  readonly state: 'not surveyed' | 'replies off' | 'open';
  readonly canHold: boolean;
}

export function measureAsk({record, bench}: CraftQuestion): MeasureAsk {
  const hasReplies = !!record.found?.controller?.config.replies;
  return {
    state: !record.found ? 'not surveyed' : hasReplies ? 'open' : 'replies off',
    canHold: bench.isPropsOff && !bench.isOccupied && hasReplies,
  };
}

interface LiveLine {
  readonly motor: number;
  readonly arm: string;
  readonly throttle: string;
  readonly speed: string;
  readonly loss: string;
  readonly newest: string;
  /** What its ESC reports beside the speed; undefined where it does not. */
  readonly told: string | undefined;
}

/** @param motors of the newest report. @param recentLoss of each in the last second, 0…1; undefined where none was asked. */
export function liveLines(
  {craft}: JudgedCraft,
  motors: Report['motors'],
  recentLoss: readonly (number | undefined)[],
): LiveLine[] {
  return motors.map((m, output) => {
    const loss = recentLoss[output];
    // Without a reply asked for in the last second an age says nothing.
    const ageMs = loss === undefined ? undefined : m.lostAs?.ageMs;
    return {
      ...{motor: output + 1, arm: armName(craft, output), throttle: wholePercent(m.throttle)},
      speed: m.erpm === null ? 'no reply' : `${rpmOfErpm(m.erpm, craft.plan.controller.poles).toFixed(0)} rpm`,
      loss: loss === undefined ? 'none requested' : `${(loss * 100).toFixed(1)} %`,
      newest: ageMs === undefined ? '–' : `${ageMs.toFixed(1)} ms`,
      told: m.told && toldText(m.told),
    };
  });
}

function toldText({temperature, voltage, current, state}: NonNullable<Report['motors'][number]['told']>): string {
  const parts = [
    temperature === undefined ? '' : `${temperature} °C`,
    voltage === undefined ? '' : `${voltage.toFixed(2)} V`,
    current === undefined ? '' : `${current} A`,
    state ? `${state} steps lost` : '',
  ];
  return parts.filter((part) => part).join(', ');
}
