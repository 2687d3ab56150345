/**
 * The constants of one motor from what it did. Electrical: V·(D − lost) = R·i + K_T·ω. Mechanical, between two moments:
 * J·Δω = K_T·∫i dt − friction·Δt − drag·∫ω² dt (a permanent-magnet machine seen as the direct-current machine it averages to,
 * any text). Both are linear in what is looked for.
 */
import {phaseAngle, torqueShare} from '../motor/desync';
import {omegaOf, torqueConstant} from '../motor/motor';
import {estimateOf, noEstimate, type Answer} from './answer';
import {alignmentAt, jump, misfitsOf, type AlignedTrace} from './delay-misfit';
import {leastSquares, type Fit} from './least-squares';
import {stepsOf} from './phases';
import {startsOf, turningRpm} from './starting';
import {briefStartS, rowsToUse, type UsableRows} from './usable-rows';
import {highestOf, type OwnTrace} from './trace';
import {median} from '../numbers/median';

export interface MotorCard {
  /** rpm/V: of the motor where the timing is known, else as it is seen with the timing it has. */
  readonly kv: Answer;
  /** Winding and everything on the way to it, Ω. */
  readonly resistanceOhm: Answer;
  /** Bell and what turns with it, kg·m². */
  readonly inertia: Answer;
  /** N·m. */
  readonly friction: Answer;
  /** N·m·s². */
  readonly drag: Answer;
  /** By how much the speed comes later than the current, s; undefined where that does not show. */
  readonly delayS: number | undefined;
}

/** Deviations that nineteen of twenty lie within. */
const within95 = 2;
/** What no fit sees: scale errors of the senses, timing that changes with load; as shares of the value. */
const unseen = {kv: 0.004, resistanceOhm: 0.065, inertia: 0.055, friction: 0.15, drag: 0.2};
/** A value whose deviation is more than this share of it is not told. */
const vague = 0.15;
/** Usual scatter of a told speed, relative. */
const speedNoise = 5e-3;
/** Steady rows that are averaged into one. */
const averaged = 25;
/** The longest delay that is looked for, and how finely, s. */
const longestDelayS = 14e-3;
const delayStepS = 5e-4;
/** Around the best one so many times as finely. */
const finer = 10;
/** Speeds of replies are not taken for older than this, s. */
const oldestReplyS = 6e-3;

/** Dead time takes 2 · 20…300 ns · 24…96 kHz of the duty, 0.1 to 6 % (common practice): usual, and the ends; as shares. */
const usualLoss = 0.01;
const [leastLoss, mostLoss] = [0, 0.05];
const lossDoubt = 0.02;

/** What is known of the ESC's timing, so that its loss is told apart from the KV. */
export interface KnownTiming {
  /** Advance, electrical degrees; undefined where it follows the current by itself. */
  readonly advance: number | undefined;
  /** Winding inductance, H, as the craft has it: it turns the current against the back-EMF. */
  readonly inductanceH: number;
  readonly poles: number;
}

interface CardQuestion {
  /** Rows at which the motor lost step or stuttered: what follows is left out. */
  readonly except?: readonly number[];
  readonly timing?: KnownTiming | undefined;
}

/** Without a known timing the KV is the one that is seen, and all else follows from it. */
export function motorCard(trace: OwnTrace, {except = [], timing}: CardQuestion = {}): MotorCard {
  const noVolts = noEstimate('The supply is not known: the trace has no volts, and none were given.');
  const rows = rowsToUse(trace, except);
  if (!trace.volts) return {...withoutAmps(trace, rows), kv: noVolts};
  if (!trace.amps) return withoutAmps(trace, rows);
  const usual = cardOf(trace, rows, timing);
  if (usual.resistanceOhm.value !== undefined || !startsOf(trace).length) return usual;
  // Nothing but the start itself moved it: then that has to tell.
  const ofStart = cardOf(trace, rowsToUse(trace, except, briefStartS), timing);
  return ofStart.resistanceOhm.value === undefined ? usual : ofStart;
}

function cardOf(trace: OwnTrace, rows: UsableRows, timing: KnownTiming | undefined): MotorCard {
  const seen = withAmps(trace, rows);
  if (timing?.advance === undefined) return seen;
  return withAmps({...trace, alignment: alignmentOf(trace, timing, seen)}, rows);
}

