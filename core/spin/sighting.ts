/** Which way a motor was seen to turn, and on which arm. */
import type {Found} from '../bench/found';
import {wantedSenses, type Craft, type PlannedValue, type RotationSense} from '../craft/craft';
import {splitValue} from '../craft/plan-values';
import {startScatter} from './start-scatter';

/** What a person saw turn at the Spin station. */
export interface Sighting {
  readonly output: number;
  readonly arm: number;
  readonly sense: RotationSense;
  /** Rotation setting of the ESC when it was seen. */
  readonly rotationSetting: number | undefined;
  /** Arm that the flight controller took this output for when it was seen; undefined where nobody had asked it. */
  readonly mappedArm?: number | undefined;
  readonly startsAtUs: number | undefined;
  /** Every start that was seen, µs; `startsAtUs` is their mean. */
  readonly startsUs?: readonly number[] | undefined;
  readonly coastDownS: number | undefined;
  /** Epoch ms. */
  readonly at: number;
}

/** Whether what was seen is right and still true of the ESC as found. */
export function sightingHolds(s: Sighting, craft: Craft, found: Found | undefined): boolean {
  const setting = found?.escs.find((e) => e.output === s.output)?.settings?.values.rotation;
  const mapped = found?.controller?.config.arms[s.output];
  return (
    s.arm === craft.plan.controller.arms[s.output] &&
    s.sense === wantedSenses(craft)[s.arm] &&
    setting === s.rotationSetting &&
    // What the flight controller takes this output for, now and when it was seen.
    (mapped === undefined || (mapped === s.arm && (s.mappedArm ?? mapped) === mapped))
  );
}

/** Whether the ESC's rotation or the controller's map of this output is another one than when it was seen. */
export function isOutdated(s: Sighting, found: Found | undefined): boolean {
  const esc = found?.escs.find((e) => e.output === s.output);
  const mapped = found?.controller?.config.arms[s.output];
  const turned = esc !== undefined && esc.settings?.values.rotation !== s.rotationSetting;
  return turned || (mapped !== undefined && (s.mappedArm ?? mapped) !== mapped);
}

/** The output to turn next: one that nobody has seen yet, else one to look at again; the first when all are right. */
export function nextOutput(craft: Craft, found: Found | undefined, sightings: readonly Sighting[]): number {
  const outputs = [...craft.arms.keys()];
  const seen = (output: number) => sightings.find((s) => s.output === output);
  const again = (output: number) => {
    const sighting = seen(output);
    return sighting && !sightingHolds(sighting, craft, found);
  };
  return outputs.find((o) => !seen(o)) ?? outputs.find(again) ?? 0;
}

/** What a sighting changes in the plan. */
export interface PlanFromSighting {
  /** Arm of each output: what was seen turn there, the other arm swapped. */
  readonly arms: number[];
  /** The rotation setting that turns it the right way; undefined where the ESC has no sense of its own to follow. */
  readonly rotation: PlannedValue | undefined;
}

/** What was seen decides the plan: another arm changes the output map, a wrong sense turns the ESC over. */
export function planFromSighting(craft: Craft, found: Found | undefined, seen: Sighting): PlanFromSighting {
  const {output, arm, sense, rotationSetting: setting} = seen;
  const arms = [...craft.plan.controller.arms];
  const other = arms.indexOf(arm);
  if (other >= 0 && other !== output) [arms[output], arms[other]] = [arm, arms[output]!];
  if (setting === undefined || setting > 1) return {arms, rotation: undefined};
  const right = sense === wantedSenses(craft)[arm] ? setting : 1 - setting;
  const held = craft.arms.map((_, o) => found?.escs.find((e) => e.output === o)?.settings?.values.rotation);
  const split = splitValue(craft.plan.parameters['rotation'], held, 0);
  if (split.kind !== 'per motor') return {arms, rotation: undefined};
  return {arms, rotation: {...split, values: split.values.map((v, i) => (i === output ? right : v))}};
}

/** Margin of the idle above the highest start, µs (common practice). */
export const idleMarginUs = 15;

export interface SeenIdle {
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
  readonly wanted: RotationSense;
  readonly armWrong: boolean;
  readonly senseWrong: boolean;
  /** Something that decides it was changed since: what was seen says nothing any more. */
  readonly stale: boolean;
  /** Takes more than twice the usual time to stand. */
  readonly coastsLong: boolean;
}

export function sightingRows(craft: Craft, found: Found | undefined, sightings: readonly Sighting[]): SightingRow[] {
  const senses = wantedSenses(craft);
  const coasts = sightings.flatMap((s) => (s.coastDownS === undefined ? [] : [s.coastDownS])).sort((a, b) => a - b);
  const usual = coasts[Math.floor((coasts.length - 1) / 2)];
  return craft.plan.controller.arms.map((plannedArm, output) => {
    const seen = sightings.find((s) => s.output === output);
    const wanted = senses[seen?.arm ?? plannedArm]!;
    const armWrong = !!seen && seen.arm !== plannedArm;
    const senseWrong = !!seen && seen.sense !== wanted;
    return {
      output,
      seen,
      wanted,
      armWrong,
      senseWrong,
      stale: !!seen && isOutdated(seen, found),
      coastsLong: usual !== undefined && (seen?.coastDownS ?? 0) > 2 * usual,
    };
  });
}
