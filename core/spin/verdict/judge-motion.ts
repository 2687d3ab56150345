/**
 * What a motor card proves of a craft: every motor starts, they rise and fall alike, their constants are plausible. Each line has
 * its number; what was not told proves nothing.
 */
import {isEstimate} from '../../motion/time-constants';
import {poleCounts, polesBehind} from '../../motion/odd-motor';
import type {MotionReport, MotorReport} from '../../motion/report';
import type {Answer, Estimate} from '../../motion/answer';
import {crossedReply, type AloneState} from '../../replies/replies';
import {median} from '../../numbers/median';

/** A motor's KV lies within this share of its label (common practice: makers state it to 5 %, timing adds a little). */
const kvShare = 0.1;
/** Labels scatter by this about the true KV, one standard deviation, relative: most lie within 5 % (common practice). */
const labelScatter = 0.035;
/** The same of a KV as it is seen with a timing that nobody read: 0 to 30° of advance make it up to 1/cos 30° too high. */
const untimedScatter = 0.09;
/** Another pole count is told apart when the label makes it so many times less likely: 19 to 1 are 95 %. */
const odds = 19;

interface MotionLine {
  readonly name: 'starts' | 'rises and falls' | 'constants' | 'own replies';
  readonly holds: boolean;
  readonly text: string;
}

export interface MotionVerdict {
  readonly holds: boolean;
  readonly lines: readonly MotionLine[];
  /** All in one sentence. */
  readonly text: string;
  /** Values that were told of all motors. */
  readonly count: number;
}

interface MotionQuestion {
  readonly report: MotionReport;
  /** KV of the label, rpm/V. */
  readonly labelKv: number;
  /** Poles as they were counted. */
  readonly poles?: number | undefined;
  /** Somebody counted the magnets, or a flight showed the count: the label decides nothing then. */
  readonly isCounted?: boolean | undefined;
  /** The timing of every ESC is known: without that, KV is as it is seen, up to 15 % above the motor's. */
  readonly isTimed: boolean;
  /** Planned idle, percent. */
  readonly idlePercent: number;
  /** Each motor driven alone in the same measurement: without it, it is not known whose speeds these are. */
  readonly alone: readonly AloneState[] | undefined;
}

export function judgeMotion(question: MotionQuestion): MotionVerdict {
  const {report, idlePercent} = question;
  const lines = [starts(report, idlePercent), times(report), constants(report, question), ownReplies(question)];
  const told = report.motors
    .flatMap((m) => [m.startsAtPercent, m.spoolUpS, m.kv, m.resistanceOhm, m.inertia])
    .filter(isEstimate);
  return {
    holds: lines.every((l) => l.holds),
    lines,
    text: lines.map((l) => l.text).join('; '),
    count: told.length,
  };
}

function starts({motors, findings}: MotionReport, idlePercent: number): MotionLine {
  const fails = (text: string): MotionLine => ({name: 'starts', holds: false, text});
  const never = findings.find((f) => f.kind === 'never-turned');
  if (never) return fails(never.text.replace(/\.$/, ''));
  const all = motors.map((m) => m.startsAtPercent);
  const missing = all.findIndex((a) => !isEstimate(a));
  if (missing >= 0) return fails(`no estimate for the start of motor ${missing + 1}`);
  const stutters = motors.findIndex((m) => m.stutters.length > 0);
  if (stutters >= 0) return fails(`motor ${stutters + 1} stuttered while starting`);
  const told = all.filter(isEstimate);
  const last = told.reduce((a, b) => (b.high > a.high ? b : a));
  const text = `starts at ${least(told).toFixed(1)} to ${most(told).toFixed(1)} %, ${last.high.toFixed(1)} % at most`;
  return last.high >= idlePercent
    ? fails(`${text}: above the planned idle of ${idlePercent} %`)
    : {name: 'starts', holds: true, text: `${text}, idle ${idlePercent} %`};
}

function times({motors, findings}: MotionReport): MotionLine {
  const name = 'rises and falls' as const;
  const found = findings.find((f) => ['odd-spool-up', 'odd-coast-down', 'desync'].includes(f.kind));
  if (found) return {name, holds: false, text: found.text.replace(/\.$/, '')};
  const up = spread(motors, (m) => m.spoolUpS);
  if (!up) return {name, holds: false, text: 'no estimate for the rise of a motor'};
  const down = spread(motors, (m) => m.coastDownS);
  const fall = down ? `falls in ${ms(down.middle)} ms ± ${percent(down.share)} %` : 'falls too quickly to be measured';
  return {name, holds: true, text: `rises in ${ms(up.middle)} ms ± ${percent(up.share)} %, ${fall}`};
}

