/** Whether the pack can finish what an order begins. */
import type {Power} from '../link/operations';
import type {Problem} from '../problem';

/** Below this a LiPo at rest is nearly empty and its voltage falls away quickly, V per cell (common practice). */
const lowestCellVolts = 3.3;

/** ESCs count as powered above this, V. */
export const poweredVolts = 3;

/** Why writing must not begin on this battery; undefined when it may, or when there is no battery at all. */
export function batteryRefusal({volts}: Pick<Power, 'volts'>, cells: number, estimateMs: number): Problem | undefined {
  const perCell = volts / cells;
  if (volts < poweredVolts || perCell >= lowestCellVolts) return undefined;
  return {
    code: 'battery-low',
    place: 'battery',
    meaning:
      `It has ${volts.toFixed(1)} V, ${perCell.toFixed(2)} V per cell; the order takes about ` +
      `${Math.ceil(estimateMs / 1000)} s. Below ${lowestCellVolts} V per cell a pack can give way at any moment.`,
    remedy: 'Nothing was written. Connect a charged pack, survey, then carry out.',
  };
}

/** Every ESC fell silent at once: none of them is to blame. */
export const batteryOff: Problem = {
  code: 'no-power',
  place: 'battery',
  meaning: 'The battery is off, so no ESC has power.',
  remedy: 'Connect the battery, then resume. A page that was being written is written again.',
};

/**
 * A problem as it is now: one of a battery that was off says that it is on since. An ESC that is silent with the battery on has
 * another reason. @param wasOff whether the battery was off when it came up.
 */
export const withBatteryOn = (
  problem: Problem,
  isPowered: boolean,
  wasOff = problem.place === batteryOff.place,
): Problem =>
  problem.code === 'no-power' && isPowered && wasOff
    ? {...problem, remedy: 'The battery is on now. Go on, or survey again.'}
    : problem;
