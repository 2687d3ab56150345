/** Which pole counts go with measured electrical speeds: a free motor turns between known shares of KV × volts × throttle. */
import {plausibleIdleShare, plausibleShare, idleThrottle, type ReplyMeasure} from './replies';
import {median} from '../numbers/median';

interface SpeedPoles {
  /** Even counts with which the motors would turn plausibly, smallest first. */
  readonly plausible: readonly number[];
  /** Turns of the shaft that KV and volts give, over those that the count in use gives. */
  readonly share: number;
  /** Throttle at which it was measured, 0…1. */
  readonly throttle: number;
}

const candidates = Array.from({length: 14}, (_, i) => 4 + 2 * i);

/** From the fastest level measured; undefined where no motor told a speed. @param poles by which replies became rpm. */
export function polesFromSpeed(measures: readonly ReplyMeasure[], poles: number): SpeedPoles | undefined {
  const fastest = measures.reduce<ReplyMeasure | undefined>(
    (a, b) => (a && a.throttle >= b.throttle ? a : b),
    undefined,
  );
  const told = fastest?.motors.flatMap(({rpm, noLoadRpm}) => (rpm && noLoadRpm ? [rpm / noLoadRpm] : [])) ?? [];
  if (!fastest || !told.length) return undefined;
  const share = median(told);
  const {least, most} = fastest.throttle <= idleThrottle ? plausibleIdleShare : plausibleShare;
  const plausible = candidates.filter((p) => {
    const would = (share * poles) / p;
    return would >= least && would <= most;
  });
  return {plausible, share, throttle: fastest.throttle};
}
