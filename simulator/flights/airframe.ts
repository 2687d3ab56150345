/** What shakes the gyros of the simulated craft: propellers, unbalance, resonances, and how loud the gyro itself is. */

interface Shaker {
  /** Unbalance, relative to a good motor's. */
  readonly unbalance: number;
  /** Share of the 1× shake at twice, three times and four times the speed; blades pass at one of them. */
  readonly harmonics: readonly number[];
}

export interface Airframe {
  /** kg·m² and N·m·s² of one propeller. */
  readonly propeller: {readonly inertia: number; readonly drag: number};
  /** One per output. */
  readonly shakers: readonly Shaker[];
  /** deg/s of gyro at full speed and unit unbalance, and that speed, revolutions per second. */
  readonly shake: {readonly degS: number; readonly atHz: number};
  /** How much of a motor's shake reaches roll, pitch, yaw. */
  readonly axisShare: readonly [number, number, number];
  readonly resonances: readonly {
    readonly hz: number;
    readonly q: number;
    readonly degS: readonly [number, number, number];
  }[];
  /** Noise of a sample of the gyro, deg/s. */
  readonly gyroNoise: number;
  /** Its rate loop: gain where it alone would cross 1, Hz, what it does later, s, and the lag of motors, Hz. */
  readonly loop: {readonly gainHz: number; readonly delayS: number; readonly lagHz: number};
  /** Throttle at which it hovers, 0…1. */
  readonly hover: number;
  /** Pack under way: volts without load and resistance, Ω; electronics take some amps. */
  readonly pack: {readonly volts: number; readonly ohm: number; readonly restAmps: number};
}

const good = (unbalance: number, harmonics: readonly number[] = [0.32, 0.26, 0.06]): Shaker => ({unbalance, harmonics});

const juniper: Airframe = {
  propeller: {inertia: 4.2e-6, drag: 2.4e-8},
  shakers: [good(1), good(1.35), good(0.9), good(1.1)],
  shake: {degS: 42, atHz: 500},
  axisShare: [1, 0.8, 0.35],
  resonances: [{hz: 212, q: 14, degS: [2.4, 1.7, 0.3]}],
  gyroNoise: 1.6,
  loop: {gainHz: 38, delayS: 0.0016, lagHz: 130},
  hover: 0.27,
  pack: {volts: 24.2, ohm: 0.02, restAmps: 0.5},
};

/** By the craft that they belong to. */
export const airframes: Readonly<Record<string, Airframe>> = {
  juniper,
  sorrel: {
    propeller: {inertia: 2.2e-8, drag: 6e-10},
    shakers: [
      good(1, [0.4, 0.2, 0.3]),
      good(1.15, [0.4, 0.2, 0.3]),
      good(0.85, [0.4, 0.2, 0.3]),
      good(1.05, [0.4, 0.2, 0.3]),
    ],
    shake: {degS: 30, atHz: 480},
    axisShare: [1, 0.9, 0.3],
    resonances: [{hz: 330, q: 9, degS: [1.2, 1, 0.2]}],
    gyroNoise: 2.4,
    loop: {gainHz: 48, delayS: 0.0014, lagHz: 180},
    hover: 0.45,
    pack: {volts: 4.1, ohm: 0.06, restAmps: 0.3},
  },
  alder: {
    propeller: {inertia: 1.7e-5, drag: 1e-7},
    // The bell of arm 5 is bent: it shakes at its own speed, hardly at the multiples.
    shakers: [good(1), good(0.9), good(1.1), good(0.95), good(3.4, [0.12, 0.08, 0.02]), good(1.05)],
    shake: {degS: 30, atHz: 300},
    axisShare: [0.9, 1, 0.3],
    resonances: [{hz: 118, q: 11, degS: [1.4, 1.8, 0.3]}],
    gyroNoise: 1.3,
    loop: {gainHz: 22, delayS: 0.0022, lagHz: 80},
    hover: 0.3,
    pack: {volts: 24.4, ohm: 0.014, restAmps: 0.8},
  },
  bramble: {
    ...juniper,
    shakers: [good(0.9), good(1), good(1.05), good(0.95)],
    shake: {degS: 26, atHz: 500},
    resonances: [],
  },
};
