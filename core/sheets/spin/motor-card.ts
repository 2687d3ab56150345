/** What a run of the motors says on the screen: measured values with their bounds, what stands out and why, what to use of it. */
import {foundEsc} from '../../bench/found';
import type {Craft} from '../../craft/craft';
import {armName} from '../../craft/arm-name';
import type {Answer} from '../../motion/answer';
import type {KeptRun} from '../../motion/kept-run';
import {comparableIn, comparedIn, type Compared} from '../../motion/odd-motor';
import type {MotionFinding, MotionReport, MotorReport} from '../../motion/report';
import {isEstimate} from '../../motion/time-constants';
import {causesOf, type Cause, type Cure} from '../../spin/verdict/causes';
import type {SuggestedIdle} from '../../spin/verdict/suggested-idle';
import {motorFromCard} from '../../spin/verdict/use-card';
import {counted} from '../../words/counted';
import {grouped} from '../../words/grouped';
import {momentText} from '../../words/moment';
import type {JudgedCraft} from '../craft-question';

/** A run that is looked at; one from a file was not measured here. */
export interface ShownRun extends Pick<KeptRun, 'script' | 'at' | 'outputs' | 'rateHz'> {
  readonly source: KeptRun['source'] | 'file';
  readonly report: MotionReport;
}

/** A line of the table: what was measured, for every motor. */
interface MeasuredRow {
  readonly name: string;
  readonly unit: string;
  readonly cells: readonly MeasuredCell[];
}

interface MeasuredCell {
  readonly text: string;
  /** How far it may be off; empty where nothing was told. */
  readonly bound: string;
  /** It differs from the other motors. */
  readonly isOdd: boolean;
}

export interface CauseLine extends Cause {
  /** The plan has the cure already: then the work order is what is missing. */
  readonly isPlanned: boolean;
}

interface CardFinding {
  readonly motor: number;
  readonly text: string;
  readonly causes: readonly CauseLine[];
}

interface MotorCardSheet {
  readonly source: string;
  /** Arm of every motor of the run, in their order. */
  readonly arms: readonly string[];
  readonly rows: readonly MeasuredRow[];
  /** Why something was not told, each reason once. */
  readonly noEstimate: readonly string[];
  readonly findings: readonly CardFinding[];
  /** What is said where nothing stands out. */
  readonly alike: AlikeLine;
  /** The constants of this run are the craft's already. */
  readonly isInUse: boolean;
  /** The craft's motor with what was measured; undefined where too little was told, or not here. */
  readonly usable: UsableMotor | undefined;
}

interface AlikeLine {
  /** False where too little was measured to compare. */
  readonly isTold: boolean;
  readonly text: string;
}

export interface UsableMotor {
  readonly motor: Craft['motor'];
  readonly text: string;
}

interface RowFormat {
  readonly key: Compared;
  readonly name: string;
  readonly unit: string;
  readonly show: (value: number) => string;
}

const rowFormats: readonly RowFormat[] = [
  {key: 'startsAtPercent', name: 'Starts at', unit: '%', show: (v) => v.toFixed(1)},
  {key: 'spoolUpS', name: 'Up to 63 %', unit: 'ms', show: (v) => (v * 1000).toFixed(1)},
  {key: 'coastDownS', name: 'Down to 37 %', unit: 'ms', show: (v) => (v * 1000).toFixed(1)},
  {key: 'kv', name: 'KV', unit: 'rpm/V', show: (v) => v.toFixed(0)},
  {key: 'resistanceOhm', name: 'Resistance of the path', unit: 'mΩ', show: (v) => (v * 1000).toFixed(1)},
  {key: 'inertia', name: 'Inertia', unit: 'mg·m²', show: (v) => (v * 1e6).toPrecision(3)},
  {key: 'friction', name: 'Friction', unit: 'mN·m', show: (v) => (v * 1000).toPrecision(2)},
];

export function motorCardSheet(q: JudgedCraft, run: ShownRun): MotorCardSheet {
  const {report, outputs} = run;
  const turned = report.motors.filter((_, motor) => outputs.includes(motor));
  return {
    source: sourceText(run),
    arms: report.motors.map((_, motor) => armName(q.craft, motor)),
    rows: rowFormats.map((format) => measuredRow(report, format)),
    noEstimate: [...new Set(turned.flatMap(reasonsOf))],
    findings: report.findings.map((finding) => cardFinding(q, report, finding)),
    alike: alikeLine(turned),
    isInUse: q.craft.motor.measured?.at === run.at,
    usable: run.source === 'file' ? undefined : usableMotor(q.craft, turned, run.at),
  };
}

