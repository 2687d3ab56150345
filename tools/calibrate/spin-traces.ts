/**
 * How often the constants of a motor lie within their stated bounds: spin traces of drawn motors of five classes, bare and
 * with a propeller, at many rates of rows, with speeds that come late and replies that are lost. The motors are simulated
 * here, in steps much finer than a row; the bench's own simulator has no part.
 */
import {desyncsOf} from '@core/motion/lost-step';
import {motorCard, type MotorCard} from '@core/motion/motor-card';
import {stuttersOf} from '@core/motion/starting';
import {ownTrace, type SpinTrace} from '@core/motion/trace';
import {uniform} from '@core/testing/known-flight';

interface MotorClass {
  readonly kv: number;
  readonly resistanceOhm: number;
  readonly inertia: number;
  readonly friction: number;
  readonly volts: number;
  /** With its propeller: drag, N·m·s², and what it adds to the inertia, kg·m². */
  readonly drag: number;
  readonly propeller: number;
}

/** Usual figures of motors of that size (common practice, from memory). */
export const motorClasses: Readonly<Record<string, MotorClass>> = {
  '1002, 1S': {
    kv: 14000,
    resistanceOhm: 0.21,
    inertia: 3.4e-8,
    friction: 2.6e-5,
    volts: 4.1,
    drag: 1.3e-11,
    propeller: 5e-8,
  },
  '1404, 4S': {
    kv: 3800,
    resistanceOhm: 0.16,
    inertia: 4.5e-7,
    friction: 2e-4,
    volts: 16.2,
    drag: 9e-10,
    propeller: 1e-6,
  },
  '2207, 6S': {
    kv: 1750,
    resistanceOhm: 0.062,
    inertia: 2.1e-6,
    friction: 6e-4,
    volts: 24.4,
    drag: 1.9e-8,
    propeller: 5.5e-6,
  },
  '2806, 6S': {
    kv: 1300,
    resistanceOhm: 0.058,
    inertia: 5.5e-6,
    friction: 1e-3,
    volts: 24.4,
    drag: 8e-8,
    propeller: 1.6e-5,
  },
  '4014, 6S': {
    kv: 400,
    resistanceOhm: 0.11,
    inertia: 3.2e-5,
    friction: 4e-3,
    volts: 24.4,
    drag: 2.2e-6,
    propeller: 1.4e-4,
  },
};

export const cardConstants = ['kv', 'resistanceOhm', 'inertia'] as const;
interface ConstantCounts {
  told: number;
  within: number;
  /** Errors and half widths as shares of the truth, added up. */
  error: number;
  bound: number;
}
type CardCounts = Record<(typeof cardConstants)[number], ConstantCounts> & {
  traces: number;
  /** Traces on which a lost step was told; no drawn motor loses one. */
  lostSteps: number;
  missed: string[];
};

export function calibrateCards(name: string, traces: number, seed: number): CardCounts {
  const zero = (): ConstantCounts => ({told: 0, within: 0, error: 0, bound: 0});
  const counts: CardCounts = {traces, lostSteps: 0, missed: [], kv: zero(), resistanceOhm: zero(), inertia: zero()};
  for (let i = 0; i < traces; i++) {
    const {trace, truth, text} = drawnTrace(motorClasses[name]!, seed + i);
    const own = ownTrace(trace, 0);
    const card: MotorCard = motorCard(own);
    if (desyncsOf(own, stuttersOf(own)).length) counts.lostSteps++;
    for (const constant of cardConstants) {
      const answer = card[constant];
      if (answer.value === undefined) continue;
      const [own, of] = [counts[constant], truth[constant]];
      own.told++;
      own.error += Math.abs(answer.value / of - 1);
      own.bound += (answer.high - answer.low) / 2 / of;
      if (answer.low <= of && of <= answer.high) own.within++;
      else
        counts.missed.push(
          `${seed + i} ${constant} ${((answer.value / of - 1) * 100).toFixed(1)} % ± ${(((answer.high - answer.low) / 2 / of) * 100).toFixed(1)}: ${text}, told delay ${((card.delayS ?? NaN) * 1000).toFixed(1)} ms`,
        );
    }
  }
  return counts;
}

/** Throttle over time: until, from, to. */
const script = [
  [0.1, 0, 0],
  [1.1, 0.01, 0.055],
  [1.5, 0.06, 0.06],
  [1.8, 0.1, 0.1],
  [2.2, 0.3, 0.3],
  [2.7, 0, 0],
  [3, 0.09, 0.09],
  [3.8, 0.09, 0.4],
  [4.2, 0, 0],
] as const;

function throttleAt(t: number): number {
  let begun = 0;
  for (const [until, from, to] of script) {
    if (t < until) return from + ((to - from) * (t - begun)) / (until - begun);
    begun = until;
  }
  return 0;
}

