/** Everything the Noise station shows of one flight and one filter chain, computed in one go (in a worker). */
import {delayLedger, type DelayEntry, type FilterChain} from './delay-ledger';
import {motorHz, type Axis, type FlightLog} from './flight-log';
import {applyLowPass, applyNotches} from './notch-bank';
import {strongestPeaks, type Peak} from './peaks';
import {findSpeedRatio, type SpeedRatio} from './speed-ratio';
import {speedOverThrottle, throttleSpectrogram, type Spectrogram} from './spectrogram';
import {welch, type Spectrum} from './welch';

export interface NoiseQuestion {
  readonly axis: Axis;
  readonly poles: number;
  readonly planned: FilterChain;
  readonly found: FilterChain | undefined;
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
  readonly ratio: SpeedRatio | undefined;
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
  const filtered = applyLowPass(applyNotches(gyro, speeds, q.planned, rate), q.planned.gyroLowPassHz, rate);
  const asFlown = welch(gyro, rate, segment);
  const predicted = welch(filtered, rate, segment);
  const left = strongestPeaks(predicted, {count: 5}).map((p) => p.hz);
  const sparse = speeds.map((hz) => hz.filter((_, i) => i % 500 === 0));
  const flown = strongestPeaks(asFlown, {count: 5}).map((p) => p.hz);
  // Moving notches sit on what the other filters leave: everything, when there are no motor-speed notches.
  const ledger = (chain: FilterChain) =>
    delayLedger(chain, {
      motorsHz: sparse,
      peaksHz: chain.harmonics.length ? left : flown,
      sampleRateHz: rate,
      atHz: delayAtHz,
    });
  return {
    axis: q.axis,
    sampleRateHz: rate,
    durationS: log.durationS,
    spectrogram: throttleSpectrogram(log, q.axis),
    speed: speeds[0] ? speedOverThrottle(log, speeds[0]) : new Float64Array(0),
    asFlown,
    predicted,
    peaks: strongestPeaks(asFlown),
    ratio: speeds[0] ? findSpeedRatio(log, gyro, speeds[0], q.poles) : undefined,
    planned: ledger(q.planned),
    found: q.found && ledger(q.found),
    gainDb: meanDb(asFlown, 100, 600) - meanDb(predicted, 100, 600),
    notes: log.notes,
  };
}

function meanDb({density, stepHz}: Spectrum, fromHz: number, toHz: number): number {
  const part = density.subarray(Math.ceil(fromHz / stepHz), Math.floor(toHz / stepHz) + 1);
  return 10 * Math.log10(part.reduce((a, b) => a + b, 0) / part.length);
}