/** Cosine of what the advance is off from the phase of the current, row by row, from what the motor is taken for so far. */
function alignmentOf(trace: OwnTrace, {advance, inductanceH, poles}: KnownTiming, seen: MotorCard): Float64Array {
  const still = torqueShare(advance!, 0);
  const kv = (seen.kv.value ?? NaN) * still;
  const resistanceOhm = seen.resistanceOhm.value;
  return trace.rpm.map((rpm, i) => {
    const amps = Math.max(0, trace.amps![i]!);
    const known = Number.isFinite(kv) && resistanceOhm !== undefined && Number.isFinite(amps);
    const phase = known ? phaseAngle({kv, poles, resistanceOhm, inductanceH}, {rpm, amps}) : 0;
    return torqueShare(advance!, phase);
  });
}

/** Without current: the speed over volts of a motor that turns freely, friction and dead time in the offset. */
function withoutAmps(trace: OwnTrace, {swept}: UsableRows): MotorCard {
  const noAmps = noEstimate('The trace has no phase current.');
  const other = {resistanceOhm: noAmps, inertia: noAmps, friction: noAmps, drag: noAmps, delayS: 0};
  const {volts, throttle, rpm} = trace;
  if (!volts) return {...other, kv: noAmps};
  const speeds = swept.map((i) => omegaOf(rpm[i]!));
  const [slowest, fastest] = [-highestOf(speeds.map((w) => -w)), highestOf(speeds)];
  if (!(fastest > 1.4 * slowest))
    return {...other, kv: noEstimate('It turned steadily at one speed only; a sweep gives an answer.')};
  const applied = swept.map((i) => volts[i]! * throttle[i]!);
  const straight = leastSquares(
    speeds.map((w) => [w, 1]),
    applied,
  );
  const curved =
    fastest > 3 * slowest
      ? leastSquares(
          speeds.map((w) => [w, 1, w * w]),
          applied,
        )
      : undefined;
  const bends = curved && curved.values[2]! > 4 * curved.deviations[2]!;
  return {...other, kv: kvAnswer(bends ? curved : straight)};
}

function kvAnswer(fit: Fit | undefined): Answer {
  const [kt, deviation] = [fit?.values[0] ?? 0, fit?.deviations[0] ?? Infinity];
  if (!(kt > 0) || deviation > vague * kt) return noEstimate('Speed does not follow the volts closely enough.');
  // KV and K_T are each 60/(2π) over the other.
  const value = torqueConstant(kt);
  return estimateOf(value, value * Math.hypot(unseen.kv, (within95 * deviation) / kt));
}

function withAmps(trace: AlignedTrace, rows: UsableRows): MotorCard {
  const {delayS, within, rpm} = inTime(trace, rows);
  const card = cardAt({...trace, rpm}, rows);
  if (delayS === undefined)
    return {...card, ...untoldMechanics, inertia: noDelay, resistanceOhm: noDelay, delayS: undefined};
  // What the constants would be with the delays that fit about as well is part of their doubt.
  const others = within.map((otherS) => cardAt({...trace, rpm: earlier(trace, () => otherS)}, rows));
  const widened = (constant: Constant) =>
    widenedBy(
      card[constant],
      others.map((other) => other[constant]),
    );
  return {
    delayS,
    ...{kv: widened('kv'), resistanceOhm: widened('resistanceOhm'), inertia: widened('inertia')},
    ...{friction: widened('friction'), drag: widened('drag')},
  };
}

type Constant = Exclude<keyof MotorCard, 'delayS'>;

/** An answer whose bound takes in how far others lie from it. */
function widenedBy(own: Answer, others: readonly Answer[]): Answer {
  if (own.value === undefined) return own;
  const {value, low, high} = own;
  const off = others.reduce((most, {value: other = value}) => Math.max(most, Math.abs(other - value)), 0);
  return estimateOf(value, Math.hypot((high - low) / 2, off));
}

