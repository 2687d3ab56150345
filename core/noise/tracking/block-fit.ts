/** One block of a flight: weighted least squares of lines at multiples of the motors' phases. */
import type {Samples} from '../../spectra/periodogram';
import {cholesky, inverseDiagonal, solve} from '../../numbers/cholesky';

export interface Line {
  readonly motor: number;
  readonly order: number;
}

interface BlockQuestion {
  readonly lines: readonly Line[];
  /** Revolutions per second, one per motor, over the whole log. */
  readonly hz: readonly Samples[];
  readonly at: number;
  /** Weight of each sample: Hann keeps the pilot's hand, far below, out of the lines. */
  readonly window: Float64Array;
  readonly sampleRateHz: number;
  /** Where blocks of one length compute, one after the other. */
  readonly scratch: Scratch;
}

/** Arrays that blocks use in turn: to make them anew for each block took a seventh of its time. */
export class Scratch {
  private readonly made = new Map<number, Float64Array[]>();
  private readonly circles = new Map<number, Turn>();

  /** The first `count` rows of `length`, with whatever the last block left in them. */
  rows(length: number, count: number): Float64Array[] {
    let rows = this.made.get(length);
    if (!rows) this.made.set(length, (rows = []));
    while (rows.length < count) rows.push(new Float64Array(length));
    return rows;
  }

  /** One turn in steps of 1/length. */
  circle(length: number): Turn {
    let circle = this.circles.get(length);
    if (!circle) this.circles.set(length, (circle = circleOf(length)));
    return circle;
  }
}

/** Rows of a block beside its basis. */
const ownRows = 5;

/** A·e^(jα) of A·cos(order · φ + α), φ being the motor's phase from the block's first sample on. */
export interface Phasor {
  readonly re: number;
  readonly im: number;
}

interface LineFit {
  /** One for each line. */
  readonly phasors: readonly Phasor[];
  /** Square of each line's amplitude. */
  readonly squares: Float64Array;
  /** What noise alone would give in that square: from the residual beside each line. */
  readonly noises: Float64Array;
}

/** Largest correction of a motor's speed, as a share: more would be another motor's line. */
const maxCorrection = 0.01;

/** A correction that turns a motor by less than this over the block counts as none, turns. */
const settledTurns = 0.003;

export class BlockFit {
  private readonly n: number;
  /** cos and sin of every line, row by row. */
  private readonly basis: Float64Array[];
  private readonly weighted: Float64Array;
  private readonly residual: Float64Array;
  private readonly timed: Float64Array;
  /** Real and imaginary part of a residual that is turned by a line. */
  private readonly turned: readonly [Float64Array, Float64Array];
  private readonly weights: {readonly sum: number; readonly squares: number};
  private factor: Float64Array | undefined;
  private variance: Float64Array | undefined;
  private readonly circle: Turn;
  /** Offsets, in bins, at which the noise beside each line is looked at. */
  private readonly probes: (readonly number[])[] = [];

  constructor(private readonly q: BlockQuestion) {
    this.n = 2 * q.lines.length;
    const rows = q.scratch.rows(q.window.length, ownRows + this.n);
    [this.weighted, this.residual, this.timed] = rows as [Float64Array, Float64Array, Float64Array];
    this.turned = [rows[3]!, rows[4]!];
    this.basis = rows.slice(ownRows, ownRows + this.n);
    this.weights = {sum: sumOf(q.window), squares: dot(q.window, q.window)};
    this.circle = q.scratch.circle(q.window.length);
    this.build(q.hz.map(() => 0));
  }

  /** Variance of a line's square over that of a line alone in the block; infinite where the block does not tell it. */
  varianceOf(line: number): number {
    if (!this.factor) return Infinity;
    this.variance ??= inverseDiagonal(this.factor, this.n);
    return (this.variance[2 * line]! + this.variance[2 * line + 1]!) / this.alone;
  }

  /** Variance of the square of a line alone, per unit: Σw/2 stands on the diagonal for its cosine and for its sine. */
  private get alone(): number {
    return 4 / this.weights.sum;
  }

  /** Corrects each motor's speed by what the phase of its lines drifts over the block, over all signals. */
  refine(signals: readonly Samples[]): void {
    const {hz, window} = this.q;
    const shift = hz.map(() => 0);
    // So small a turn over the block changes no amplitude.
    const settled = (settledTurns * this.q.sampleRateHz) / window.length;
    for (let round = 0; round < 2; round++) {
      if (!this.factor) return;
      let largest = 0;
      this.drift(signals).forEach(({up, down}, m) => {
        if (!(down > 0)) return;
        const most = maxCorrection * (hz[m]![this.q.at + (window.length >> 1)] ?? 0);
        const next = Math.max(-most, Math.min(most, shift[m]! + up / down));
        largest = Math.max(largest, Math.abs(next - shift[m]!));
        shift[m] = next;
      });
      if (largest < settled) return;
      this.build(shift);
    }
  }

