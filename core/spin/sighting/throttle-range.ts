/**
 * Throttle ends of ESCs that take analog pulses: what calibration left in each, whether that spread is the expected one, and
 * what a hand-set or half-reached range costs. Digital protocols carry numbers and need none of it.
 */
import type {Remark} from '../../remark';
import type {Found} from '../../bench/found';
import {motorList} from '../../words/motor-list';
import {definitionOf} from '../../settings/definitions';
import {lowestPulseUs} from '../../settings/low-end';
import {bothWays} from '../../settings/parameters/special-values';

/** Pulses of a true 0 and full throttle, µs. */
const trueEnds = {lowest: lowestPulseUs, highest: 2000} as const;
/** Calibrated ends lie this far inside of what was sent, so that both are surely reached, µs (common practice: about 20). */
const insideUs = {least: 0, most: 35} as const;
/** A range narrower than this wastes resolution; typical hand-set ones run from 1000–2000 down to about 1050–1850, µs. */
const minSpanUs = 800;
/** How far a centre may lie from the middle of its ends, µs. */
const centreOffUs = 20;

export interface EscEnds {
  readonly output: number;
  readonly minUs: number;
  readonly maxUs: number;
  /** Where the ESC turns both ways; undefined otherwise. */
  readonly centreUs: number | undefined;
}

interface ThrottleRange {
  /** ESCs whose ends were read. */
  readonly ends: readonly EscEnds[];
  /** Outputs whose ends are not known: foreign firmware, or not read. */
  readonly unknown: readonly number[];
  readonly remarks: readonly Remark[];
}

export function throttleRange(found: Found | undefined, motors: number): ThrottleRange {
  const ends = (found?.escs ?? []).flatMap(({output, settings}): EscEnds[] => {
    const {throttleMin, throttleMax, throttleCentre, rotation} = settings?.values ?? {};
    if (throttleMin === undefined || throttleMax === undefined) return [];
    return [
      {output, minUs: throttleMin, maxUs: throttleMax, centreUs: rotation === bothWays ? throttleCentre : undefined},
    ];
  });
  const unknown = Array.from({length: motors}, (_, o) => o).filter((o) => !ends.some((e) => e.output === o));
  const remarks = [
    ...spreadRemarks(ends),
    ...reachRemarks(ends, motors),
    ...spanRemarks(ends, motors),
    ...centreRemarks(ends, motors),
  ];
  return {ends, unknown, remarks: ends.length ? remarks : []};
}

const outputsOf = (ends: readonly EscEnds[], motors: number): string =>
  motorList(
    ends.map((e) => e.output),
    motors,
  );

function spreadRemarks(ends: readonly EscEnds[]): Remark[] {
  if (ends.length < 2) return [];
  const usual = {
    low: definitionOf('throttleMin').calibratedSpread!,
    high: definitionOf('throttleMax').calibratedSpread!,
  };
  const [low, high] = [spreadOf(ends.map((e) => e.minUs)), spreadOf(ends.map((e) => e.maxUs))];
  if (isTyped(ends)) return [typedRemark(ends[0]!, usual)];
  if (low <= usual.low && high <= usual.high)
    return [
      {
        tag: 'ok',
        word: 'expected spread',
        text: `Low ends differ by ${low} µs, high ends by ${high} µs. Each ESC measures with its own clock, a few tenths of a per cent fast or slow; calibration keeps what each one read, so the motors agree.`,
      },
    ];
  return [
    {
      tag: 'diff',
      word: 'too far apart',
      text: `Low ends differ by ${low} µs, high ends by ${high} µs; clocks explain about ${usual.low} and ${usual.high} µs. They were calibrated apart from each other: calibrate all at once.`,
    },
  ];
}

/** Calibration never leaves several ESCs equal to the microsecond: a person typed these. */
const isTyped = (ends: readonly EscEnds[]): boolean =>
  ends.length > 1 && spreadOf(ends.map((e) => e.minUs)) === 0 && spreadOf(ends.map((e) => e.maxUs)) === 0;

function typedRemark({minUs, maxUs}: EscEnds, usual: {readonly low: number; readonly high: number}): Remark {
  const [idle, lost] = [minUs - trueEnds.lowest, trueEnds.highest - maxUs];
  const outside = idle > insideUs.most || lost > insideUs.most;
  return {
    tag: 'wait',
    word: 'hand-set',
    text: `All ends are equal to the microsecond, ${minUs} and ${maxUs}: they were typed, which is a way of its own. Each ESC reads pulses with its own clock, so motors start up to about ${usual.low} µs apart and reach full throttle up to about ${usual.high} µs apart.${outside ? ` Of the 1000 to 2000 µs that a flight controller sends, the first ${idle} and the last ${lost} µs do nothing.` : ''} Calibration takes that out.`,
  };
}

/** Ends far inside 1000 and 2000 on every ESC that were calibrated: what calibrated them did not reach the ends. */
function reachRemarks(ends: readonly EscEnds[], motors: number): Remark[] {
  if (isTyped(ends)) return [];
  const high = ends.filter((e) => trueEnds.highest - e.maxUs > insideUs.most);
  const low = ends.filter((e) => e.minUs - trueEnds.lowest > insideUs.most);
  if (ends.length < 2 || (high.length < ends.length && low.length < ends.length)) return [];
  const [least, most] = [Math.min(...ends.map((e) => e.minUs)), Math.max(...ends.map((e) => e.maxUs))];
  return [
    {
      tag: 'diff',
      word: 'ends not reached',
      text: `${outputsOf(ends, motors)}: none goes below ${least} or above ${most} µs. What calibrated them, a receiver or transmitter, did not reach ${low.length === ends.length ? '1000' : ''}${low.length === ends.length && high.length === ends.length ? ' and ' : ''}${high.length === ends.length ? '2000' : ''} µs. Through the flight controller, which sends 1000 to 2000, the last ${2000 - most} µs do nothing: calibrate with it.`,
    },
  ];
}

function spanRemarks(ends: readonly EscEnds[], motors: number): Remark[] {
  const narrow = ends.filter((e) => e.maxUs - e.minUs < minSpanUs);
  if (!narrow.length) return [];
  return [
    {
      tag: 'diff',
      word: 'narrow',
      text: `${outputsOf(narrow, motors)}: less than ${minSpanUs} µs between the ends, so throttle comes in coarse steps. Ranges set by hand run from 1000–2000 to about 1050–1850.`,
    },
  ];
}

function centreRemarks(ends: readonly EscEnds[], motors: number): Remark[] {
  const off = ends.filter(
    (e) => e.centreUs !== undefined && Math.abs(e.centreUs - (e.minUs + e.maxUs) / 2) > centreOffUs,
  );
  if (!off.length) return [];
  return [
    {
      tag: 'diff',
      word: 'centre off',
      text: `${outputsOf(off, motors)}: the centre is more than ${centreOffUs} µs from the middle of the ends, so the motor creeps one way with the stick in the middle.`,
    },
  ];
}

const spreadOf = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);
