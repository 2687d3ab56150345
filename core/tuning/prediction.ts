/** What a chain would leave of a flight and what it costs in time, as one answer. */
import type {FilterChain} from '../filters/chain';
import {delayCurve, delayLedger, type DelayEntry} from '../filters/delay-ledger';
import type {FlightModel} from './flight-model';
import {forecast, type Forecast} from './forecast';

export interface Prediction {
  readonly forecast: Omit<Forecast, 'moments'>;
  readonly ledger: readonly DelayEntry[];
  /** Phase delay of the gyro's path over frequency, ms, at the moment of median speed; NaN where a notch is near. */
  readonly curve: {readonly hz: readonly number[]; readonly ms: readonly number[]};
}

export interface ChainPlace {
  readonly chain: FilterChain;
  /** Rate that the filters run at, Hz. */
  readonly filterRateHz: number;
  /** Frequency at which their delay is stated, Hz. */
  readonly atHz: number;
}

/** Frequencies of the curve, Hz. */
const curveHz = Array.from({length: 40}, (_, i) => 5 + i * 5);

export function predict(model: FlightModel, {chain, filterRateHz, atHz}: ChainPlace): Prediction {
  const {moments, ...rest} = forecast(model, chain, filterRateHz);
  const bySpeed = [...moments].sort((a, b) => (a.motorsHz[0] ?? a.throttle) - (b.motorsHz[0] ?? b.throttle));
  const middle = bySpeed[moments.length >> 1]!;
  return {
    forecast: rest,
    ledger: delayLedger(chain, moments, {rateHz: filterRateHz, atHz}),
    curve: {hz: curveHz, ms: delayCurve(chain, middle, {rateHz: filterRateHz, hz: curveHz})},
  };
}
