/** The clock of a flight controller's processor: the one it is rated for, or a raised one. */
import {refusalOf} from '../link/setting-accepts';
import type {SettingEntry, SettingValues} from '../link/setting-shapes';
import type {ControllerFields} from './plan';

/** MHz that it runs at with a configuration: 0 or none there means as it is rated. */
export const runningMhz = ({clockMhz}: Pick<ControllerFields, 'clockMhz'>, ratedMhz: number): number =>
  clockMhz || ratedMhz;

/** Setting that says when a raised clock is used, and its word for a board that is on no cable. See docs/bench-link.md. */
export const raisedWhen = {key: 'loop.raised_clock', always: 'always', withoutUsb: 'only without USB'} as const;

/** Whether its firmware can keep a raised clock for the time without a cable. */
export function knowsUsb(entries: readonly SettingEntry[]): boolean {
  const entry = entries.find(({key}) => key === raisedWhen.key);
  return entry !== undefined && !refusalOf(entry.kind, raisedWhen.withoutUsb);
}

/** A raised clock is used on the battery alone: over USB the board runs as it is rated, and stays within reach. */
export const isOnlyWithoutUsb = (values: SettingValues | undefined): boolean =>
  values?.[raisedWhen.key] === raisedWhen.withoutUsb;
