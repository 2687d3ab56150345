/**
 * The whole chain run over recorded axes, sample by sample at the rate they were recorded with: notches that follow, moving
 * notches behind them, low-passes last, as a controller runs them. Direct form 1: the state is of the signal, so that
 * changing coefficients do not click.
 */
import type {Samples} from '../spectra/periodogram';
import {lowPassesAt, motorSections, movingSections, type FilterChain} from './chain';
import {trackPeaks} from './moving-tracker';
import type {Section} from './section';

/** Samples between two updates of the coefficients; speeds change little in that time. */
const updateEvery = 8;

export interface ChainInput {
  readonly axes: readonly Samples[];
  /** Speeds as the notches see them, see seenSpeeds, one per motor. */
  readonly motorsHz: readonly Samples[];
  /** Percent. */
  readonly throttle: Samples | undefined;
  readonly sampleRateHz: number;
  /** Gets the share done, 0…1; false from it ends the work, and nothing comes back. */
  readonly onProgress?: (share: number) => boolean;
}

/** Fresh filtered copies of the axes; undefined when it was ended. */
export function runChain(chain: FilterChain, input: ChainInput): Float32Array[] | undefined {
  const {sampleRateHz: rate} = input;
  const throttleAt = (i: number) => input.throttle?.[i] ?? 0;
  const stateAt = (i: number) => ({motorsHz: input.motorsHz.map((hz) => hz[i]!), throttle: throttleAt(i)});
  const parts = chain.moving.count ? 3 : 2;
  const progress = (part: number) => (share: number) => input.onProgress?.((part + share) / parts) ?? true;
  const notched = runFollowing(input.axes, (i) => motorSections(chain, stateAt(i), rate), progress(0));
  if (!notched) return undefined;
  let moved = notched;
  if (chain.moving.count) {
    for (let a = 0; a < moved.length; a++) {
      const {hop, centres} = trackPeaks(notched[a]!, chain.moving, rate);
      const at = (i: number) =>
        movingSections(
          chain,
          centres.map((c) => c[Math.floor(i / hop)]!),
          rate,
        );
      const [one] = runFollowing([notched[a]!], at, progress(1)) ?? [];
      if (!one) return undefined;
      moved = moved.map((axis, i) => (i === a ? one : axis));
    }
  }
  return runFollowing(moved, (i) => lowPassesAt(chain.gyroLowPasses, throttleAt(i), rate), progress(parts - 1));
}

/** Runs sections that may change every few samples over all axes at once. Their number may change too: each keeps its place. */
function runFollowing(
  axes: readonly Samples[],
  sectionsAt: (sample: number) => readonly Section[],
  onProgress: (share: number) => boolean,
): Float32Array[] | undefined {
  const length = axes[0]?.length ?? 0;
  const out = axes.map((axis) => Float32Array.from(axis));
  const room = 64;
  const states = axes.map(() => Array.from({length: room}, () => new Float64Array(4)));
  for (let at = 0; at < length; at += updateEvery) {
    const sections = sectionsAt(at);
    const end = Math.min(length, at + updateEvery);
    for (let a = 0; a < axes.length; a++)
      for (let s = 0; s < sections.length && s < room; s++) runBlock(out[a]!, {at, end}, sections[s]!, states[a]![s]!);
    if (at % 400_000 === 0 && !onProgress(at / length)) return undefined;
  }
  return out;
}

/** One section over a few samples, in place; `state` is its four values. */
function runBlock(
  signal: Float32Array,
  {at, end}: {at: number; end: number},
  {b0, b1, b2, a1, a2}: Section,
  state: Float64Array,
): void {
  let x1 = state[0]!;
  let x2 = state[1]!;
  let y1 = state[2]!;
  let y2 = state[3]!;
  for (let i = at; i < end; i++) {
    const x = signal[i]!;
    const y = b0 * x + b1 * x1 + b2 * x2 - a1 * y1 - a2 * y2;
    x2 = x1;
    x1 = x;
    y2 = y1;
    y1 = y;
    signal[i] = y;
  }
  state[0] = x1;
  state[1] = x2;
  state[2] = y1;
  state[3] = y2;
}
