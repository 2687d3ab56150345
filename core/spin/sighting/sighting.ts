/** Which way a motor was seen to turn, and on which arm. */
import {foundSetting, type Found} from '../../bench/found';
import type {Replaced} from '../../bench/replaced';
import {wantedDirections, type Craft, type PlannedValue, type RotationDirection} from '../../craft/craft';
import {splitValue} from '../../craft/plan-values';
import {wholePlan} from '../../craft/whole-plan';
import {compareGrounds, keptGrounds, type Ground, type GroundsNow} from '../../proof/ground';
import {bothWays} from '../../settings/parameters/special-values';
import type {HoldTrace} from '../hold/hold-session';
import {sightingGrounds} from '../verdict/proof-rows';
import {startScatter} from '../script/start-scatter';

/** What a person saw turn at the Spin station. */
export interface Sighting {
  readonly output: number;
  readonly arm: number;
  readonly sense: RotationDirection;
  /** Rotation setting of the ESC when it was seen. */
  readonly rotationSetting: number | undefined;
  /** Arm that the flight controller took this output for when it was seen; undefined where nobody had asked it. */
  readonly mappedArm?: number | undefined;
  /** What it was seen on: the ESC, its setting, the controller's map of this output, the motor. */
  readonly grounds: readonly Ground[];
  /** In the running count of the craft. */
  readonly place: number;
  /** The connection and the power cycle it was seen in. */
  readonly session: string;
  readonly cycles: number;
  readonly startsAtUs: number | undefined;
  /** Every start that was seen, µs; `startsAtUs` is their mean. */
  readonly startsUs?: readonly number[] | undefined;
  readonly coastDownS: number | undefined;
  /** Epoch ms. */
  readonly at: number;
}

/** What sightings are held against: the craft as it is planned, found, and mended since. */
export interface SightingQuestion {
  readonly craft: Craft;
  readonly found: Found | undefined;
  readonly replaced: Replaced;
}

const knownGrounds = ({output, arm}: Pick<Sighting, 'output' | 'arm'>, {craft, found, replaced}: SightingQuestion) =>
  sightingGrounds({craft, plan: wholePlan(craft), found, replaced}, output, arm);

/** What a sighting rests on at this moment, to be kept with it. */
export const groundsOfSighting = (seen: Pick<Sighting, 'output' | 'arm'>, q: SightingQuestion): Ground[] =>
  keptGrounds(knownGrounds(seen, q));

/** What a person answered after a hold, and what the hold itself measured. */
export interface SightingAnswer extends Pick<Sighting, 'output' | 'arm' | 'sense' | 'session' | 'cycles' | 'at'> {
  /** Undefined where nothing was measured. */
  readonly trace: HoldTrace | undefined;
}

/** The sighting that an answer makes, with what it rests on. */
export function sightingFromAnswer(answer: SightingAnswer, q: SightingQuestion): Omit<Sighting, 'place'> {
  const {trace, ...seen} = answer;
  return {
    ...seen,
    rotationSetting: q.found?.escs.find((e) => e.output === seen.output)?.settings?.values.rotation,
    mappedArm: q.found?.controller?.config.arms[seen.output],
    grounds: groundsOfSighting(seen, q),
    ...measuredIn(trace?.output === seen.output ? trace : undefined),
  };
}

/** What a sighting keeps of a trace. */
export function measuredIn(trace: HoldTrace | undefined): Pick<Sighting, 'startsAtUs' | 'startsUs' | 'coastDownS'> {
  const startsUs = trace?.startsUs ?? [];
  return {startsAtUs: startScatter(startsUs)?.meanUs, startsUs, coastDownS: trace?.coastDownS};
}

/** What has become of that since. */
export const sightingNow = (s: Sighting, q: SightingQuestion): GroundsNow =>
  compareGrounds(s.grounds, knownGrounds(s, q));

/**
 * Whether what was seen is a sense of the motor's own: an ESC that turns both ways turns by which side of the middle the
 * throttle was on.
 */
export const tellsSense = ({rotationSetting}: Pick<Sighting, 'rotationSetting'>): boolean =>
  rotationSetting !== bothWays;

/** Whether what was seen is right, and nothing that it was seen on is known to be another thing now. */
export function sightingHolds(s: Sighting, q: SightingQuestion): boolean {
  const mapped = q.found?.controller?.config.arms[s.output];
  return (
    s.arm === q.craft.plan.controller.arms[s.output] &&
    tellsSense(s) &&
    s.sense === wantedDirections(q.craft)[s.arm] &&
    (mapped === undefined || mapped === s.arm) &&
    !isOutdated(s, q)
  );
}

/** Whether something that it was seen on is another thing now. */
export const isOutdated = (s: Sighting, q: SightingQuestion): boolean => sightingNow(s, q).changes.length > 0;

