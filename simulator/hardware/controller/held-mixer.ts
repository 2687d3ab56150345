/**
 * The mixer that the flight controller holds: from the bearings of its airframe, as its own firmware has them, and the sense
 * it was told. Closed forms of its own, apart from what computes mixers in core.
 */
import {mixerRowSchema, type MixerRow, type WireConfig} from '@core/link/operations';
import type {SettingValues} from '@core/link/setting-shapes';

export type AirframeKind = 'quad X' | 'hex X' | 'octo X';

const armsOf: Readonly<Record<AirframeKind, number>> = {'quad X': 4, 'hex X': 6, 'octo X': 8};
const kindOf = (outputs: number): AirframeKind | undefined =>
  (Object.keys(armsOf) as AirframeKind[]).find((kind) => armsOf[kind] === outputs);

/** Rows of its own, where it holds one for each output: they are used as they are, whatever sense it was told. */
export function ownMixer(settings: SettingValues, outputs: number): MixerRow[] | undefined {
  const rows = mixerRowSchema.array().length(outputs).safeParse(settings['mixer.rows']);
  return rows.success ? rows.data : undefined;
}

/** One row per output; empty where the firmware knows no airframe with so many motors. */
export function heldMixer({arms, props}: Pick<WireConfig, 'arms' | 'props'>, mixes = kindOf(arms.length)): MixerRow[] {
  if (!mixes) return [];
  const step = (2 * Math.PI) / armsOf[mixes];
  const bearing = (arm: number) => step * (arm + 0.5);
  const most = (of: (angle: number) => number) =>
    Math.max(...Array.from({length: armsOf[mixes]}, (_, arm) => Math.abs(of(bearing(arm)))));
  const [side, front] = [most(Math.sin), most(Math.cos)];
  const outward = props === 'out' ? -1 : 1;
  return arms.map((arm) => ({
    throttle: 1,
    roll: -Math.sin(bearing(arm)) / side,
    pitch: Math.cos(bearing(arm)) / front,
    yaw: arm % 2 === 0 ? outward : -outward,
  }));
}
