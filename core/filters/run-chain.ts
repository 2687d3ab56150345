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

interface ChainInput {
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
  const states = Array.from({length: room}, () => new Float64Array(4 * axes.length));
  const [roll, pitch, yaw] = out;
  const isUsual = out.length === 3;
  for (let at = 0; at < length; at += updateEvery) {
    const sections = sectionsAt(at);
    const block = {at, end: Math.min(length, at + updateEvery)};
    for (let s = 0; s < sections.length && s < room; s++) {
      const [section, state] = [sections[s]!, states[s]!];
      if (isUsual) runThree([roll!, pitch!, yaw!], block, section, state);
      else out.forEach((axis, a) => runBlock(axis, block, section, state.subarray(4 * a, 4 * a + 4)));
    }
    if (at % 400_000 === 0 && !onProgress(at / length)) return undefined;
  }
  return out;
}

interface Block {
  readonly at: number;
  readonly end: number;
}

/** One section over a few samples of three axes, in place: one waits for nothing while the others compute. */
function runThree(
  [a, b, c]: readonly [Float32Array, Float32Array, Float32Array],
  {at, end}: Block,
  {b0, b1, b2, a1, a2}: Section,
  state: Float64Array,
): void {
  let [ax1, ax2, ay1, ay2] = [state[0]!, state[1]!, state[2]!, state[3]!];
  let [bx1, bx2, by1, by2] = [state[4]!, state[5]!, state[6]!, state[7]!];
  let [cx1, cx2, cy1, cy2] = [state[8]!, state[9]!, state[10]!, state[11]!];
  for (let i = at; i < end; i++) {
    const ax = a[i]!;
    const bx = b[i]!;
    const cx = c[i]!;
    const ay = b0 * ax + b1 * ax1 + b2 * ax2 - a1 * ay1 - a2 * ay2;
    const by = b0 * bx + b1 * bx1 + b2 * bx2 - a1 * by1 - a2 * by2;
    const cy = b0 * cx + b1 * cx1 + b2 * cx2 - a1 * cy1 - a2 * cy2;
    ax2 = ax1;
    ax1 = ax;
    ay2 = ay1;
    ay1 = ay;
    bx2 = bx1;
    bx1 = bx;
    by2 = by1;
    by1 = by;
    cx2 = cx1;
    cx1 = cx;
    cy2 = cy1;
    cy1 = cy;
    a[i] = ay;
    b[i] = by;
    c[i] = cy;
  }
  state.set([ax1, ax2, ay1, ay2, bx1, bx2, by1, by2, cx1, cx2, cy1, cy2]);
}

/** One section over a few samples, in place; `state` is its four values. */
function runBlock(signal: Float32Array, {at, end}: Block, {b0, b1, b2, a1, a2}: Section, state: Float64Array): void {
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
