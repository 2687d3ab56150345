/**
 * Makes a flight log of Juniper from the same physics as the bench: motors with propellers follow a throttle profile,
 * each motor's unbalance and its harmonics shake the gyro, a frame resonance rings, the pilot moves the sticks.
 */
import {decodePeriod, encodePeriod, erpmOfPeriod, periodOfErpm} from '@core/dshot/reply';
import {rpmOf, stepMotor, type BridgeSettings, type MotorConstants, type MotorState} from '@core/motor/motor';
import {applyNotches, type NotchBank} from '@core/noise/notch-bank';
import {axes} from '@core/noise/flight-log';
import {lowPass} from '@core/noise/biquad';
import {juniperMotor, juniperPropeller} from '../benches/juniper';
import {Random} from '../random';

export interface FlightOptions {
  readonly seed: number;
  readonly seconds: number;
  readonly sampleRateHz: number;
  /** Notches the controller runs before it logs; undefined logs the gyro unfiltered. */
  readonly notches: NotchBank | undefined;
  readonly note: string;
}

/** The bench's own motor with its propeller on. */
const withPropeller: MotorConstants = {
  ...juniperMotor,
  inertia: juniperMotor.inertia + juniperPropeller.inertia,
  drag: juniperPropeller.drag,
  cogging: 0.003,
};
const bridge: BridgeSettings = {pwmHz: 48_000, deadTimeS: 45e-9, brakeShare: 0.6, limitAmps: 60};
const packVolts = 23.6;
/** Each motor's unbalance, relative; motor 2 has a nicked blade. */
const unbalance = [1, 1.5, 0.9, 1.1];
/** Share of the 1× shake that appears at the second and third harmonic; three blades pass at 3×. */
const harmonicShare = [1, 0.34, 0.28];
/** deg/s of gyro at 30,000 rpm and unit unbalance. */
const shakeAtFull = 42;
const frameHz = 212;
const axisShare = {roll: 1, pitch: 0.8, yaw: 0.35};

export function makeFlightCsv(o: FlightOptions): string {
  const {sampleRateHz: rate} = o;
  const {speeds, throttle} = flyMotors(o);
  const gyro = axes.map((axis, a) => {
    const raw = shake(speeds, axisShare[axis], {rate, random: new Random(o.seed + 17 * a)});
    return o.notches ? applyNotches(raw, speeds, o.notches, rate) : raw;
  });
  const rows = [
    `# Bidex demo flight log, computed by tools/make-demo.ts from the simulator's physics, seed ${o.seed}`,
    `# ${o.note}`,
    ['time_us', 'throttle_pct', ...axes.map((a) => `gyro_${a}`), ...unbalance.map((_, m) => `erpm_${m + 1}`)].join(','),
  ];
  for (let i = 0; i < throttle.length; i++)
    rows.push(
      [
        Math.round((i * 1e6) / rate),
        (throttle[i]! * 100).toFixed(1),
        ...gyro.map((g) => g[i]!.toFixed(1)),
        ...speeds.map((hz) => repliedErpm(hz[i]!)),
      ].join(','),
    );
  return rows.join('\n') + '\n';
}

/** eRPM as a reply carries a speed in revolutions per second. */
const repliedErpm = (hz: number): number =>
  Math.round(erpmOfPeriod(decodePeriod(encodePeriod(periodOfErpm((hz * 60 * withPropeller.poles) / 2)))));

/** Speeds of the motors, revolutions per second, and the throttle, 0…1, sample by sample. */
function flyMotors({seconds, sampleRateHz: rate}: FlightOptions): {speeds: Float64Array[]; throttle: Float64Array} {
  const samples = Math.round(seconds * rate);
  const speeds = unbalance.map(() => new Float64Array(samples));
  const throttle = new Float64Array(samples);
  let states: MotorState[] = unbalance.map(() => ({omega: 600, amps: 0}));
  let wanted = 0.3;
  for (let i = 0; i < samples; i++) {
    const t = i / rate;
    wanted += (profile(t, seconds) - wanted) * Math.min(1, 14 / rate);
    throttle[i] = wanted;
    states = states.map((state, m) => {
      const mix = wanted + 0.025 * Math.sin(2 * Math.PI * (0.7 + 0.13 * m) * t + m * 1.7);
      const duty = Math.min(1, Math.max(0.05, mix));
      const next = stepMotor(state, {volts: packVolts, duty}, {motor: withPropeller, bridge}, 1 / rate);
      speeds[m]![i] = rpmOf(next.omega) / 60;
      return next;
    });
  }
  return {speeds, throttle};
}

/** Throttle over the flight, 0…1: hover, sweeps to full and back, punches and cuts. */
function profile(t: number, seconds: number): number {
  const phase = t / seconds;
  if (phase < 0.12) return 0.27;
  if (phase < 0.55) return 0.1 + 0.9 * (0.5 - 0.5 * Math.cos(2 * Math.PI * ((phase - 0.12) / 0.43) * 2));
  if (phase < 0.8) return [0.25, 0.8, 0.12, 0.5, 0.95, 0.35][Math.floor(t / 0.8) % 6]!;
  return 0.35 + 0.15 * Math.sin(2 * Math.PI * 0.4 * t);
}

function shake(
  speeds: readonly Float64Array[],
  share: number,
  {rate, random}: {readonly rate: number; readonly random: Random},
): Float64Array {
  const out = new Float64Array(speeds[0]!.length);
  const phases = speeds.map(() => random.next() * 2 * Math.PI);
  const ring = resonator(frameHz, 14, rate);
  const stick = lowPass(3, Math.SQRT1_2, rate);
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  for (let i = 0; i < out.length; i++) {
    let vibration = 0;
    speeds.forEach((hz, m) => {
      phases[m]! += (2 * Math.PI * hz[i]!) / rate;
      const strength = unbalance[m]! * shakeAtFull * ((hz[i]! * 60) / 30_000) ** 2;
      harmonicShare.forEach((part, h) => {
        if (hz[i]! * (h + 1) < rate / 2) vibration += strength * part * Math.sin((h + 1) * phases[m]! + h * 1.3);
      });
    });
    const x = random.normal() * 900;
    const y = stick.b0 * x + stick.b1 * x1 + stick.b2 * x2 - stick.a1 * y1 - stick.a2 * y2;
    [x2, x1, y2, y1] = [x1, x, y1, y];
    out[i] = share * (y + vibration + ring(random.normal() * 6 + vibration * 0.02)) + random.normal() * 1.6;
  }
  return out;
}

/** A two-pole resonance with unit gain far below it. */
function resonator(hz: number, q: number, rate: number): (x: number) => number {
  const r = Math.exp((-Math.PI * hz) / (q * rate));
  const a1 = -2 * r * Math.cos((2 * Math.PI * hz) / rate);
  const gain = (1 + a1 + r * r) * 1.6;
  let [y1, y2] = [0, 0];
  return (x) => {
    const y = gain * x - a1 * y1 - r * r * y2;
    [y2, y1] = [y1, y];
    return y;
  };
}
