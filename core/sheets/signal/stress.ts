/** What Signal says of replies under load: what was counted by motor, kind, time, throttle and speed, and why replies are lost. */
import {beforeMeasuring, replyFindings} from '../../compare/reply-findings';
import type {SignalFinding} from '../../compare/signal-findings';
import type {SignalPlace} from '../../controller/signal-pair';
import {armName} from '../../craft/arm-name';
import {protocolName} from '../../dshot/protocol';
import {slowestChip} from '../../firmware/chips';
import {upperBound} from '../../replies/binomial-bound';
import type {KeptStress} from '../../replies/kept-stress';
import {provenLoss} from '../../replies/replies';
import {
  aloneAndTogether,
  judgeQuality,
  shareOf,
  type LossBin,
  type MotorQuality,
  type ReplyQuality,
} from '../../replies/reply-quality';
import {stressLengths} from '../../spin/replies/stress-replies';
import {grouped} from '../../words/grouped';
import {momentText} from '../../words/moment';
import {percent} from '../../words/percent';
import type {Choice} from '../choice';
import type {CraftQuestion} from '../craft-question';

/** The run that is held or looked at, and what it has to go with. */
export interface StressNow {
  readonly isHeld: boolean;
  /** Counted so far in the run of now. */
  readonly counting: ReplyQuality | undefined;
  /** The run that is looked at. */
  readonly shown: KeptStress | undefined;
  /** Runs of this craft. */
  readonly runs: readonly KeptStress[];
  /** What a protocol and a loop rate have to go with on this craft; undefined before its flight controller was read. */
  readonly place: SignalPlace | undefined;
  /** Of the battery now, V; undefined while nothing is connected. */
  readonly volts: number | undefined;
  /** Throttle that no script goes beyond, 0…1. */
  readonly cap: number;
}

interface LossLine {
  readonly motor: number;
  readonly arm: string;
  readonly asked: string;
  readonly lost: string;
  readonly isLost: boolean;
  readonly share: string;
  readonly bound: string;
  /** Counts by kind: did not come, wrong code, wrong sum; undefined where they are not told apart. */
  readonly kinds: readonly [string, string, string] | undefined;
  readonly implausible: string;
  readonly isImplausible: boolean;
  readonly longestRun: string;
  readonly oldest: string;
}

/** Loss of each motor over something. */
export interface LossStrips {
  readonly title: string;
  readonly to: string;
  readonly strips: readonly LossStrip[];
}

/** Paths are in an SVG as many wide as bins and 22 high. */
interface LossStrip {
  readonly motor: number;
  readonly bins: number;
  readonly asked: string;
  readonly lost: string;
  /** Empty where none was lost. */
  readonly worst: string;
  readonly label: string;
}

interface CountedSheet {
  readonly tag: 'ok' | 'diff' | 'plan' | 'wait';
  readonly word: string;
  readonly text: string;
  readonly lines: readonly LossLine[];
  /** Over time, throttle and speed. */
  readonly strips: readonly LossStrips[];
  /** Each motor alone against all together; empty where no motor turned alone. */
  readonly together: string;
  /** Of the run that is looked at; empty while one is held. */
  readonly run: string;
  /** What ended it before its time; empty where nothing did. */
  readonly cut: string;
}

interface StressSheet {
  readonly findings: readonly SignalFinding[];
  readonly canHold: boolean;
  readonly isSurveyed: boolean;
  readonly holdNote: string;
  readonly runs: Choice<string>[];
  /** Undefined while nothing was counted. */
  readonly counted: CountedSheet | undefined;
  /** Speed at the top of a strip, electrical turns a minute. */
  readonly maxErpm: number;
}

/** Lengths that can be chosen, s. */
export const stressChoices: Choice<number>[] = stressLengths.map((value) => ({
  value,
  label: value < 60 ? `${value} s` : `${value / 60} min`,
}));

/** When a run passes, in one sentence. */
export const stressRule = `Passes with none lost, no impossible speed, and so many counted that the loss lies below ${percent(provenLoss)} per motor with 95 % certainty (Clopper and Pearson). Code: a group of bits that is not a valid GCR code. Sum: a checksum that is not right.`;

export function stressSheet(q: CraftQuestion, now: StressNow): StressSheet {
  const {craft, record, bench} = q;
  const quality = now.isHeld ? now.counting : now.shown?.quality;
  const hasReplies = !!record.found?.controller?.config.replies;
  const {kv, poles} = craft.motor;
  return {
    findings: findingsOf(q, now),
    canHold: bench.isPropsOff && !bench.isOccupied && hasReplies && !bench.isOnAdapter,
    isSurveyed: !!record.found,
    holdNote: `each motor alone, then ramps and steps of all, from idle to ${percent(now.cap)}; letting go ends it and keeps what was counted`,
    runs: now.runs.map((run) => ({value: run.id, label: runLabel(run)})),
    counted: quality && countedSheet(q, now, quality),
    maxErpm: (kv * (now.volts ?? 1) * now.cap * poles) / 2,
  };
}

const runLabel = ({at, quality, protocol, loopHz}: KeptStress): string =>
  `${momentText(at)}, ${quality.seconds.toFixed(0)} s, ${protocolName[protocol]} at ${loopHz / 1000} kHz`;

