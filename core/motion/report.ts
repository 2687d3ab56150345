/** Everything a trace says, motor by motor, and what stands out. */
import {coastDownS, spoolUpS} from './time-constants';
import {desyncsOf} from './lost-step';
import {motorCard, type KnownTiming, type MotorCard} from './motor-card';
import {neverTurned, neverTurnedText} from './never-turned';
import {comparedIn, oddMotors, polesBehind, type OddMotor} from './odd-motor';
import {startsAtPercent, stuttersOf} from './starting';
import {ownTrace, type SpinTrace} from './trace';
import type {Answer} from './answer';

export interface MotorReport extends MotorCard {
  readonly startsAtPercent: Answer;
  readonly spoolUpS: Answer;
  readonly coastDownS: Answer;
  /** s on the clock of the trace. */
  readonly stutters: readonly number[];
  readonly desyncs: readonly number[];
}

export type FindingKind =
  | 'never-turned'
  | 'stutter'
  | 'desync'
  | 'wrong-poles'
  | 'odd-start'
  | 'odd-spool-up'
  | 'odd-coast-down'
  | 'odd-kv'
  | 'odd-resistance'
  | 'odd-inertia'
  | 'odd-friction';

export interface MotionFinding {
  readonly kind: FindingKind;
  /** Counted from 0. */
  readonly motor: number;
  readonly text: string;
}

export interface MotionReport {
  readonly motors: readonly MotorReport[];
  readonly oddOnes: readonly OddMotor[];
  readonly findings: readonly MotionFinding[];
}

interface ReportQuestion {
  /** Poles as they were counted, where speeds came from replies. */
  readonly poles?: number | undefined;
  /** Timing of each motor's ESC, where it is known. */
  readonly timings?: readonly (KnownTiming | undefined)[];
}

export function reportOn(trace: SpinTrace, {poles, timings = []}: ReportQuestion = {}): MotionReport {
  const motors = trace.motors.map((_, m) => motorReport(trace, m, timings[m]));
  const oddOnes = oddMotors(motors);
  const still = motors.flatMap((_, motor): MotionFinding[] => {
    const never = neverTurned(trace, motor);
    return never ? [{kind: 'never-turned', motor, text: `Motor ${motor + 1} ${neverTurnedText(never)}`}] : [];
  });
  const events = motors.flatMap((report, motor) => eventFindings(report, motor));
  return {motors, oddOnes, findings: [...still, ...events, ...oddOnes.map((odd) => oddFinding(odd, poles))]};
}

function motorReport(trace: SpinTrace, m: number, timing: KnownTiming | undefined): MotorReport {
  const own = ownTrace(trace, m);
  const stutters = stuttersOf(own);
  const desyncs = desyncsOf(own, stutters);
  const times = (rows: readonly number[]) => rows.map((row) => own.timeS[row]!);
  return {
    startsAtPercent: startsAtPercent(own),
    spoolUpS: spoolUpS(own, desyncs),
    coastDownS: coastDownS(own),
    ...motorCard(own, {except: [...stutters, ...desyncs], timing}),
    stutters: times(stutters),
    desyncs: times(desyncs),
  };
}

function eventFindings({stutters, desyncs}: MotorReport, motor: number): MotionFinding[] {
  const at = (times: readonly number[]) => times.map((t) => `${t.toFixed(2)} s`).join(', ');
  const name = `Motor ${motor + 1}`;
  return [
    ...(stutters.length
      ? [
          {
            kind: 'stutter' as const,
            motor,
            text: `${name} stopped while starting, ${count(stutters)}: at ${at(stutters)}. Start-up power is too low for it, or it turns heavily.`,
          },
        ]
      : []),
    ...(desyncs.length
      ? [
          {
            kind: 'desync' as const,
            motor,
            text: `${name} lost step under steady throttle, ${count(desyncs)}: at ${at(desyncs)}. Timing, demag compensation or a wire does not fit.`,
          },
        ]
      : []),
  ];
}

const count = ({length}: readonly number[]): string => (length === 1 ? 'once' : `${length} times`);

const oddKinds = {
  startsAtPercent: 'odd-start',
  spoolUpS: 'odd-spool-up',
  coastDownS: 'odd-coast-down',
  kv: 'odd-kv',
  resistanceOhm: 'odd-resistance',
  inertia: 'odd-inertia',
  friction: 'odd-friction',
} as const;

/** A value of what motors are compared in, with its unit. */
const comparedText: Readonly<Record<OddMotor['what'], (value: number) => string>> = {
  startsAtPercent: (v) => `${v.toFixed(1)} %`,
  spoolUpS: (v) => `${(v * 1000).toFixed(0)} ms`,
  coastDownS: (v) => `${(v * 1000).toFixed(0)} ms`,
  kv: (v) => `${v.toFixed(0)} rpm/V`,
  resistanceOhm: (v) => `${(v * 1000).toFixed(0)} mΩ`,
  inertia: (v) => `${(v * 1e6).toPrecision(3)} mg·m²`,
  friction: (v) => `${(v * 1000).toPrecision(2)} mN·m`,
};

function oddFinding({motor, what, value, usual, isLeast}: OddMotor, counted?: number): MotionFinding {
  const text = comparedText[what];
  const compared = `${isLeast ? 'at least ' : ''}${text(value)}, the others about ${text(usual)}`;
  const behind = what === 'kv' ? polesBehind(value, usual, counted) : undefined;
  if (behind)
    return {
      kind: 'wrong-poles',
      motor,
      text: `Motor ${motor + 1}: KV reads ${compared}: the ratio of ${behind.poles} to ${behind.counted} poles. Count its magnets.`,
    };
  return {kind: oddKinds[what], motor, text: `Motor ${motor + 1}: ${comparedIn[what].name} ${compared}.`};
}