  /**
   * Sums of a Gauss-Newton step for each motor's speed δ: a line a·cos(kφ + 2πkδt) + b·sin(…) has the slope
   * 2πkt·(b·cos − a·sin) in it, t being counted from the middle of the block.
   */
  private drift(signals: readonly Samples[]): {up: number; down: number}[] {
    const {lines, hz, window, sampleRateHz} = this.q;
    const step = hz.map(() => ({up: 0, down: 0}));
    const {timed} = this;
    for (let i = 0; i < timed.length; i++) timed[i] = (window[i]! * (i - window.length / 2)) / sampleRateHz;
    const squares = lines.map((_, l) => this.timedSquares(timed, l));
    for (const signal of signals) {
      const {x, residual} = this.fit(signal);
      for (let i = 0; i < residual.length; i++) residual[i]! *= timed[i]!;
      const along = dots(residual, this.basis, this.n);
      lines.forEach(({motor, order}, l) => {
        const [a, b] = [x[2 * l]!, x[2 * l + 1]!];
        const {cosCos, cosSin, sinSin} = squares[l]!;
        const turn = 2 * Math.PI * order;
        step[motor]!.up += turn * (b * along[2 * l]! - a * along[2 * l + 1]!);
        step[motor]!.down += turn * turn * (b * b * cosCos - 2 * a * b * cosSin + a * a * sinSin);
      });
    }
    return step;
  }

  /** Σ w·t² of the products of a line's cosine and sine. @param timed w·t */
  private timedSquares(timed: Float64Array, line: number): {cosCos: number; cosSin: number; sinSin: number} {
    const [cos, sin] = [this.basis[2 * line]!, this.basis[2 * line + 1]!];
    let [cosCos, cosSin, sinSin] = [0, 0, 0];
    for (let i = 0; i < timed.length; i++) {
      const weight = (timed[i]! * (i - timed.length / 2)) / this.q.sampleRateHz;
      const c = weight * cos[i]!;
      cosCos += c * cos[i]!;
      cosSin += c * sin[i]!;
      sinSin += weight * sin[i]! * sin[i]!;
    }
    return {cosCos, cosSin, sinSin};
  }

  /** The amplitudes in one signal; undefined where the block tells nothing. */
  solve(signal: Samples): LineFit | undefined {
    if (!this.factor) return undefined;
    const {lines} = this.q;
    const {x, residual} = this.fit(signal);
    const squares = new Float64Array(lines.length);
    const noises = new Float64Array(lines.length);
    // Weights w, not their roots, stand in the equations: white noise comes through by Σw²/Σw.
    const through = (this.alone * this.weights.squares) / this.weights.sum;
    lines.forEach((_, l) => {
      squares[l] = x[2 * l]! ** 2 + x[2 * l + 1]! ** 2;
      noises[l] = this.noiseBeside(residual, l) * this.varianceOf(l) * through;
    });
    const phasors = lines.map((_, l): Phasor => ({re: x[2 * l]!, im: -x[2 * l + 1]!}));
    return {phasors, squares, noises};
  }

  /** The residual stands until the next fit. */
  private fit(signal: Samples): {x: Float64Array; residual: Float64Array} {
    const {window, at} = this.q;
    const {weighted, residual} = this;
    for (let i = 0; i < window.length; i++) {
      residual[i] = signal[at + i]!;
      weighted[i] = window[i]! * residual[i]!;
    }
    const x = solve(this.factor!, this.n, dots(weighted, this.basis, this.n));
    // Cosine and sine of a line in one pass.
    for (let r = 0; r < this.n; r += 2) {
      const [cos, sin] = [this.basis[r]!, this.basis[r + 1]!];
      const [a, b] = [x[r]!, x[r + 1]!];
      for (let i = 0; i < window.length; i++) residual[i]! -= a * cos[i]! + b * sin[i]!;
    }
    return {x, residual};
  }

  /**
   * Variance of a sample's noise as it acts at a line: power of the residual beside it, at offsets where no line that was
   * fitted took something with it. In units of a white noise of that density.
   */
  private noiseBeside(residual: Float64Array, line: number): number {
    const {window} = this.q;
    const [cos, sin] = [this.basis[2 * line]!, this.basis[2 * line + 1]!];
    const length = window.length;
    const [re, im] = this.turned;
    for (let i = 0; i < length; i++) {
      const v = window[i]! * residual[i]!;
      re[i] = v * cos[i]!;
      im[i] = v * sin[i]!;
    }
    const offsets = (this.probes[line] ??= probesBeside(this.linesInBins(), line, length));
    const power = offsets.reduce((sum, bins) => sum + powerAt(this.turned, bins, this.circle), 0);
    return power / offsets.length / this.weights.squares;
  }

  /** Where every line lies in the middle of the block, in widths of one over its length. */
  private linesInBins(): readonly number[] {
    const {lines, hz, at, window, sampleRateHz} = this.q;
    const toBins = window.length / sampleRateHz;
    return lines.map(({motor, order}) => order * hz[motor]![at + (window.length >> 1)]! * toBins);
  }