/** The card of a trace whose speeds stand where they were true. */
function cardAt(trace: AlignedTrace, rows: UsableRows): Omit<MotorCard, 'delayS'> {
  const electrical = electricalFit(trace, rows, usualLoss);
  const mechanical = mechanicalFit(trace, rows);
  // Where the rows tell the lost duty, it is the same whatever was expected; where not, that is part of the doubt.
  const others = [leastLoss, mostLoss].map((share) => electricalFit(trace, rows, share));
  const kv = widenedBy(kvAnswer(electrical), others.map(kvAnswer));
  if (!electrical || kv.value === undefined) return {...untoldMechanics, kv, resistanceOhm: noSpread};
  const [kt, ohm] = electrical.values as [number, number];
  // Rows per mechanical time constant J·R/K_T²: with few of them nobody knows what the speed was when the current flowed.
  const apart = mechanical ? (trace.stepS * kt * mechanical.values[0]!) / ohm : Infinity;
  const rough = Math.max(apart > 0 ? apart : Infinity, rowsPerStep(trace));
  const resistanceOhm =
    rough > 0.6
      ? tooFar
      : (answerOf(ohm, electrical.deviations[1]!, Math.hypot(unseen.resistanceOhm, 0.35 * rough)) ?? noSpread);
  if (rough > 1.5) return {...untoldMechanics, inertia: tooFar, kv, resistanceOhm};
  return {
    ...{kv, resistanceOhm},
    ...mechanics(mechanical, {kt, unseenInertia: Math.hypot(unseen.inertia, 0.2 * rough)}),
  };
}

/** The same from the steps themselves: the largest share of one that came within a row is 1 − e^(−apart). */
function rowsPerStep(trace: OwnTrace): number {
  const {rpm} = trace;
  const shares = stepsOf(trace).flatMap(({at, before, after}) => {
    const change = rpm[after.to - 1]! - rpm[before.to - 1]!;
    if (after.throttle <= before.throttle || change < 3 * turningRpm) return [];
    const rows = Array.from({length: Math.min(4, after.to - at - 1)}, (_, k) => rpm[at + k + 1]! - rpm[at + k]!);
    return [Math.min(0.999, Math.max(0, ...rows) / change)];
  });
  return shares.length ? -Math.log(1 - median(shares)) : 0;
}

const noDelay = noEstimate('By how much the speed comes later than the current does not show; record a burst.');
const tooFar = noEstimate('The rows are too far apart for a motor this quick; record a burst.');
const noSpread = noEstimate('The current hardly changed; a step or a cut gives an answer.');
const untoldMechanics = {inertia: noSpread, friction: noSpread, drag: noSpread};

function answerOf(value: number, deviation: number, share: number): Answer | undefined {
  if (!(value > 0) || deviation > vague * value) return undefined;
  return estimateOf(value, value * Math.hypot(share, (within95 * deviation) / value));
}

/** Inertia, friction and drag from K_T/J, friction/J and drag/J. */
function mechanics(
  fit: Fit | undefined,
  {kt, unseenInertia}: {readonly kt: number; readonly unseenInertia: number},
): Pick<MotorCard, 'inertia' | 'friction' | 'drag'> {
  const push = fit && answerOf(fit.values[0]!, fit.deviations[0]!, unseenInertia);
  if (!fit || push?.value === undefined) return untoldMechanics;
  const inertia = kt / push.value;
  const share = (push.high - push.low) / 2 / push.value;
  const scaled = (i: number, own: number): Answer => {
    const value = fit.values[i]! * inertia;
    const answer = answerOf(value, fit.deviations[i]! * inertia, own);
    return answer ?? noEstimate('It is too small beside the rest to be estimated.');
  };
  return {
    inertia: estimateOf(inertia, inertia * share),
    friction: scaled(1, unseen.friction),
    drag: scaled(2, unseen.drag),
  };
}

/** One equation of the electrical fit: V·D against ω, i and, where the lost share is looked for, V; and how far it may be off, V. */
interface Equation {
  readonly left: readonly number[];
  readonly right: number;
  readonly noise: number;
}

/**
 * K_T, R and the lost share of the duty. Steady rows are averaged, so that the noise of the sense does not pass for current;
 * of the others only those count in which much current flows, each as far as one knows when in the row it changed.
 */
function electricalFit(trace: AlignedTrace, rows: UsableRows, lossShare: number): Fit | undefined {
  // Where the delay of the speeds is known, a sweep tells as much as a speed that is held.
  const even = trace.poles === undefined ? rows.steady : rows.swept;
  const equations = [...steadyEquations(trace, even), ...pushedEquations(trace, rows.driven, even)];
  if (!equations.length) return undefined;
  // At one speed the lost share cannot be told from the back-EMF: then what bridges usually lose has to say it.
  const free = fitOf([...equations, {left: [0, 0, 1], right: lossShare, noise: lossDoubt}]);
  if (!free || isUsualLoss(free.values[2]!)) return free;
  // Rows that ask for what no bridge loses do not tell the loss, a start that caught late for one: it is as expected.
  return fitOf(
    equations.map(({left, right, noise}) => ({
      ...{left: left.slice(0, 2), right: right - lossShare * left[2]!, noise},
    })),
  );
}