/** What can be said before measuring, then what the run on what was found shows; one on something else says nothing. */
function findingsOf(
  {craft, record}: CraftQuestion,
  {place, volts, isHeld, shown}: StressNow,
): readonly SignalFinding[] {
  const {found} = record;
  const config = found?.controller?.config;
  if (!config || !place || isHeld) return [];
  const question = {
    ...{found, countedPoles: craft.motor.poles, plan: craft.plan.controller, volts: volts ?? found.power.volts},
    // What was found ran, not what is planned.
    place: {...place, chip: slowestChip(found.escs.map((e) => e.boot.chip))},
  };
  const before = beforeMeasuring(question);
  const isOwn =
    shown?.protocol === config.protocol &&
    shown.loopHz === config.loopHz &&
    shown.replies === config.replies &&
    shown.at > found.at;
  return before.length || !shown || !isOwn ? before : replyFindings({...question, quality: shown.quality});
}

function countedSheet({craft}: CraftQuestion, {isHeld, shown}: StressNow, quality: ReplyQuality): CountedSheet {
  const {holds, text} = judgeQuality(quality);
  return {
    ...howItEnded(holds, isHeld, shown),
    text,
    lines: quality.motors.map((motor, m) => ({motor: m + 1, arm: armName(craft, m), ...lossLine(motor)})),
    strips: [overTime(quality), overThrottle(quality), overSpeed(quality)],
    together: togetherText(quality),
    run: isHeld || !shown ? '' : ranText(shown),
    cut:
      isHeld || !shown?.endedBy
        ? ''
        : `Ended after ${quality.seconds.toFixed(1)} of ${shown.plannedS} s: ${shown.endedBy}`,
  };
}

/** A run that was let go has not come to all that the script asks: it can fail, and passes nothing. */
function howItEnded(
  holds: boolean,
  isHeld: boolean,
  shown: KeptStress | undefined,
): Pick<CountedSheet, 'tag' | 'word'> {
  if (isHeld) return {tag: 'plan', word: 'counting'};
  if (!holds) return {tag: 'diff', word: 'does not pass'};
  return shown?.endedBy === undefined ? {tag: 'ok', word: 'passes'} : {tag: 'wait', word: 'ended too early'};
}

const ranText = ({protocol, replies, loopHz, top, at, quality}: KeptStress): string =>
  `${protocolName[protocol]} ${replies ? 'with' : 'without'} replies at ${loopHz / 1000} kHz, up to ${percent(top)} throttle, ${momentText(at)}, gyro task at most ${percent(quality.load)}.`;

function lossLine(motor: MotorQuality): Omit<LossLine, 'motor' | 'arm'> {
  const {asked, lost, lostAs, implausible, longestRun, oldestMs} = motor;
  const share = shareOf(motor);
  return {
    ...{asked: grouped(asked), lost: grouped(lost), isLost: lost > 0},
    share: share === undefined ? '–' : percent(share),
    bound: asked ? percent(upperBound(lost, asked)) : '–',
    kinds: lostAs && [grouped(lostAs.missing), grouped(lostAs.code), grouped(lostAs.checksum)],
    ...{implausible: grouped(implausible), isImplausible: implausible > 0},
    longestRun: longestRun === undefined ? '–' : String(longestRun),
    oldest: oldestMs === undefined ? '–' : `${oldestMs.toFixed(1)} ms`,
  };
}

function togetherText(quality: ReplyQuality): string {
  const both = aloneAndTogether(quality);
  if (!both) return '';
  const of = ({lost, asked}: LossBin) => `${grouped(lost)} of ${grouped(asked)}`;
  return `At up to ${percent(both.upTo)} throttle: each motor alone lost ${of(both.alone)}, all together ${of(both.together)}.`;
}

const overTime = (q: ReplyQuality): LossStrips => {
  const binsOf = (m: number) => q.overTime.map(({asked, lost}) => ({asked: asked[m] ?? 0, lost: lost[m] ?? 0}));
  return strips(
    'time',
    `${q.seconds.toFixed(0)} s`,
    q.motors.map((_, m) => binsOf(m)),
  );
};

const overThrottle = (q: ReplyQuality): LossStrips => {
  const bins = visited(q, (m) => m.overThrottle);
  return strips('throttle', `${10 * (bins[0]?.length ?? 10)} %`, bins);
};

const overSpeed = (q: ReplyQuality): LossStrips => {
  const bins = visited(q, (m) => m.overSpeed);
  return strips('speed', `${grouped(((bins[0]?.length ?? 10) / 10) * q.mostRpm)} rpm`, bins);
};

/** Bins of every motor, up to the last one that any motor came to. */
function visited({motors}: ReplyQuality, of: (m: MotorQuality) => readonly LossBin[]): (readonly LossBin[])[] {
  const last = Math.max(0, ...motors.map((m) => of(m).findLastIndex((b) => b.asked > 0)));
  return motors.map((m) => of(m).slice(0, last + 1));
}

/** Height of a strip; a bar is as high as the logarithm of the loss, from 0.01 % at the foot to all at the top. */
const [height, minHeight, decades] = [22, 4, 4];
const barHeight = (share: number): number =>
  Math.max(minHeight, Math.round(height * Math.min(1, 1 + Math.log10(share) / decades)));
const bar = (i: number, h: number): string => `M${i} ${height}h1v${-h}h-1z`;

const strips = (title: string, to: string, motors: readonly (readonly LossBin[])[]): LossStrips => ({
  ...{title, to},
  strips: motors.map((bins, m) => {
    const shares = bins.map(shareOf);
    const worst = Math.max(0, ...shares.map((s) => s ?? 0));
    return {
      ...{motor: m + 1, bins: Math.max(1, bins.length), worst: worst > 0 ? percent(worst) : ''},
      asked: shares.map((s, i) => (s === undefined ? '' : bar(i, height))).join(''),
      lost: shares.map((s, i) => (s ? bar(i, barHeight(s)) : '')).join(''),
      label: `Motor ${m + 1} over ${title}: ${worst > 0 ? `at most ${percent(worst)} lost` : 'none lost'}`,
    };
  }),
});
