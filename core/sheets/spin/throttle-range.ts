/** What Spin says of throttle ends: what calibration left in each ESC, and how far a new calibration is. */
import {armName} from '../../craft/arm-name';
import {isDigital} from '../../dshot/protocol';
import type {Remark} from '../../remark';
import type {EndsPhase} from '../../spin/sighting/ends-calibration';
import {throttleRange, type EscEnds} from '../../spin/sighting/throttle-range';
import type {CraftQuestion} from '../craft-question';
export type {EscEnds};

/** The calibration of this visit; its phase is undefined before the first and after one that was stopped. */
export interface EndsNow {
  readonly phase: EndsPhase | undefined;
  /** Ends as they were before it; empty where none was begun. */
  readonly before: readonly EscEnds[];
}

interface EndsLine {
  readonly output: number;
  readonly arm: string;
  readonly minUs: number;
  readonly maxUs: number;
  /** Where they lie on a scale from 950 to 2050 µs, percent of its width. */
  readonly fromPercent: number;
  readonly widthPercent: number;
  /** Empty where no calibration of this visit changed them. */
  readonly before: string;
}

interface CalibrationStep {
  readonly text: string;
  readonly isNow: boolean;
}

interface ThrottleRangeSheet {
  /** Pulses are analog: the ends count, and can be calibrated. */
  readonly isPulse: boolean;
  readonly lines: readonly EndsLine[];
  /** Outputs whose ends are not known though others are, counted from 0. */
  readonly unknown: readonly number[];
  readonly hasBefore: boolean;
  readonly remarks: readonly Remark[];
  readonly steps: readonly CalibrationStep[];
  /** What happens now; empty while nothing does. */
  readonly note: string;
  readonly isUnderWay: boolean;
  readonly canBegin: boolean;
  /** Why it cannot begin; empty where it can, or where only something else has to end. */
  readonly whyNot: string;
  readonly canConnect: boolean;
}

/** The scale that ends are drawn on, µs. */
const scaleUs = {from: 950, to: 2050} as const;
const percentAt = (us: number): number => ((us - scaleUs.from) / (scaleUs.to - scaleUs.from)) * 100;

const steps: readonly (readonly [EndsPhase, string])[] = [
  ['battery off', 'Take the propellers and the battery off.'],
  ['highest', 'The flight controller sends 2000 µs; connect the battery.'],
  ['taken', 'Every ESC takes that for full throttle, within three seconds of tones.'],
  ['lowest', '1000 µs follow by themselves; the ESCs keep both ends.'],
  ['done', 'Read the ESCs again: their ends now agree as far as their clocks do.'],
];

const notes: Readonly<Record<EndsPhase, string>> = {
  'battery off': 'Waiting for the battery to go off.',
  highest: '2000 µs go to every output. Connect the battery now.',
  taken: 'Leave it on: the ESCs take the highest pulse.',
  lowest: '1000 µs: the ESCs keep both ends.',
  done: 'Done on the wire. Survey the ESCs to see what they kept.',
};

export function throttleRangeSheet(q: CraftQuestion, {phase, before}: EndsNow): ThrottleRangeSheet {
  const {craft, record, bench} = q;
  const {ends, unknown, remarks} = throttleRange(record.found, craft.arms.length);
  const isPulse = !isDigital(record.found?.controller?.config.protocol ?? craft.plan.controller.protocol);
  const isOnController = bench.isConnected && !bench.isOnAdapter;
  return {
    isPulse,
    lines: ends.map((end) => endsLine(q, end, before)),
    unknown: ends.length ? unknown : [],
    hasBefore: before.length > 0,
    remarks,
    steps: steps.map(([of, text]) => ({text, isNow: of === phase})),
    note: phase ? notes[phase] : '',
    isUnderWay: phase !== undefined && phase !== 'done',
    canBegin: isPulse && isOnController && !bench.isOccupied,
    whyNot: isOnController ? '' : 'The flight controller must be connected.',
    canConnect: phase === 'highest' && !bench.isPowered,
  };
}

function endsLine({craft}: CraftQuestion, {output, minUs, maxUs}: EscEnds, before: readonly EscEnds[]): EndsLine {
  const was = before.find((end) => end.output === output);
  return {
    ...{output, minUs, maxUs, arm: armName(craft, output)},
    fromPercent: percentAt(minUs),
    widthPercent: percentAt(maxUs) - percentAt(minUs),
    before: was ? `${was.minUs}–${was.maxUs}` : '',
  };
}
