/**
 * Gains of the rate loop: what each axis answers with to an error of its rate, and by how much all of them are scaled. Over
 * throttle the gains are taken back, since motors answer more strongly there: with t the throttle, s where that begins and b
 * how much is taken back at full throttle, each a share,
 *
 *     share(t) = 1                           up to s
 *     share(t) = 1 − b·(t − s)/(1 − s)       beyond
 *
 * Source: Plumb, the invented firmware. What is good for a craft is not judged here.
 */
import type {SettingValues} from '../link/setting-shapes';
import type {TurnAxis} from './turn-axes';

/** To the error of the moment, to the one that lasts, to its change, and to a move of the stick before there is one. */
export const gainParts = ['p', 'i', 'd', 'feed'] as const;
export type GainPart = (typeof gainParts)[number];
export type Gains = Readonly<Record<GainPart, number>>;

export const gainKey = (axis: TurnAxis, part: GainPart): string => `gains.${axis}_${part}`;
/** Keys of what holds for all axes; shares as percent. */
export const gainKeys = {
  whole: 'gains.whole_percent',
  from: 'gains.quieter_from_percent',
  by: 'gains.quieter_by_percent',
} as const;

/** Gains of an axis as they were set; undefined where the firmware has none of these settings. */
export function gainsIn(values: SettingValues, axis: TurnAxis): Gains | undefined {
  const all = gainParts.map((part) => values[gainKey(axis, part)]);
  if (!all.every((v) => typeof v === 'number')) return undefined;
  const [p, i, d, feed] = all as [number, number, number, number];
  return {p, i, d, feed};
}

/** Scales P, I and D of all axes alike; 1 where the firmware has no such setting. */
export const wholeIn = (values: SettingValues): number => shareIn(values, gainKeys.whole) ?? 1;

/** What acts, after the one factor for all: the feed of the sticks is not scaled by it. */
export const acting = ({p, i, d, feed}: Gains, whole: number): Gains => ({
  ...{p: p * whole, i: i * whole, d: d * whole, feed},
});

/** How the gains are taken back over throttle, shares. */
export interface Quieter {
  readonly from: number;
  readonly by: number;
}

/** Undefined where the firmware has no such settings. */
export function quieterIn(values: SettingValues): Quieter | undefined {
  const [from, by] = [shareIn(values, gainKeys.from), shareIn(values, gainKeys.by)];
  return from === undefined || by === undefined ? undefined : {from, by};
}

/** @param throttle 0 to 1. @returns share of the gains that acts there. */
export function gainShareAt({from, by}: Quieter, throttle: number): number {
  return throttle <= from ? 1 : 1 - (by * (throttle - from)) / (1 - from);
}

function shareIn(values: SettingValues, key: string): number | undefined {
  const percent = values[key];
  return typeof percent === 'number' ? percent / 100 : undefined;
}