/** The output to turn next: one that nobody has seen yet, else one to look at again; the first when all are right. */
export function nextOutput(q: SightingQuestion, sightings: readonly Sighting[]): number {
  const outputs = [...q.craft.arms.keys()];
  const seen = (output: number) => sightings.find((s) => s.output === output);
  const again = (output: number) => {
    const sighting = seen(output);
    return sighting && !sightingHolds(sighting, q);
  };
  return outputs.find((o) => !seen(o)) ?? outputs.find(again) ?? 0;
}

/** What a sighting changes in the plan. */
interface PlanFromSighting {
  /** Arm of each output: what was seen turn there, the other arm swapped. */
  readonly arms: number[];
  /** The rotation setting that turns it the right way; undefined where the ESC has no sense of its own to follow. */
  readonly rotation: PlannedValue | undefined;
}

/** What was seen decides the plan: another arm changes the output map, a wrong sense turns the ESC over. */
export function planFromSighting(
  craft: Craft,
  found: Found | undefined,
  seen: Omit<Sighting, 'place'>,
): PlanFromSighting {
  const {output, arm, sense, rotationSetting: setting} = seen;
  const arms = [...craft.plan.controller.arms];
  const other = arms.indexOf(arm);
  if (other >= 0 && other !== output) [arms[output], arms[other]] = [arm, arms[output]!];
  if (setting === undefined || !tellsSense(seen)) return {arms, rotation: undefined};
  const right = sense === wantedDirections(craft)[arm] ? setting : 1 - setting;
  const held = foundSetting(found, craft.arms.length, 'rotation');
  const split = splitValue(craft.plan.parameters['rotation'], held, 0);
  if (split.kind !== 'per motor') return {arms, rotation: undefined};
  return {arms, rotation: {...split, values: split.values.map((v, i) => (i === output ? right : v))}};
}

/** Margin of the idle above the highest start, µs (common practice). */
const idleMarginUs = 15;

interface SeenIdle {
  /** Motor whose next start may come last, counted from 0. */
  readonly motor: number;
  /** Bound of its next start where at least three were seen, else the highest that was, µs. */
  readonly highestUs: number;
  readonly isBound: boolean;
  /** Idle above it with the margin, percent in steps of 0.1, and as a pulse, µs. */
  readonly percent: number;
  readonly pulseUs: number;
}

/** The idle that the seen starts ask for; undefined until every motor was seen to start. */
export function idleFromStarts(sightings: readonly Sighting[], motors: number): SeenIdle | undefined {
  const starts = sightings.flatMap(({output, startsAtUs, startsUs}) => {
    const all = startsUs?.length ? startsUs : startsAtUs === undefined ? [] : [startsAtUs];
    const scatter = startScatter(all);
    return scatter
      ? [{motor: output, at: scatter.boundUs ?? Math.max(...all), isBound: scatter.boundUs !== undefined}]
      : [];
  });
  if (starts.length < motors) return undefined;
  const last = starts.reduce((a, b) => (b.at > a.at ? b : a));
  const percent = idleAbove(last.at);
  return {motor: last.motor, highestUs: last.at, isBound: last.isBound, percent, pulseUs: 1000 + 10 * percent};
}

/** The idle that leaves the margin above a start, percent in steps of 0.1. */
export const idleAbove = (startUs: number): number => Math.ceil(startUs + idleMarginUs - 1000 - 1e-6) / 10;

/** One output as the Spin station lists it. */
export interface SightingRow {
  readonly output: number;
  readonly seen: Sighting | undefined;
  readonly wanted: RotationDirection;
  readonly armWrong: boolean;
  readonly senseWrong: boolean;
  /** What it was seen on and is another thing now, in words: what was seen says nothing any more. */
  readonly changes: readonly string[];
  /** Takes more than twice the usual time to stand. */
  readonly coastsLong: boolean;
}

export function sightingRows(q: SightingQuestion, sightings: readonly Sighting[]): SightingRow[] {
  const {craft} = q;
  const senses = wantedDirections(craft);
  const coasts = sightings.flatMap((s) => (s.coastDownS === undefined ? [] : [s.coastDownS])).sort((a, b) => a - b);
  const usual = coasts[Math.floor((coasts.length - 1) / 2)];
  return craft.plan.controller.arms.map((plannedArm, output) => {
    const seen = sightings.find((s) => s.output === output);
    const wanted = senses[seen?.arm ?? plannedArm]!;
    const armWrong = !!seen && seen.arm !== plannedArm;
    const senseWrong = !!seen && (!tellsSense(seen) || seen.sense !== wanted);
    return {
      output,
      seen,
      wanted,
      armWrong,
      senseWrong,
      changes: seen ? sightingNow(seen, q).changes : [],
      coastsLong: usual !== undefined && (seen?.coastDownS ?? 0) > 2 * usual,
    };
  });
}
