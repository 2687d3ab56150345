/** The rate loop of one axis: the craft turns as fast as the pilot asks, late and rounded off. */

interface Loop {
  /** Frequency at which an integrator of this gain passes 1, Hz. */
  readonly gainHz: number;
  /** Age of the gyro when motors act on it, s. */
  readonly delayS: number;
  /** First-order lag of motors and propellers, Hz. */
  readonly lagHz: number;
}

export class RateLoop {
  /** deg/s. */
  rate = 0;
  private torque = 0;
  private readonly late: number[] = [];
  private readonly age: number;

  constructor(
    private readonly loop: Loop,
    private readonly sampleHz: number,
  ) {
    this.age = Math.max(1, Math.round(loop.delayS * sampleHz));
  }

  /** @param wanted deg/s. @param filtered what the controller's filters make of the gyro, deg/s. */
  step(wanted: number, filtered: number): void {
    this.late.push(wanted - filtered);
    const error = this.late.length > this.age ? this.late.shift()! : 0;
    const {gainHz, lagHz} = this.loop;
    this.torque += (error - this.torque) * (1 - Math.exp((-2 * Math.PI * lagHz) / this.sampleHz));
    this.rate += (2 * Math.PI * gainHz * this.torque) / this.sampleHz;
  }
}
