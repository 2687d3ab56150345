/**
 * The filters that the simulated flight controller runs on its gyro, one axis: notches on the speeds it believes, notches
 * that look for peaks, a low-pass. Written for the simulator alone, in another form than Bidex's own (transposed
 * direct form 2, peaks by a bank of Goertzel's sums), so that what Bidex computes is held against something else.
 */

import type {WireConfig} from '@core/link/operations';

/** b0, b1, b2, a1, a2 and two values of memory. */
class Cell {
  private b0 = 1;
  private b1 = 0;
  private b2 = 0;
  private a1 = 0;
  private a2 = 0;
  private s1 = 0;
  private s2 = 0;

  notch(hz: number, q: number, rate: number): void {
    const w = (2 * Math.PI * hz) / rate;
    const k = Math.sin(w) / (2 * q);
    const n = 1 / (1 + k);
    this.b0 = this.b2 = n;
    this.b1 = this.a1 = -2 * Math.cos(w) * n;
    this.a2 = (1 - k) * n;
  }

  butterworth(hz: number, rate: number): void {
    const t = Math.tan((Math.PI * hz) / rate);
    const n = 1 / (1 + Math.SQRT2 * t + t * t);
    this.b0 = this.b2 = t * t * n;
    this.b1 = 2 * this.b0;
    this.a1 = 2 * (t * t - 1) * n;
    this.a2 = (1 - Math.SQRT2 * t + t * t) * n;
  }

  /** A leaky integrator that goes 1 − 1/(1 + 2πf/rate) of the way at each sample. */
  leak(hz: number, rate: number): void {
    const turn = (2 * Math.PI * hz) / rate;
    this.b0 = turn / (1 + turn);
    this.a1 = this.b0 - 1;
    this.b1 = this.b2 = this.a2 = 0;
  }

  /** Lets everything pass, and forgets. */
  open(): void {
    [this.b0, this.b1, this.b2, this.a1, this.a2, this.s1, this.s2] = [1, 0, 0, 0, 0, 0, 0];
  }

  run(x: number): number {
    const y = this.b0 * x + this.s1;
    this.s1 = this.b1 * x - this.a1 * y + this.s2;
    this.s2 = this.b2 * x - this.a2 * y;
    return y;
  }
}

/** Gyro filters as they go over the link; what is absent is what the firmware does without asking. */
export type FilterConfig = Pick<WireConfig, 'gyroLowPassHz'> &
  Partial<
    Pick<
      WireConfig,
      | 'notchHarmonics'
      | 'notchWeights'
      | 'notchQ'
      | 'notchMinHz'
      | 'notchFadeHz'
      | 'speedLowPassHz'
      | 'movingNotches'
      | 'movingQ'
      | 'movingMinHz'
      | 'movingMaxHz'
      | 'gyroLowPass'
      | 'gyroLowPassFullHz'
    >
  >;

const usualMovingQ = 3;
const usualMovingTopHz = 600;
/** Samples between updates of the notches. */
const updateEvery = 8;
/** Equal leaky integrators of each kind, and how much higher each one's corner lies so that together they take 3 dB. */
const leaks = {
  lowpass1: {count: 1, higher: 1},
  lowpass2: {count: 2, higher: 1.553774},
  lowpass3: {count: 3, higher: 1.9614592},
} as const;

interface Follower {
  readonly motor: number;
  readonly order: number;
  readonly cell: Cell;
  /** How much of the notch is mixed in, 0…1. */
  share: number;
}

export class AxisFilters {
  private readonly following: Follower[];
  private readonly moving: Cell[];
  private readonly low: Cell[];
  private readonly seeker: PeakSeeker | undefined;
  /** Speeds as smoothed. */
  private readonly smooth: number[];
  private readonly smoothing: number;
  private sample = 0;

  constructor(
    private readonly config: FilterConfig,
    motors: number,
    private readonly rate: number,
  ) {
    const orders = config.notchHarmonics ?? [];
    this.following = Array.from({length: motors}, (_, motor) =>
      orders.map((order): Follower => ({motor, order, cell: new Cell(), share: 0})),
    ).flat();
    this.moving = Array.from({length: config.movingNotches ?? 0}, () => new Cell());
    const {movingMinHz = config.notchMinHz ?? 80, movingMaxHz = usualMovingTopHz} = config;
    if (this.moving.length) this.seeker = new PeakSeeker(this.moving.length, [movingMinHz, movingMaxHz], rate);
    const kind = config.gyroLowPass ?? 'biquad-lowpass';
    this.low = Array.from({length: kind === 'biquad-lowpass' ? 1 : leaks[kind].count}, () => new Cell());
    this.smooth = Array.from({length: motors}, () => 0);
    const turn = (2 * Math.PI * (config.speedLowPassHz ?? 0)) / rate;
    this.smoothing = turn > 0 ? turn / (1 + turn) : 1;
  }

