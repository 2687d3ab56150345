/** Moments of a flight in groups of like throttle. */
import type {FlightModel} from './flight-model';

/** A flight, and the group that each of its moments is in. */
export interface GroupedFlight {
  readonly model: FlightModel;
  readonly groups: readonly number[];
}

export const groupCount = 6;
const throttlesOf = ({moments}: FlightModel) => moments.map((m) => m.throttle);

/** Group of every moment, from its throttle: as many moments in each as can be. */
export function throttleGroups(model: FlightModel): number[] {
  const throttles = throttlesOf(model);
  const sorted = [...throttles].sort((a, b) => a - b);
  const edges = Array.from(
    {length: groupCount - 1},
    (_, g) => sorted[Math.floor(((g + 1) * sorted.length) / groupCount)]!,
  );
  return throttles.map((t) => edges.filter((edge) => t >= edge).length);
}

/** Mean throttle of each group, percent; 0 for an empty one. */
export function meanThrottles(model: FlightModel, groups: readonly number[]): number[] {
  const throttles = throttlesOf(model);
  return Array.from({length: groupCount}, (_, g) => {
    const own = throttles.filter((_, i) => groups[i] === g);
    return own.length ? own.reduce((sum, t) => sum + t, 0) / own.length : 0;
  });
}
