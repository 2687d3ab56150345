/**
 * Flights of drawn craft, made for calibration alone: motors of their own speed and strength whose pull grows with the
 * square of speed, a hand on the throttle, gusts, strength that wanders, replies that come late and rounded.
 */
import type {FlightLog} from '@core/flight/flight-log';
import {logOf, uniform} from '@core/testing/known-flight';

export interface FlightTruth {
  readonly rate: number;
  /** Deviation of what the amplitudes of all motors wander by, as a share, and over how long, s. */
  readonly wander: number;
  readonly wanderS: number;
  /** Gusts: deviation of the craft's slow turning, deg/s. */
  readonly gusts: number;
  /** Deviation of throttle around its mean, as a share of speed, and that mean. */
  readonly throttle: number;
  readonly lift: number;
  /** Throttle is cut to this share now and then, for two seconds of seven; 1 for never. */
  readonly cut: number;
}

export interface Craft {
  readonly poles: number;
  readonly hoverHz: number;
  /** Speed of each motor over the mean, and its amplitude at hover, deg/s. */
  readonly speeds: readonly number[];
  readonly loud: readonly number[];
  /** Noise floor, deg/s in 1000 Hz. */
  readonly floor: number;
  readonly seconds: number;
}

export function drawnCraft(seed: number, over: Partial<Craft> = {}): Craft {
  const random = uniform(31 * seed + 5);
  const between = (a: number, b: number) => a + (b - a) * random();
  const motors = random() < 0.6 ? 4 : 6;
  return {
    ...{poles: 14, hoverHz: between(130, 220), floor: between(0.5, 3), seconds: between(20, 45)},
    speeds: Array.from({length: motors}, () => between(0.95, 1.05)),
    loud: Array.from({length: motors}, () => between(2, 10)),
    ...over,
  };
}

/** Of a motor's pull, axis by axis and order by order. */
export const share = {axes: [1, 0.7, 0.4], orders: [1, 0.5, 0.3]};
/** A motor follows throttle with this lag, s; its speed trembles by so much, as a share. */
const lagS = 0.05;
const tremble = 0.01;

export function fly(craft: Craft, seed: number, over: Partial<FlightTruth> = {}): FlightLog {
  const f: FlightTruth = {rate: 2000, wander: 0, wanderS: 2, gusts: 12, throttle: 0.07, lift: 1, cut: 1, ...over};
  const normal = normals(seed);
  const n = Math.round(craft.seconds * f.rate);
  const [hand, loudness] = [wanderer(normal, 0.6 * f.rate), wanderer(normal, f.wanderS * f.rate)];
  const turns = share.axes.map(() => wanderer(normal, 0.15 * f.rate));
  const motors = craft.speeds.map((speed, m) => turningMotor({speed, loud: craft.loud[m]!}, normal, f.rate));
  const gyro = share.axes.map(() => new Float32Array(n));
  const trueHz = motors.map(() => new Float32Array(n));
  const throttle = new Float32Array(n);
  const floor = craft.floor * Math.sqrt(f.rate / 2 / 1000);
  for (let i = 0; i < n; i++) {
    const isCut = (i / f.rate) % 7 > 5;
    const wanted = f.lift * (isCut ? f.cut : 1) * (1 + f.throttle * hand());
    throttle[i] = 30 * wanted;
    const wanders = Math.max(0, 1 + f.wander * loudness());
    const sums = turns.map((turn) => f.gusts * turn() + floor * normal());
    motors.forEach((motor, m) => (trueHz[m]![i] = motor(sums, {wanted, wanders, hoverHz: craft.hoverHz})));
    sums.forEach((v, a) => (gyro[a]![i] = v));
  }
  // Replies come rounded to 100 electrical rpm, 3 ms late.
  const late = Math.round(0.003 * f.rate);
  const erpm = trueHz.map((hz) =>
    Float32Array.from(hz, (_, i) => Math.round((hz[Math.max(0, i - late)]! * 30 * craft.poles) / 100) * 100),
  );
  return logOf({rate: f.rate, throttle, gyro, trueHz, erpm});
}

/** A wandering value of deviation 1 that is forgotten over so many steps. */
function wanderer(normal: () => number, steps: number): () => number {
  const keep = Math.exp(-1 / steps);
  let state = normal();
  return () => (state = keep * state + Math.sqrt(1 - keep * keep) * normal());
}

interface Moment {
  readonly wanted: number;
  readonly wanders: number;
  readonly hoverHz: number;
}

/** A motor that turns on by one sample, adds its pull to the axes, and tells its speed, revolutions per second. */
function turningMotor(
  {speed, loud}: {readonly speed: number; readonly loud: number},
  normal: () => number,
  rate: number,
): (sums: number[], at: Moment) => number {
  const trembles = wanderer(normal, 0.3 * rate);
  const angles = share.axes.map(() => 6.28 * normal());
  let [level, phase] = [1, 6.28 * Math.abs(normal())];
  return (sums, {wanted, wanders, hoverHz}) => {
    level += (wanted - level) / (lagS * rate);
    const hz = hoverHz * speed * level * (1 + tremble * trembles());
    phase += (2 * Math.PI * hz) / rate;
    const pull = loud * wanders * level ** 2;
    share.orders.forEach((part, o) => {
      if ((o + 1) * hz < 0.5 * rate)
        for (let a = 0; a < 3; a++) sums[a]! += pull * part * share.axes[a]! * Math.sin((o + 1) * phase + angles[a]!);
    });
    return hz;
  };
}

/** Normal deviates of Box and Muller (1958). */
function normals(seed: number): () => number {
  const random = uniform(1_000 + seed);
  return () => Math.sqrt(-2 * Math.log(random() + 1e-300)) * Math.cos(2 * Math.PI * random());
}