  /**
   * @param speedsHz revolutions per second that the controller believes, one per motor; 0 for unknown.
   * @param throttle 0…1.
   */
  run(x: number, speedsHz: readonly number[], throttle: number): number {
    speedsHz.forEach((hz, m) => {
      const was = this.smooth[m]!;
      this.smooth[m] = hz > 0 && was > 0 ? was + this.smoothing * (hz - was) : hz;
    });
    if (this.sample++ % updateEvery === 0) this.place(throttle);
    let y = x;
    for (const {cell, share} of this.following) {
      const notched = cell.run(y);
      y += share * (notched - y);
    }
    this.seeker?.take(y);
    for (const cell of this.moving) y = cell.run(y);
    for (const cell of this.low) y = cell.run(y);
    return y;
  }

  private place(throttle: number): void {
    const {notchQ = 5, notchMinHz = 100, notchFadeHz = 0, notchWeights = [], movingQ = usualMovingQ} = this.config;
    for (const follower of this.following) {
      const {motor, order, cell} = follower;
      const wanted = this.smooth[motor]! * order;
      const hz = Math.max(notchMinHz, wanted);
      const faded = notchFadeHz > 0 ? Math.min(1, Math.max(0, (wanted - notchMinHz) / notchFadeHz)) : 1;
      follower.share = (faded * (notchWeights[order - 1] ?? 100)) / 100;
      if (wanted > 0 && hz < 0.475 * this.rate) cell.notch(hz, notchQ, this.rate);
      else cell.open();
    }
    this.moving.forEach((cell, i) => {
      const hz = this.seeker!.places[i]!;
      if (hz > 0 && hz < 0.475 * this.rate) cell.notch(hz, movingQ, this.rate);
      else cell.open();
    });
    this.placeLowPass(throttle);
  }

  private placeLowPass(throttle: number): void {
    const {gyroLowPass: kind = 'biquad-lowpass', gyroLowPassHz: idle, gyroLowPassFullHz: full = 0} = this.config;
    const hz = full > 0 ? idle + (full - idle) * Math.min(1, Math.max(0, throttle)) : idle;
    for (const cell of this.low)
      if (hz >= this.rate / 2) cell.open();
      else if (kind === 'biquad-lowpass') cell.butterworth(hz, this.rate);
      else cell.leak(hz * leaks[kind].higher, this.rate);
  }
}

/** Looks for the strongest tones every 8 ms in the last 64 ms, and moves its places a quarter of the way to them. */
class PeakSeeker {
  readonly places: number[];
  private readonly buffer: Float64Array;
  private readonly tones: number[];
  private filled = 0;
  private readonly hop: number;
  private readonly skip: number;

  constructor(
    count: number,
    [fromHz, topHz]: readonly [number, number],
    private readonly rate: number,
  ) {
    this.places = Array.from({length: count}, () => 0);
    // It works on every nth sample: enough for the highest tone.
    this.skip = Math.max(1, Math.floor(rate / Math.max(2000, 2.5 * topHz)));
    this.buffer = new Float64Array(Math.round((0.064 * rate) / this.skip));
    this.hop = Math.round(0.008 * rate);
    const step = 8;
    const top = Math.min(topHz, 0.45 * (rate / this.skip));
    this.tones = Array.from({length: Math.max(0, Math.floor((top - fromHz) / step))}, (_, i) => fromHz + i * step);
  }

  take(x: number): void {
    const at = this.filled++;
    if (at % this.skip === 0) this.buffer[Math.floor(at / this.skip) % this.buffer.length] = x;
    if (at % this.hop === 0 && at > this.buffer.length * this.skip) this.look();
  }

  private look(): void {
    const power = this.tones.map((hz) => this.toneAt(hz));
    const peaks = this.tones
      .map((hz, i) => ({
        hz,
        power: power[i]!,
        isTop: power[i]! > (power[i - 1] ?? 0) && power[i]! >= (power[i + 1] ?? 0),
      }))
      .filter((p) => p.isTop)
      .sort((a, b) => b.power - a.power)
      .slice(0, this.places.length)
      .sort((a, b) => a.hz - b.hz);
    peaks.forEach(({hz}, i) => {
      const now = this.places[i]!;
      this.places[i] = now === 0 ? hz : now + 0.25 * (hz - now);
    });
  }

  /** Goertzel's sum over the ring, with a Hann window. */
  private toneAt(hz: number): number {
    const n = this.buffer.length;
    const w = (2 * Math.PI * hz * this.skip) / this.rate;
    const c = 2 * Math.cos(w);
    const from = Math.floor(this.filled / this.skip) % n;
    let s1 = 0;
    let s2 = 0;
    for (let i = 0; i < n; i++) {
      const x = this.buffer[(from + i) % n]! * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / n));
      const s = x + c * s1 - s2;
      s2 = s1;
      s1 = s;
    }
    return s1 * s1 + s2 * s2 - c * s1 * s2;
  }
}
