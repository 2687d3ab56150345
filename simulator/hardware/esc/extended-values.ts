/** What an ESC tells beside its speed once it was told to: sensed, and sent in turn between the speeds. */
import {extendedBody, type ExtendedKind} from '@core/dshot/reply-meaning';
import type {ExtendedValues} from '@core/link/operations';

export interface EscSenses {
  /** °C, V, A. */
  readonly temperature: number;
  readonly volts: number;
  readonly amps: number;
  /** How often its motor lost step. */
  readonly desyncs: number;
}

export const roomTemperature = 24;
/** Warms by so many °C for each A² in the end, and takes so long, s. */
const [degreesPerA2, settlesS] = [0.09, 18];

export const warmed = (temperature: number, amps: number, dtS: number): number =>
  temperature + ((roomTemperature + degreesPerA2 * amps ** 2 - temperature) * dtS) / settlesS;

/** One of so many replies is something else than a speed. */
const everyLoops = 64;
const turns: readonly ExtendedKind[] = ['temperature', 'voltage', 'current', 'state'];

/** The 12 bits of the reply of a loop where it is no speed. */
export function extendedBodyAt(loop: number, senses: EscSenses): number | undefined {
  if (loop % everyLoops !== 0) return undefined;
  const kind = turns[(loop / everyLoops) % turns.length]!;
  return extendedBody({kind, value: valueOf(kind, senses)});
}

/** As they come out of the bits they are sent in. */
export const toldBy = (senses: EscSenses): ExtendedValues => ({
  temperature: Math.round(senses.temperature),
  voltage: Math.round(4 * senses.volts) / 4,
  current: Math.min(255, Math.round(senses.amps)),
  state: valueOf('state', senses),
});

function valueOf(kind: ExtendedKind, {temperature, volts, amps, desyncs}: EscSenses): number {
  switch (kind) {
    case 'temperature':
      return temperature;
    case 'voltage':
      return volts;
    case 'current':
      return amps;
    default:
      return Math.min(15, desyncs);
  }
}
