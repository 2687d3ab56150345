/** How often the amplitude that a flight is said to have lies within its stated bound, by class of flight. */
import {axes} from '@core/flight/mapping';
import {trackOrders} from '@core/noise/tracking/order-tracking';
import {uniform} from '@core/testing/known-flight';
import {drawnCraft, fly, share, type Craft, type FlightTruth} from './drawn-flights';

interface AmplitudeClass {
  readonly truth?: Partial<FlightTruth>;
  /** Speeds of the motors over their mean, drawn. */
  readonly speeds?: (random: () => number) => readonly number[];
}

export const amplitudeClasses: Readonly<Record<string, AmplitudeClass>> = {
  'in the air': {},
  'idle descents': {truth: {cut: 0.5}},
  'motors 1 to 3 Hz apart': {speeds: (random) => [0, 1, 2, 3].map((m) => 1 + (m * 1.6 + 0.8 * random()) / 170)},
  'strength wanders by 10 %': {truth: {wander: 0.1}},
};

interface AmplitudeCounts {
  /** Amplitudes at the motors' own speed, on every axis, that are known. */
  readonly known: number;
  readonly refused: number;
  readonly within: number;
  /** Median of the error as a share of the truth. */
  readonly medianError: number;
}

export function calibrateAmplitudes(name: string, flights: number, seed: number): AmplitudeCounts {
  const {truth, speeds} = amplitudeClasses[name]!;
  const errors: number[] = [];
  let [refused, within] = [0, 0];
  for (let i = 0; i < flights; i++) {
    const random = uniform(77 + seed + i);
    const own: Partial<Craft> = speeds
      ? {speeds: speeds(random), loud: [3, 4, 5, 6].map((v) => v * (0.7 + random()))}
      : {};
    const craft = drawnCraft(seed + i, own);
    const log = fly(craft, seed + i, truth);
    const hz = log.speeds.hz.map((column) => column.map((v) => (2 * v) / craft.poles));
    trackOrders(log, hz, {orders: [1]})!.forEach(({orders}, m) => {
      const said = orders.get(1);
      if (!said) return void refused++;
      axes.forEach((axis, a) => {
        const {amplitude, bound, atHz} = said[axis];
        const pull = craft.loud[m]! * (atHz / (craft.hoverHz * craft.speeds[m]!)) ** 2 * share.axes[a]!;
        errors.push(amplitude / pull - 1);
        if (Math.abs(amplitude - pull) <= bound) within++;
      });
    });
  }
  errors.sort((a, b) => a - b);
  return {known: errors.length, refused, within, medianError: errors[errors.length >> 1] ?? NaN};
}
