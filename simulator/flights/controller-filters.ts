/**
 * The filters that the simulated flight controller runs on its gyro, one axis: notches on the speeds it believes, notches
 * that look for peaks, a Butterworth low-pass. Written for the simulator alone, in another form than Bidex's own (transposed
 * direct form 2, peaks by a bank of Goertzel's sums), so that what Bidex computes is held against something else.
 */

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

export interface FilterConfig {
  readonly notchHarmonics?: readonly number[] | undefined;
  readonly notchQ?: number | undefined;
  readonly notchMinHz?: number | undefined;
  readonly movingNotches?: number | undefined;
  readonly gyroLowPassHz: number;
}

const movingQ = 3;
const movingTopHz = 600;
/** Samples between updates of the notches. */
const updateEvery = 8;

export class AxisFilters {
  private readonly following: {readonly motor: number; readonly order: number; readonly cell: Cell}[];
  private readonly moving: Cell[];
  private readonly low = new Cell();
  private readonly seeker: PeakSeeker | undefined;
  private sample = 0;

  constructor(
    private readonly config: FilterConfig,
    motors: number,
    private readonly rate: number,
  ) {
    const orders = config.notchHarmonics ?? [];
    this.following = Array.from({length: motors}, (_, motor) =>
      orders.map((order) => ({motor, order, cell: new Cell()})),
    ).flat();
    this.moving = Array.from({length: config.movingNotches ?? 0}, () => new Cell());
    if (this.moving.length) this.seeker = new PeakSeeker(this.moving.length, config.notchMinHz ?? 80, rate);
    if (config.gyroLowPassHz < rate / 2) this.low.butterworth(config.gyroLowPassHz, rate);
  }

  /** @param speedsHz revolutions per second that the controller believes, one per motor; 0 for unknown. */
  run(x: number, speedsHz: readonly number[]): number {
    if (this.sample++ % updateEvery === 0) this.place(speedsHz);
    let y = x;
    for (const {cell} of this.following) y = cell.run(y);
    this.seeker?.take(y);
    for (const cell of this.moving) y = cell.run(y);
    return this.low.run(y);
  }

  private place(speedsHz: readonly number[]): void {
    const {notchQ = 5, notchMinHz = 100} = this.config;
    for (const {motor, order, cell} of this.following) {
      const hz = Math.max(notchMinHz, speedsHz[motor]! * order);
      if (speedsHz[motor]! > 0 && hz < 0.475 * this.rate) cell.notch(hz, notchQ, this.rate);
      else cell.open();
    }
    this.moving.forEach((cell, i) => {
      const hz = this.seeker!.places[i]!;
      if (hz > 0 && hz < 0.475 * this.rate) cell.notch(hz, movingQ, this.rate);
      else cell.open();
    });
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
    fromHz: number,
    private readonly rate: number,
  ) {
    this.places = Array.from({length: count}, () => 0);
    // It works on every nth sample: enough for tones up to 600 Hz.
    this.skip = Math.max(1, Math.floor(rate / 2000));
    this.buffer = new Float64Array(Math.round((0.064 * rate) / this.skip));
    this.hop = Math.round(0.008 * rate);
    const step = 8;
    const top = Math.min(movingTopHz, 0.45 * (rate / this.skip));
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
