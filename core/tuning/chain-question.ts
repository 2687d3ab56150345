/** What a search of chains asks for one craft: the same for the Noise station and the headless door. */
import {budgetWith} from '../controller/budget-of';
import {chainOf, fixedFilters} from '../controller/chain-of';
import {planOver, type ControllerConfig, type ControllerPlan} from '../controller/plan';
import {loadLimits} from '../dshot/loop-budget';
import {lowPassKinds} from '../filters/section';
import type {FlightModel} from './flight-model';
import {searchChains, type SearchQuestion, type Trade} from './search';

/** As plain data, so that a worker can be asked. */
export interface ChainQuestion extends Omit<SearchQuestion, 'loadOf' | 'onProgress'> {
  /** Load of the gyro task: base and what each section of an axis adds, shares. */
  readonly load: {readonly base: number; readonly section: number};
}

interface FiltersOfCraft {
  readonly flights: readonly FlightModel[];
  readonly planned: ControllerPlan;
  /** What the controller was found to hold: it says which filters its firmware knows. */
  readonly config: ControllerConfig | undefined;
  readonly motors: number;
  /** Rated clock of its processor, MHz; the slowest that runs such filters where nobody has read it. */
  readonly clockMhz: number | undefined;
  readonly filterRateHz: number;
  readonly crossoverHz: number;
  /** Share of the loop that the gyro task may take; by default what leaves replies alone. */
  readonly mostLoad?: number | undefined;
}

/** Clock of a controller that nobody has read yet, MHz. */
export const assumedMhz = 72;

export function chainQuestion(q: FiltersOfCraft): ChainQuestion {
  const {flights, planned, config, motors, filterRateHz, crossoverHz, mostLoad = loadLimits.good} = q;
  const has = planOver(planned, config);
  const board = {clockMhz: q.clockMhz ?? assumedMhz, outputs: motors};
  const load = (sections: number) => budgetWith(planned, sections, board).load;
  return {
    ...{flights, filterRateHz, crossoverHz, motors, mostLoad},
    from: chainOf(has),
    load: {base: load(0), section: load(1) - load(0)},
    kinds: has.gyroLowPass === undefined ? [fixedFilters.gyroLowPass] : lowPassKinds,
    follows: has.gyroLowPassFullHz !== undefined,
  };
}

/** Filters run at the gyro's rate, Hz: as found on the craft, else as the log says; `otherwise` where neither tells it. */
export const filterRateOf = (
  found: Pick<ControllerConfig, 'gyroHz'> | undefined,
  flown: Pick<ControllerConfig, 'gyroHz'> | undefined,
  otherwise = usualGyroHz,
): number => found?.gyroHz ?? flown?.gyroHz ?? otherwise;

/** Where nothing says the gyro's rate, Hz: the usual one of such boards (common practice). */
const usualGyroHz = 8000;

/** Undefined when it was ended. */
export const searchFor = (
  {load, ...question}: ChainQuestion,
  onProgress?: (share: number) => boolean,
): Trade[] | undefined =>
  searchChains({
    ...question,
    loadOf: (sections) => load.base + sections * load.section,
    ...(onProgress && {onProgress}),
  });
