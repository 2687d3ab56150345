/** Moments of a flight: windows in which no motor's speed changes much, spread evenly over it. */
import {damagedShare} from '../../flight/damage';
import type {FlightLog} from '../../flight/flight-log';
import {segmentStarts} from '../../spectra/segments';
import {steadySpeed} from '../../spectra/steady-speed';
import {meanOf} from '../../spectra/noise-map';

export interface Moment {
  /** First sample. */
  readonly at: number;
  readonly motorsHz: readonly number[];
  /** Percent; NaN where the log has none. */
  readonly throttle: number;
}

interface MomentQuestion {
  /** Samples of a moment. */
  readonly length: number;
  readonly hop: number;
  /** A moment in which a motor's speed changes by more than this share is left out. */
  readonly maxChange: number;
  /** More are thinned out evenly. */
  readonly most: number;
  /** A moment of which a larger share was filled in is left out: filled rows are not measurements. */
  readonly maxFilled?: number;
}

/** A moment in which the gyro stands at its end for longer than this share says nothing. */
const maxClipped = 0.005;

type MomentLog = Pick<FlightLog, 'stretches' | 'damage'> & Partial<Pick<FlightLog, 'throttle'>>;

/** Moments in which every motor turns. Without speeds in the log there are moments all the same, with none in them. */
export function momentsOf(log: MomentLog, hz: readonly Float32Array[], q: MomentQuestion): Moment[] {
  const starts = segmentStarts(log.stretches, {segment: q.length, hop: q.hop});
  const moments: Moment[] = [];
  const {maxFilled = 0.02} = q;
  // Look at somewhat more than are asked for: some are left out.
  const stride = Math.max(1, Math.floor(starts.length / (2 * q.most)));
  for (let i = 0; i < starts.length; i += stride) {
    const at = starts[i]!;
    const damaged = log.damage && damagedShare(log.damage, at, q.length);
    if (damaged && (damaged.clipped > maxClipped || damaged.filled > maxFilled)) continue;
    const motorsHz = hz.map((speed) => steadySpeed(speed, {at, length: q.length, maxChange: q.maxChange}));
    if (motorsHz.some((v) => Number.isNaN(v))) continue;
    moments.push({at, motorsHz, throttle: log.throttle ? meanOf(log.throttle, at, q.length) : NaN});
  }
  const thin = moments.length / q.most;
  return thin <= 1 ? moments : Array.from({length: q.most}, (_, i) => moments[Math.floor(i * thin)]!);
}
