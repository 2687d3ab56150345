/**
 * A block of a damaged log for a fit of lines: what was not measured has no weight. Samples without weight scatter the slow
 * and large movement of the craft over all frequencies, so that movement is taken off first.
 */
import type {LineLog} from './decimated';

interface Block {
  /** Weight of each sample. */
  readonly window: Float64Array;
  /** Revolutions per second, one per motor. */
  readonly hz: readonly Float32Array[];
  /** First sample. */
  readonly at: number;
  /** deg/s, one per axis. */
  readonly gyro: readonly Float32Array[];
}

/** Standard deviations of the smoothing bell that are added up to either side. */
const bellEnd = 3;
/** The bell takes this little off the lowest line: e^(−steep²/2) is 0.1 %. */
const steep = 3.7;

/** The block itself where all of it was measured; else fresh columns that begin at 0. @param lowestHz of its lines. */
export function measuredPart(block: Block, {damage, sampleRateHz}: LineLog, lowestHz: number): Block {
  const {window, at, hz, gyro} = block;
  const length = window.length;
  if (!damage?.unmeasured.subarray(at, at + length).includes(1)) return block;
  const bell = bellOf((steep * sampleRateHz) / (2 * Math.PI * lowestHz));
  return {
    at: 0,
    window: window.map((w, i) => (damage.unmeasured[at + i] ? 0 : w)),
    hz: hz.map((speed) => speed.subarray(at, at + length)),
    gyro: gyro.map((signal) => withoutSlow(signal, damage.unmeasured, {at, length, bell})),
  };
}

/** Half of a Gaussian of standard deviation `sigma`, samples, from its middle on. */
const bellOf = (sigma: number): Float64Array =>
  Float64Array.from({length: Math.ceil(bellEnd * sigma) + 1}, (_, i) => Math.exp(-((i / sigma) ** 2) / 2));

interface Part {
  readonly at: number;
  readonly length: number;
  readonly bell: Float64Array;
}

/**
 * A signal less its slow part, which is a mean of measured samples under the bell. A sample is always there for its own mean
 * and another one only as often as rows are: its own weight is less by that, or some of every line would go too.
 */
function withoutSlow(signal: Float32Array, unmeasured: Uint8Array, {at, length, bell}: Part): Float32Array {
  const reach = bell.length - 1;
  return Float32Array.from({length}, (_, k) => {
    const i = at + k;
    let [sum, weight, all] = [0, 0, 0];
    for (let j = Math.max(0, i - reach); j <= Math.min(signal.length - 1, i + reach); j++) {
      if (j === i) continue;
      const w = bell[Math.abs(j - i)]!;
      all += w;
      if (unmeasured[j]) continue;
      sum += w * signal[j]!;
      weight += w;
    }
    const own = all ? weight / all : 1;
    return signal[i]! - (sum + own * signal[i]!) / (weight + own);
  });
}