function constants({motors, findings}: MotionReport, {labelKv, poles, isCounted, isTimed}: MotionQuestion): MotionLine {
  const name = 'constants' as const;
  const found = findings.find((f) => ['wrong-poles', 'odd-kv', 'odd-resistance', 'odd-inertia'].includes(f.kind));
  if (found) return {name, holds: false, text: found.text.replace(/\.$/, '')};
  const kv = motors.map((m) => m.kv);
  const missing = kv.findIndex((a) => !isEstimate(a));
  if (missing >= 0) return {name, holds: false, text: `no estimate for the KV of motor ${missing + 1}`};
  const told = kv.filter(isEstimate);
  const text = `KV ${least(told).toFixed(0)} to ${most(told).toFixed(0)} rpm/V`;
  const isOff = told.some((t) => Math.abs(t.value / labelKv - 1) > kvShare);
  if (isOff) {
    const behind = polesBehind(median(told.map((t) => t.value)), labelKv, poles);
    const why = behind
      ? `the ratio of ${behind.poles} to ${behind.counted} poles: count the magnets`
      : 'count the magnets, or mend the label';
    return {name, holds: false, text: `${text}, the label says ${labelKv}: ${why}`};
  }
  const ratio = median(told.map((t) => t.value)) / labelKv;
  const scatter = isTimed ? labelScatter : untimedScatter;
  const rivals = isCounted || poles === undefined ? [] : rivalsOf(ratio, poles, scatter);
  if (rivals.length) {
    const fit = rivals.map((p) => `${p} poles and a label ${percentOff(labelKv, told, p / poles!)}`).join(', or ');
    return {
      name,
      holds: false,
      text: `${text}, the label says ${labelKv}: ${poles} poles and a label ${percentOff(labelKv, told, 1)} fit, and so do ${fit}. Count the magnets, or fly and let the Noise station find the count`,
    };
  }
  return {name, holds: true, text: `${text} beside ${labelKv} of the label, resistance and inertia alike`};
}

/** Every speed is that of its own motor. */
function ownReplies({alone}: MotionQuestion): MotionLine {
  const crossed = crossedReply(alone);
  return {
    name: 'own replies',
    holds: crossed === undefined,
    text: crossed?.replace(/\.$/, '') ?? 'each motor driven alone first: every reply is from its own motor',
  };
}

/**
 * Even pole counts that go with the measured speeds about as well: speeds computed with too many poles read low, as a label
 * that is too high does. @param ratio of the measured KV, computed with `poles`, to the label.
 */
function rivalsOf(ratio: number, poles: number, scatter: number): number[] {
  const off = (p: number) => ((ratio * poles) / p - 1) / scatter;
  return poleCounts.filter((p) => p !== poles && Math.exp((off(p) ** 2 - off(poles) ** 2) / 2) < odds);
}

/** How far the label lies from what was measured, if that was computed with `share` times the poles. */
function percentOff(labelKv: number, told: readonly Estimate[], share: number): string {
  const off = (labelKv * share) / median(told.map((t) => t.value)) - 1;
  return `${Math.abs(off * 100).toFixed(0)} % too ${off < 0 ? 'low' : 'high'}`;
}

const least = (told: readonly Estimate[]) => Math.min(...told.map((t) => t.value));
const most = (told: readonly Estimate[]) => Math.max(...told.map((t) => t.value));
const ms = (seconds: number) => (seconds * 1000).toPrecision(2);
const percent = (share: number) => (share * 100).toFixed(0);

/** The middle, and the largest distance of one from it as a share; undefined where a motor is not told. */
function spread(
  motors: readonly MotorReport[],
  of: (m: MotorReport) => Answer,
): {middle: number; share: number} | undefined {
  const told = motors.map(of).filter(isEstimate);
  if (!told.length || told.length < motors.length) return undefined;
  const middle = median(told.map((t) => t.value));
  return {middle, share: Math.max(...told.map((t) => Math.abs(t.value / middle - 1)))};
}
