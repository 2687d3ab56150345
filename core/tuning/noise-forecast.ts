/** What was last predicted for a flight of a craft with its planned filters, and for which plan. */
import {canonicalJson} from '../canonical-json';
import {chainOf} from '../controller/chain-of';
import type {ControllerPlan} from '../controller/plan';
import type {PredictedGain} from './predicted-gain';

/** A text that is equal for plans that make equal filters on an equal pole count, however they say it. */
export const plannedFilters = (plan: ControllerPlan): string =>
  canonicalJson([plan.poles, chainOf({...plan, replies: true})]);

/** What the Noise station predicts for one flight of this craft with the planned filters. */
export interface NoiseForecast {
  readonly flight: string;
  /** Ridge frequency over motor speed; undefined where no ridge stands out. */
  readonly ratio: number | undefined;
  /** How much less noise the planned filters leave, dB, and than what; kept forecasts of before compared with no filters. */
  readonly gainDb: number;
  readonly against?: PredictedGain['against'] | undefined;
  /** Undefined where a filter's delay cannot be stated. */
  readonly delayMs: number | undefined;
  /** The planned filters it was computed for, as {@link plannedFilters} writes them. */
  readonly planned: string;
  readonly at: number;
}