/** Whether a bridge may lose so much of its duty. */
const isUsualLoss = (share: number): boolean => share >= leastLoss - lossDoubt && share <= mostLoss + lossDoubt;

const fitOf = (equations: readonly Equation[]): Fit | undefined =>
  leastSquares(
    equations.map((e) => e.left),
    equations.map((e) => e.right),
    equations.map((e) => e.noise),
  );

function equationAt(trace: AlignedTrace, rows: readonly number[], noise: number): Equation[] {
  const {volts, throttle, rpm, amps} = trace;
  const mean = (of: (row: number) => number) => rows.reduce((sum, row) => sum + of(row), 0) / rows.length;
  const left = [
    mean((i) => omegaOf(rpm[i]!) * alignmentAt(trace, i)),
    mean((i) => amps![i]!),
    mean((i) => volts![i]!),
  ] as const;
  const right = mean((i) => volts![i]! * throttle[i]!);
  return [...left, right].every(Number.isFinite) ? [{left, right, noise}] : [];
}

/** Steady rows that follow each other with one command, up to {@link averaged} in one. */
function steadyEquations(trace: AlignedTrace, steady: readonly number[]): Equation[] {
  const {throttle, volts} = trace;
  const groups: number[][] = [];
  for (const row of steady) {
    const group = groups.at(-1);
    const last = group?.at(-1);
    const joins =
      group && last === row - 1 && group.length < averaged && Math.abs(throttle[row]! - throttle[group[0]!]!) < jump;
    if (joins) group.push(row);
    else groups.push([row]);
  }
  return groups
    .filter((group) => group.length >= 4)
    .flatMap((group) => {
      const applied = volts![group[0]!]! * throttle[group[0]!]!;
      return equationAt(trace, group, (speedNoise * applied) / Math.sqrt(group.length) + 2e-3);
    });
}

function pushedEquations(trace: AlignedTrace, driven: readonly number[], even: readonly number[]): Equation[] {
  const {amps, rpm, volts, throttle} = trace;
  const isEven = new Set(even);
  const moving = driven.filter((i) => !isEven.has(i));
  const most = moving.reduce((high, i) => Math.max(high, amps![i]!), 0);
  return moving
    .filter((i) => amps![i]! > 0.12 * most)
    .flatMap((i) => {
      const applied = volts![i]! * throttle[i]!;
      // Share of the speed that came within this row: half of it is the doubt about when.
      const within = Math.abs(rpm[i]! - rpm[i - 1]!) / Math.max(rpm[i]!, 1);
      return equationAt(trace, [i], applied * (speedNoise + 0.3 * within) + 2e-3);
    });
}

/** K_T/J, friction/J and drag/J from spans of rows. */
function mechanicalFit(trace: AlignedTrace, {spans}: UsableRows): Fit | undefined {
  const {rows, gains} = mechanicalRows(trace, spans);
  return leastSquares(rows, gains);
}

function mechanicalRows(trace: AlignedTrace, spans: UsableRows['spans']) {
  const rows: number[][] = [];
  const gains: number[] = [];
  for (const {from, to} of spans) {
    const sums = integrals(trace, from, to);
    if (!sums) continue;
    rows.push([sums.amps, -sums.time, -sums.square]);
    gains.push(omegaOf(trace.rpm[to]! - trace.rpm[from]!));
  }
  return {rows, gains};
}

/** ∫i, ∫dt and ∫ω² between two rows, by trapezoids; up to a row with another command the current was what it had been. */
function integrals(trace: AlignedTrace, from: number, to: number) {
  const {timeS, rpm, amps, throttle} = trace;
  const push = (row: number) => amps![row]! * alignmentAt(trace, row);
  let [charge, square] = [0, 0];
  for (let i = from; i < to; i++) {
    const half = (timeS[i + 1]! - timeS[i]!) / 2;
    const jumps = Math.abs(throttle[i + 1]! - throttle[i]!) > jump;
    charge += half * (push(i) + push(jumps ? i : i + 1));
    square += half * (omegaOf(rpm[i]!) ** 2 + omegaOf(rpm[i + 1]!) ** 2);
  }
  return Number.isFinite(charge) ? {amps: charge, time: timeS[to]! - timeS[from]!, square} : undefined;
}