const dt = 2e-5;
const scriptS = script.at(-1)![0];
/** Below this an ESC does not drive. */
const minDuty = 0.02;
const usualRates = [200, 400, 1000, 2000, 4000];

interface DrawnMotor {
  readonly kv: number;
  readonly resistanceOhm: number;
  readonly inertia: number;
  readonly friction: number;
  readonly drag: number;
  /** Duty that dead time takes; share of its back-EMF that a bridge brakes with. */
  readonly lost: number;
  readonly brake: number;
  readonly packOhm: number;
  readonly volts: number;
}

function drawnTrace(of: MotorClass, seed: number) {
  const random = uniform(4_000 + seed);
  const between = (a: number, b: number) => a + (b - a) * random();
  const rate = usualRates[Math.floor(random() * usualRates.length)]!;
  const delayS = random() < 0.3 ? 0 : between(0, 0.01);
  const loss = random() < 0.4 ? 0 : between(0, 0.2);
  const hasPropeller = random() < 0.5;
  const resistanceOhm = of.resistanceOhm * between(0.85, 1.2);
  const motor: DrawnMotor = {
    kv: of.kv * between(0.95, 1.05),
    resistanceOhm,
    inertia: (of.inertia + (hasPropeller ? of.propeller : 0)) * between(0.9, 1.1),
    friction: of.friction * between(0.7, 1.3),
    drag: hasPropeller ? of.drag * between(0.9, 1.1) : of.drag * 0.01,
    lost: between(0.002, 0.03),
    brake: random() < 0.7 ? 0.6 : 0,
    packOhm: between(0.2, 0.6) * resistanceOhm,
    volts: of.volts,
  };
  const trace = rowsOf(run(motor), {random, rate, delayS, loss, volts: of.volts});
  const text = `${rate} Hz, ${hasPropeller ? 'propeller' : 'bare'}, ${(delayS * 1000).toFixed(1)} ms, ${(loss * 100).toFixed(0)} % lost, lost duty ${(motor.lost * 100).toFixed(1)} %`;
  return {trace, truth: motor, text};
}

type Course = Record<'speed' | 'current' | 'volts' | 'duty', Float64Array>;

/** The whole script in fine steps: rad/s, A, V and share. */
function run(m: DrawnMotor): Course {
  const kt = 60 / (2 * Math.PI * m.kv);
  const n = Math.round(scriptS / dt);
  const [speed, current, volts, duty] = [0, 1, 2, 3].map(() => new Float64Array(n)) as Float64Array[];
  const limit = (0.3 * m.volts) / m.resistanceOhm;
  let [w, v] = [0, m.volts];
  for (let k = 0; k < n; k++) {
    const d = throttleAt(Math.floor(k / 50) * 50 * dt);
    const braking = (-m.brake * kt * w) / m.resistanceOhm;
    const driven = (v * Math.max(0, d - m.lost) - kt * w) / m.resistanceOhm;
    const i = Math.max(-limit, Math.min(limit, d < minDuty ? braking : Math.max(driven, braking)));
    w = Math.max(0, w + (dt * (kt * i - (w > 0 ? m.friction : 0) - m.drag * w * w)) / m.inertia);
    v = m.volts - m.packOhm * Math.max(0, i) * d;
    [speed![k], current![k], volts![k], duty![k]] = [w, i, v, d];
  }
  return {speed: speed!, current: current!, volts: volts!, duty: duty!};
}

interface Telling {
  readonly random: () => number;
  readonly rate: number;
  readonly delayS: number;
  readonly loss: number;
  readonly volts: number;
}

/** What is told of a course: rows with speeds that come late, scatter and get lost, and senses with noise. */
function rowsOf({speed, current, volts, duty}: Course, {random, rate, delayS, loss, volts: pack}: Telling): SpinTrace {
  const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-300)) * Math.cos(2 * Math.PI * random());
  const [per, late] = [Math.round(1 / rate / dt), Math.round(delayS / dt)];
  const most = current.reduce((high, i) => Math.max(high, i), 0);
  const row = (value: (k: number) => number) =>
    Float64Array.from({length: Math.floor(speed.length / per)}, (_, j) => value(j * per));
  const rpm = row((k) =>
    random() < loss ? NaN : speed[Math.max(0, k - late)]! * (30 / Math.PI) * (1 + 0.003 * normal()),
  );
  const amps = row((k) => current[k]! * (1 + 0.01 * normal()) + 0.004 * most * normal());
  return {
    timeS: row((k) => k * dt),
    volts: row((k) => volts[k]! + 0.001 * pack * normal()),
    motors: [{throttle: row((k) => duty[k]!), rpm, amps}],
    notes: [],
  };
}