  /** Phases from the speeds, each corrected by a constant, and the normal matrix. */
  private build(shiftHz: readonly number[]): void {
    const {lines, hz, at, window, sampleRateHz: rate} = this.q;
    const length = window.length;
    const turns = hz.map((speed, m) => {
      const cos = new Float64Array(length);
      const sin = new Float64Array(length);
      let phase = 0;
      for (let i = 0; i < length; i++) {
        cos[i] = Math.cos(phase);
        sin[i] = Math.sin(phase);
        phase += (2 * Math.PI * (speed[at + i]! + shiftHz[m]!)) / rate;
      }
      return {cos, sin};
    });
    lines.forEach(({motor, order}, l) =>
      raise(turns[motor]!, order, {cos: this.basis[2 * l]!, sin: this.basis[2 * l + 1]!}),
    );
    const matrix = new Float64Array(this.n * this.n);
    const {weighted} = this;
    for (let r = 0; r < this.n; r++) {
      const row = this.basis[r]!;
      for (let i = 0; i < length; i++) weighted[i] = window[i]! * row[i]!;
      dots(weighted, this.basis, r + 1).forEach((sum, c) => {
        matrix[r * this.n + c] = sum;
        matrix[c * this.n + r] = sum;
      });
    }
    this.factor = cholesky(matrix, this.n);
    this.variance = undefined;
  }
}

/** Nearest and farthest offset of a probe, bins, and how many there are. Nearer, a line leaves something itself. */
const nearest = 3;
const farthest = 16;
const probeCount = 4;
const probeOffsets = Array.from({length: farthest - nearest + 1}, (_, i) => [-(nearest + i), nearest + i]).flat();

/**
 * The nearest offsets from a line that keep away from every other line, or from as many as can be. @param bins where the
 * lines lie. @param length of the block, samples: what lies beyond half the rate is found where it aliases down to.
 */
function probesBeside(bins: readonly number[], line: number, length: number): readonly number[] {
  const image = (bin: number) => Math.abs(bin - length * Math.round(bin / length));
  const own = bins[line]!;
  const others = bins.flatMap((bin, l) => (l === line ? [] : [image(bin)]));
  const clearance = (offset: number) => {
    const at = image(own + offset);
    return others.reduce((least, bin) => Math.min(least, Math.abs(bin - at)), nearest);
  };
  const rated = probeOffsets.map((offset) => ({offset, clear: clearance(offset)}));
  return rated
    .sort((a, b) => b.clear - a.clear || Math.abs(a.offset) - Math.abs(b.offset))
    .slice(0, probeCount)
    .map(({offset}) => offset);
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

/** Scalar products of `a` with the first `count` rows, four in one pass: what costs is to fetch the samples. */
function dots(a: Float64Array, rows: readonly Float64Array[], count: number): Float64Array {
  const sums = new Float64Array(count);
  let r = 0;
  for (; r + 3 < count; r += 4) {
    const [b, c, d, e] = [rows[r]!, rows[r + 1]!, rows[r + 2]!, rows[r + 3]!];
    let [ab, ac, ad, ae] = [0, 0, 0, 0];
    for (let i = 0; i < a.length; i++) {
      const v = a[i]!;
      ab += v * b[i]!;
      ac += v * c[i]!;
      ad += v * d[i]!;
      ae += v * e[i]!;
    }
    sums.set([ab, ac, ad, ae], r);
  }
  for (; r < count; r++) sums[r] = dot(a, rows[r]!);
  return sums;
}

/** Square of Σ u·e^(2πj·bins·i/length). @param circle one turn in steps of 1/length. */
function powerAt([ux, uy]: readonly [Float64Array, Float64Array], bins: number, circle: Turn): number {
  const length = ux.length;
  const step = ((bins % length) + length) % length;
  let [at, re, im] = [0, 0, 0];
  for (let i = 0; i < length; i++) {
    const [x, y, c, s] = [ux[i]!, uy[i]!, circle.cos[at]!, circle.sin[at]!];
    re += x * c - y * s;
    im += x * s + y * c;
    at += step;
    if (at >= length) at -= length;
  }
  return re * re + im * im;
}

interface Turn {
  readonly cos: Float64Array;
  readonly sin: Float64Array;
}

/** cos kφ and sin kφ from cos φ and sin φ, by multiplying k times: no trigonometry. */
function raise(turn: Turn, order: number, {cos, sin}: Turn): void {
  const whole = Math.floor(order);
  for (let i = 0; i < cos.length; i++) {
    const c = turn.cos[i]!;
    const s = turn.sin[i]!;
    let re = c;
    let im = s;
    for (let k = 1; k < whole; k++) {
      const next = re * c - im * s;
      im = re * s + im * c;
      re = next;
    }
    cos[i] = re;
    sin[i] = im;
  }
}

function circleOf(length: number): Turn {
  const turns = new Float64Array(length).map((_, i) => (2 * Math.PI * i) / length);
  return {cos: turns.map((a) => Math.cos(a)), sin: turns.map((a) => Math.sin(a))};
}

const sumOf = (values: Float64Array): number => values.reduce((sum, v) => sum + v, 0);