/**
 * Speeds moved to when they were true. Those of replies are 7/12 of an electrical turn old on average: an ESC tells the mean of
 * its last turn, and does so anew at each of six commutations. Of others the delay is found.
 */
function inTime(trace: AlignedTrace, rows: UsableRows): InTime {
  const {poles} = trace;
  if (poles === undefined) {
    const {delayS, within} = delayOf(trace, rows);
    return {delayS, within, rpm: delayS === undefined ? trace.rpm : earlier(trace, () => delayS)};
  }
  const ageS = (row: number) => Math.min(oldestReplyS, ((7 / 12) * 60) / (Math.max(trace.rpm[row]!, 1) * (poles / 2)));
  return {delayS: median(trace.rpm.map((_, row) => ageS(row))), within: [], rpm: earlier(trace, ageS)};
}

interface Delay {
  readonly delayS: number | undefined;
  /** Delays on either side that fit about as well; empty where the delay is known. */
  readonly within: readonly number[];
}
interface InTime extends Delay {
  readonly rpm: Float64Array;
}

/** A delay that fits worse by so much, as twice the logarithm of a likelihood, is told apart: 95 % of one unknown. */
const toldApart = 4;
const alike = 0.1;
/**
 * The constant delay with which speed and current fit best, and how well that is known. For each that is tried push,
 * friction and drag are fitted anew from span to span. A best one at the end of what is tried tells nothing.
 */
function delayOf(trace: AlignedTrace, rows: UsableRows): Delay {
  // One more than nothing is tried, so that no delay at all has a neighbour on that side too.
  const maxS = Math.min(longestDelayS, reactionS(trace));
  const coarse = Array.from({length: Math.ceil(maxS / delayStepS) + 2}, (_, k) => (k - 1) * delayStepS);
  const near = bestOf(coarse, misfitsOf(trace, rows, coarse));
  const isAtEnd = near.index >= coarse.length - 2 && maxS === longestDelayS;
  if (near.index < 0 || isAtEnd) return {delayS: undefined, within: []};
  const fine = Array.from({length: 2 * finer - 1}, (_, k) => near.delayS + ((k + 1 - finer) / finer) * delayStepS);
  const misfits = misfitsOf(trace, rows, fine);
  const {delayS, misfit} = bestOf(fine, misfits);
  const fits = fine.filter((_, k) => misfits[k]! - misfit < toldApart);
  const least = delayStepS / finer;
  return {
    delayS: Math.max(0, delayS),
    within: [fits[0]! - least, fits.at(-1)! + least].map((other) => Math.max(0, other)),
  };
}

/** A speed has answered a step once so much of its change has come, and more than it scatters by. */
const answered = 0.05;

/** The delay is no longer than the quickest answer to a step up; infinite where no step shows one, s. */
function reactionS(trace: AlignedTrace): number {
  const {rpm, timeS, stepS} = trace;
  const answers = stepsOf(trace).flatMap(({at, before, after}) => {
    const [from, to] = [rpm[before.to - 1]!, rpm[after.to - 1]!];
    if (after.throttle <= before.throttle || to - from < 3 * turningRpm) return [];
    const seen = from + Math.max(answered * (to - from), 4 * speedNoise * from);
    for (let i = at; i + 1 < after.to; i++)
      if (rpm[i]! > seen && rpm[i + 1]! > seen) return [timeS[i]! - timeS[at]! + stepS];
    return [];
  });
  return Math.min(...answers, Infinity);
}

function bestOf(delaysS: readonly number[], misfits: readonly number[]) {
  const misfit = Math.min(...misfits);
  // Of delays that fit alike the smallest.
  const index = Number.isFinite(misfit) ? misfits.findIndex((m) => m < misfit + alike) : -1;
  return {index, misfit, delayS: delaysS[index] ?? 0};
}

/** Speeds when they were true: each row's is so much older than the row, straight lines between. */
function earlier({rpm, timeS}: OwnTrace, ageS: (row: number) => number): Float64Array {
  const trueS = timeS.map((t, row) => t - ageS(row));
  let j = 0;
  return rpm.map((_, i) => {
    const at = timeS[i]!;
    while (j + 1 < rpm.length && trueS[j + 1]! < at) j++;
    if (j + 1 >= rpm.length) return rpm[rpm.length - 1]!;
    const share = (at - trueS[j]!) / Math.max(trueS[j + 1]! - trueS[j]!, 1e-9);
    return rpm[j]! + (rpm[j + 1]! - rpm[j]!) * Math.max(0, Math.min(1, share));
  });
}
