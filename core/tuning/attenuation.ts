/** |H|² of filters over the bins of a flight model, at the rate that the controller runs them with. */
import {power} from '../filters/response';
import type {Section} from '../filters/section';
import type {FlightModel} from './flight-model';

/** Cosines of the bins' frequencies at the filters' rate: the only trigonometry of a forecast. */
export interface BinAngles {
  readonly c1: Float64Array;
  readonly c2: Float64Array;
}

export function binAngles({bins, stepHz}: Pick<FlightModel, 'bins' | 'stepHz'>, rateHz: number): BinAngles {
  const w = (k: number) => (2 * Math.PI * k * stepHz) / rateHz;
  return {
    c1: Float64Array.from({length: bins}, (_, k) => Math.cos(w(k))),
    c2: Float64Array.from({length: bins}, (_, k) => Math.cos(2 * w(k))),
  };
}

/** Multiplies `out` by |H|² of every section. Bins beyond half the filters' rate stay as they are: nobody knows them. */
export function attenuate(out: Float64Array, sections: readonly Section[], {c1, c2}: BinAngles): void {
  for (const section of sections) for (let k = 0; k < out.length; k++) out[k]! *= power(section, c1[k]!, c2[k]!);
}
