/** Which motor differs from its siblings, in what, and by how much. */
import type {Answer} from './answer';
import {isEstimate} from './time-constants';
import {median} from '../numbers/median';

/** What motors of a craft are compared in, in words, and by which factor one may differ from the middle of the others. */
export const comparedIn = {
  startsAtPercent: {name: 'start threshold', factor: 1.5},
  spoolUpS: {name: 'spool-up', factor: 1.4},
  coastDownS: {name: 'coast-down', factor: 1.6},
  kv: {name: 'KV', factor: 1.035},
  resistanceOhm: {name: 'resistance', factor: 1.3},
  inertia: {name: 'inertia', factor: 1.25},
  friction: {name: 'friction', factor: 2.2},
} as const;
export type Compared = keyof typeof comparedIn;

export interface OddMotor {
  /** Counted from 0. */
  readonly motor: number;
  readonly what: Compared;
  readonly value: number;
  /** The middle of the others. */
  readonly usual: number;
  /** It is at least `value`; the trace ends before. */
  readonly isLeast?: true;
}

/** Fewer motors have no middle to differ from. */
const minMotors = 3;

/** Motors that differ by more than the factor, and by more than either is uncertain. */
export function oddMotors(answers: readonly Readonly<Record<Compared, Answer>>[]): OddMotor[] {
  return (Object.keys(comparedIn) as Compared[]).flatMap((what) => {
    const known = answers.flatMap((a, motor) => {
      const answer = a[what];
      return isEstimate(answer) ? [{motor, ...answer}] : [];
    });
    const beyond = answers.flatMap((a, motor) => oddBeyond(a[what], {motor, what, known}));
    if (known.length < minMotors) return beyond;
    const odd = known.flatMap(({motor, value, low, high}) => {
      const usual = median(known.filter((k) => k.motor !== motor).map((k) => k.value));
      const {factor} = comparedIn[what];
      const isOdd = (value > usual * factor && low > usual) || (value < usual / factor && high < usual);
      return isOdd ? [{motor, what, value, usual}] : [];
    });
    return [...odd, ...beyond];
  });
}

/** In what motors can be said to be alike: what every one of them told, of enough of them. */
export const comparableIn = (answers: readonly Readonly<Record<Compared, Answer>>[]): Compared[] =>
  answers.length < minMotors
    ? []
    : (Object.keys(comparedIn) as Compared[]).filter((what) => answers.every((a) => isEstimate(a[what])));

interface Siblings {
  readonly motor: number;
  readonly what: Compared;
  readonly known: readonly {readonly motor: number; readonly value: number}[];
}

/** A motor whose value was not seen to its end, and is beyond that of at least two others already. */
function oddBeyond(answer: Answer, {motor, what, known}: Siblings): OddMotor[] {
  if (isEstimate(answer) || answer.atLeast === undefined || known.length < minMotors - 1) return [];
  const usual = median(known.map((k) => k.value));
  const {atLeast} = answer;
  return atLeast > usual * comparedIn[what].factor ? [{motor, what, value: atLeast, usual, isLeast: true}] : [];
}

/** Even pole counts that motors have. */
export const poleCounts = [6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 28];
/** How near a ratio of pole counts must come, relative: motors of one kind differ by a per cent or so. */
const poleTolerance = 0.025;

/** Counts that most motors have, where nobody said what was counted (common practice). */
const usualCounts = [14, 12];

/**
 * The pole count that a motor has whose KV is off, and the one it was taken for: speeds read from replies go with the first
 * over the second. Undefined when no count explains it.
 * @param counted what the speeds were computed with, where that is known.
 */
export function polesBehind(
  value: number,
  usual: number,
  counted?: number,
): {readonly poles: number; readonly counted: number} | undefined {
  const ratio = value / usual;
  if (Math.abs(ratio - 1) < 0.05) return undefined;
  for (const taken of counted === undefined ? usualCounts : [counted]) {
    const among = counted === undefined ? usualCounts : poleCounts;
    const poles = among.find((p) => p !== taken && Math.abs(p / (taken * ratio) - 1) < poleTolerance);
    if (poles !== undefined) return {poles, counted: taken};
  }
  return undefined;
}