function sourceText({source, script, at, rateHz}: ShownRun): string {
  const rate = `${grouped(rateHz)} rows a second`;
  switch (source) {
    case 'file':
      return `${script}, a file with ${rate}. It was not measured here, so it proves nothing of this craft.`;
    case 'burst':
      return `${script}, ${momentText(at)}. Kept by the flight controller, ${rate}.`;
    case 'reports':
      return `${script}, ${momentText(at)}. From reports, ${rate}: this controller keeps no bursts, so fast changes are not measured.`;
  }
}

function measuredRow({motors, oddOnes}: MotionReport, {key, name, unit, show}: RowFormat): MeasuredRow {
  const isOdd = (motor: number) => oddOnes.some((o) => o.motor === motor && o.what === key);
  return {name, unit, cells: motors.map((motor, m) => ({...told(motor[key], show), isOdd: isOdd(m)}))};
}

function told(answer: Answer, show: (value: number) => string): Omit<MeasuredCell, 'isOdd'> {
  if (isEstimate(answer)) return {text: show(answer.value), bound: `± ${show((answer.high - answer.low) / 2)}`};
  return {text: answer.atLeast === undefined ? '–' : `> ${show(answer.atLeast)}`, bound: ''};
}

const reasonsOf = (motor: MotorReport): string[] =>
  rowFormats.flatMap(({key}) => {
    const answer = motor[key];
    return isEstimate(answer) ? [] : [answer.reason];
  });

function cardFinding(q: JudgedCraft, {motors}: MotionReport, finding: MotionFinding): CardFinding {
  const settings = motors.map((_, m) => q.record.found && foundEsc(q.record.found, m)?.settings?.values);
  const {motor, text} = finding;
  const name = `Motor ${motor + 1}`;
  const causes = causesOf(finding, {motors, settings});
  return {
    ...{motor, text: text.replace(name, `${name}, ${armName(q.craft, motor)}`)},
    causes: causes.map((cause) => ({...cause, isPlanned: !!cause.cure && isPlanned(q.craft, motor, cause.cure)})),
  };
}

function isPlanned({plan}: Craft, motor: number, {key, value}: Cure): boolean {
  const planned = plan.parameters[key];
  if (planned?.kind === 'per motor') return planned.values[motor] === value;
  return planned?.kind === 'same' && planned.value === value;
}

function alikeLine(turned: readonly MotorReport[]): AlikeLine {
  const compared = comparableIn(turned).map((what) => comparedIn[what].name);
  if (!compared.length)
    return {
      isTold: false,
      text: 'Nothing stands out, but there were too few measurements to compare the motors: hold to the end, with three motors or more.',
    };
  return {
    isTold: true,
    text: `No motor differs from the others in ${compared.join(', ')}; none stuttered or lost step.`,
  };
}

function usableMotor(craft: Craft, turned: readonly MotorReport[], at: number): UsableMotor | undefined {
  const motor = motorFromCard(craft.motor, turned, at);
  return (
    motor && {
      motor,
      text: `KV ${motor.kv} rpm/V, ${(motor.resistanceOhm * 1000).toFixed(1)} mΩ: the median of ${counted(turned.length, 'motor')}, instead of what the label says and of estimates`,
    }
  );
}

/** The idle that measured starts ask for, with where it comes from. */
export interface IdleLine {
  readonly percent: number;
  readonly title: string;
  readonly text: string;
  readonly isPlanned: boolean;
}

export function idleLine({craft}: Pick<JudgedCraft, 'craft'>, idle: SuggestedIdle): IdleLine {
  const planned = craft.plan.controller.idlePercent;
  const bound = idle.isBound
    ? '19 of 20 starts lie below it.'
    : 'Hold each motor for three pulses or more: the scatter of its starts then gives a bound.';
  const from = idle.from === 'holds' ? 'while each motor was held' : 'by the motor card';
  return {
    percent: idle.percent,
    title: `Motor ${idle.motor + 1}, ${armName(craft, idle.motor)}, starts last: ${idle.startUs.toFixed(0)} µs${idle.isBound ? ' at most' : ''}`,
    text: `${bound} Measured ${from}, ${momentText(idle.at)}. With 15 µs of margin the idle is ${idle.percent.toFixed(1)} %, ${idle.pulseUs.toFixed(0)} µs; ${planned} % is planned.`,
    isPlanned: idle.percent === planned,
  };
}
