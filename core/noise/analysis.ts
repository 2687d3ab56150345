/** Everything the Noise station shows of one flight and one filter chain, computed in one go (in a worker). */
import {delayLedger, type DelayEntry, type FilterChain} from './delay-ledger';
import {motorHz, type Axis, type FlightLog} from './flight-log';
import {applyMovingNotches, movingNotchCentres} from './moving-notch';
import {applyLowPass, applyNotches} from './notch-bank';
import {strongestPeaks, type Peak} from './peaks';
import {findPoleCount, type NoPoleVerdict, type PoleVerdict} from './pole-count';
import {speedOverThrottle, throttleSpectrogram, type Spectrogram} from './spectrogram';
import {welch, type Spectrum} from './welch';

export interface NoiseQuestion {
  readonly axis: Axis;
  readonly poles: number;
  readonly planned: FilterChain;
  readonly found: FilterChain | undefined;
  /** Rate at which the controller runs its filters, Hz: not the log's. */
  readonly filterRateHz: number;
}

export interface NoiseAnalysis {
  readonly axis: Axis;
  readonly sampleRateHz: number;
  readonly durationS: number;
  readonly spectrogram: Spectrogram;
  /** Rotation frequency of motor 1 per throttle band, Hz. */
  readonly speed: Float64Array;
  readonly asFlown: Spectrum;
  readonly predicted: Spectrum;
  readonly peaks: readonly Peak[];
  readonly poles: PoleVerdict | NoPoleVerdict;
  readonly planned: readonly DelayEntry[];
  readonly found: readonly DelayEntry[] | undefined;
  /** Mean power from 100 Hz to 600 Hz, as flown over predicted, dB. */
  readonly gainDb: number;
  readonly notes: readonly string[];
}

const segment = 1024;
/** Frequency at which delay matters to the control loop, Hz: where quads of this class oscillate. */
export const delayAtHz = 60;

export function analyseNoise(log: FlightLog, q: NoiseQuestion): NoiseAnalysis {
  const gyro = log.gyro[q.axis];
  const rate = log.sampleRateHz;
  const speeds = log.erpm.map((_, m) => motorHz(log, m, q.poles));
  const sparse = speeds.map((hz) => hz.filter((_, i) => i % 500 === 0));
  const run = (chain: FilterChain) => {
    const rest = applyLowPass(applyNotches(gyro, speeds, chain, rate), chain.gyroLowPassHz, rate);
    // Moving notches sit on what the other filters leave.
    const movingHz = movingNotchCentres(rest, {count: chain.movingNotches, minHz: chain.minHz}, rate);
    const ledger = delayLedger(chain, {motorsHz: sparse, movingHz, filterRateHz: q.filterRateHz, atHz: delayAtHz});
    return {filtered: applyMovingNotches(rest, movingHz, rate), ledger};
  };
  const planned = run(q.planned);
  const asFlown = welch(gyro, rate, segment);
  const predicted = welch(planned.filtered, rate, segment);
  return {
    axis: q.axis,
    sampleRateHz: rate,
    durationS: log.durationS,
    spectrogram: throttleSpectrogram(log, q.axis),
    speed: speeds[0] ? speedOverThrottle(log, speeds[0]) : new Float64Array(0),
    asFlown,
    predicted,
    peaks: strongestPeaks(asFlown),
    poles: findPoleCount({gyro, sampleRateHz: rate, erpm: log.erpm, plannedPoles: q.poles}),
    planned: planned.ledger,
    found: q.found && run(q.found).ledger,
    gainDb: meanDb(asFlown, 100, 600) - meanDb(predicted, 100, 600),
    notes: log.notes,
  };
}

function meanDb({density, stepHz}: Spectrum, fromHz: number, toHz: number): number {
  const part = density.subarray(Math.ceil(fromHz / stepHz), Math.floor(toHz / stepHz) + 1);
  return 10 * Math.log10(part.reduce((a, b) => a + b, 0) / part.length);
}
