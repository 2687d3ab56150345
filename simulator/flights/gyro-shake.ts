/** What the gyro of a flying craft measures, sample by sample: its turning, motors, resonances, its own noise. */
import type {Random} from '../random';
import type {Airframe} from './airframe';

/** Air and the craft's own dynamics: noise below this frequency, Hz, and its size, deg/s. */
const airHz = 6;
const airDegS = 7;
/** deg/s for each percent by which a motor's thrust falls behind the others. */
const thrustDegS = 0.6;

export class GyroShake {
  private readonly phases: number[];
  private readonly turn: readonly (readonly number[])[];
  private readonly rings: {readonly axis: number; readonly ring: Ring}[];
  private readonly air = [0, 0, 0];
  private readonly tilt = [0, 0, 0];

  constructor(
    private readonly airframe: Airframe,
    private readonly rate: number,
    private readonly random: Random,
  ) {
    this.phases = airframe.shakers.map(() => 2 * Math.PI * random.next());
    // Each motor's shake reaches each axis at its own angle.
    this.turn = airframe.shakers.map(() => [0, 1, 2].map(() => 2 * Math.PI * random.next()));
    this.rings = airframe.resonances.flatMap(({hz, q, degS}) =>
      degS.map((size, axis) => ({axis, ring: new Ring({hz, q, rate, size})})),
    );
  }

  /** deg/s of roll, pitch, yaw. @param turning as the craft turns, deg/s. */
  next(motorsHz: readonly number[], turning: readonly number[]): number[] {
    const out = turning.map((rate, axis) => rate + this.moveAir(axis));
    this.addMotors(out, motorsHz);
    this.addTilt(out, motorsHz);
    for (const {axis, ring} of this.rings) out[axis]! += ring.next(this.random.normal());
    return out.map((x) => x + this.airframe.gyroNoise * this.random.normal());
  }

  private moveAir(axis: number): number {
    const share = (2 * Math.PI * airHz) / this.rate;
    this.air[axis]! += share * (this.random.normal() * (airDegS / Math.sqrt(share / 2)) - this.air[axis]!);
    return this.air[axis]!;
  }

  private addMotors(out: number[], motorsHz: readonly number[]): void {
    const {shake, shakers, axisShare} = this.airframe;
    motorsHz.forEach((hz, m) => {
      this.phases[m]! += (2 * Math.PI * hz) / this.rate;
      const phase = this.phases[m]!;
      const {unbalance, harmonics} = shakers[m]!;
      const size = shake.degS * unbalance * (hz / shake.atHz) ** 2;
      for (let axis = 0; axis < 3; axis++) {
        const angle = this.turn[m]![axis]!;
        let sum = Math.sin(phase + angle);
        for (let h = 0; h < harmonics.length; h++) sum += harmonics[h]! * Math.sin((h + 2) * phase + 1.7 * angle + h);
        out[axis]! += size * axisShare[axis]! * sum;
      }
    });
  }

  /** A motor that falls behind the others lets its arm down. */
  private addTilt(out: number[], motorsHz: readonly number[]): void {
    const mean = motorsHz.reduce((sum, hz) => sum + hz * hz, 0) / motorsHz.length || 1;
    const side = [0, 0];
    motorsHz.forEach((hz, m) => {
      const missing = 1 - (hz * hz) / mean;
      const angle = (2 * Math.PI * (m + 0.5)) / motorsHz.length;
      side[0]! += missing * Math.cos(angle);
      side[1]! += missing * Math.sin(angle);
    });
    for (let axis = 0; axis < 2; axis++) {
      this.tilt[axis]! += (side[axis]! * 100 * thrustDegS - this.tilt[axis]!) * Math.min(1, 25 / this.rate);
      out[axis]! += this.tilt[axis]!;
    }
  }
}

/** Two poles at a frequency, driven by noise; `size` is what comes out, root mean square. */
class Ring {
  private y1 = 0;
  private y2 = 0;
  private readonly a1: number;
  private readonly a2: number;
  private readonly gain: number;

  constructor({hz, q, rate, size}: {hz: number; q: number; rate: number; size: number}) {
    const r = Math.exp((-Math.PI * hz) / (q * rate));
    const w = (2 * Math.PI * hz) / rate;
    this.a1 = -2 * r * Math.cos(w);
    this.a2 = r * r;
    // Variance of such a process driven by unit noise (any text on autoregressive processes of second order).
    const {a1, a2} = this;
    const variance = (1 + a2) / ((1 - a2) * ((1 + a2) ** 2 - a1 * a1));
    this.gain = size / Math.sqrt(variance);
  }

  next(noise: number): number {
    const y = this.gain * noise - this.a1 * this.y1 - this.a2 * this.y2;
    this.y2 = this.y1;
    this.y1 = y;
    return y;
  }
}
