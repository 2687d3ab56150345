/**
 * Flights whose truth is known: sines on the phases of motors that follow throttle with a lag, a resonance, noise, replies
 * that come late and rounded. Not the simulator's generator, and no part of the analysis: what a third person would write.
 */
import type {FlightLog} from '../flight/flight-log';

/** Park and Miller's minimal standard generator (CACM 1988): the same flight on every machine. */
export function uniform(seed: number): () => number {
  let state = (seed * 7919 + 1) % 2147483647;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

export interface KnownFlight {
  readonly seed: number;
  readonly poles: number;
  /** Speed of each motor, relative. */
  readonly speeds: readonly number[];
  /** Amplitude of each motor at its own speed, deg/s; a third of it at 2×, a quarter at 3×. */
  readonly loud: readonly number[];
  readonly rate?: number;
  readonly seconds?: number;
  /** Throttle swing around hover, 0 for none. */
  readonly swing?: number;
  readonly lateMs?: number;
  /** Lag of each motor behind throttle, s. */
  readonly lagS?: readonly number[];
  /** Resonance, Hz, and its Q; none where left out. */
  readonly resonance?: {readonly hz: number; readonly q: number};
  readonly noise?: number;
  /** Changes the finished columns. */
  readonly change?: (columns: KnownColumns) => void;
}

interface KnownColumns {
  readonly rate: number;
  readonly throttle: Float32Array;
  readonly gyro: readonly Float32Array[];
  /** True revolutions per second. */
  readonly trueHz: readonly Float32Array[];
  /** Electrical rpm as replied. */
  readonly erpm: readonly Float32Array[];
}

/** Share of the amplitude at 1×, 2×, 3×, and on roll, pitch, yaw. */
export const orderShare = [1, 1 / 3, 1 / 4];
export const axisShare = [1, 0.8, 0.3];
const hoverHz = 150;

export function knownFlight(f: KnownFlight): FlightLog {
  const columns = fly(f);
  f.change?.(columns);
  return logOf(columns);
}

function fly(f: KnownFlight): KnownColumns {
  const {seed, poles, speeds, loud, rate = 2000, seconds = 24, swing = 0.45, lateMs = 4, lagS = [], noise = 3} = f;
  const random = uniform(seed);
  const n = rate * seconds;
  const throttle = new Float32Array(n);
  const gyro = axisShare.map(() => new Float32Array(n));
  const trueHz = speeds.map(() => new Float32Array(n));
  const phase = speeds.map(() => random() * 6.28);
  const angle = speeds.map(() => random() * 6.28);
  const level = speeds.map(() => 1);
  const ring = axisShare.map(() => ({y1: 0, y2: 0}));
  const pole = f.resonance && ringOf(f.resonance, rate);
  for (let i = 0; i < n; i++) {
    const t = i / rate;
    const wanted = throttleOf(t, swing);
    throttle[i] = Math.max(5, 30 * wanted);
    const sum = axisShare.map(() => (random() + random() + random() - 1.5) * 2 * noise);
    speeds.forEach((relative, m) => {
      level[m]! += (Math.max(0.25, wanted) - level[m]!) / (rate * (lagS[m] ?? 0.06));
      const hz = hoverHz * relative * level[m]! * (1 + 0.03 * Math.sin(2.1 * t + angle[m]!));
      trueHz[m]![i] = hz;
      phase[m]! += (2 * Math.PI * hz) / rate;
      orderShare.forEach((share, k) => {
        if ((k + 1) * hz < rate / 2)
          axisShare.forEach(
            (part, a) => (sum[a]! += loud[m]! * share * part * Math.sin((k + 1) * phase[m]! + angle[m]! * (a + k))),
          );
      });
    });
    axisShare.forEach((part, a) => {
      const stick = 40 * Math.sin(2 * Math.PI * (0.4 + 0.1 * a) * t);
      gyro[a]![i] = sum[a]! + part * stick + (pole ? part * pole(ring[a]!, random() + random() + random() - 1.5) : 0);
    });
  }
  const late = Math.round((lateMs / 1000) * rate);
  const erpm = trueHz.map((hz) =>
    Float32Array.from(hz, (_, i) => Math.round((hz[Math.max(0, i - late)]! * 30 * poles) / 100) * 100),
  );
  return {rate, throttle, gyro, trueHz, erpm};
}

/** Around 1: swings, a cut every 4 s, a punch every 5 s. */
function throttleOf(t: number, swing: number): number {
  if (swing === 0) return 1;
  return 1 + swing * Math.sin(0.9 * t) * 0.8 + (t % 4 > 3.3 ? -0.45 : 0) + (t % 5 < 0.6 ? 0.3 : 0);
}

/** Two poles driven by noise, about 4 deg/s on roll. */
function ringOf({hz, q}: {hz: number; q: number}, rate: number) {
  const r = Math.exp((-Math.PI * hz) / (q * rate));
  const a1 = -2 * r * Math.cos((2 * Math.PI * hz) / rate);
  const gain = 8 * Math.sqrt((1 - r * r) * 0.5);
  return (state: {y1: number; y2: number}, x: number) => {
    const y = gain * 2 * x - a1 * state.y1 - r * r * state.y2;
    [state.y2, state.y1] = [state.y1, y];
    return y;
  };
}

/** Columns as a log that was read. */
export function logOf({rate, throttle, gyro, erpm}: KnownColumns): FlightLog {
  const samples = throttle.length;
  const [roll, pitch, yaw] = gyro as [Float32Array, Float32Array, Float32Array];
  return {
    sampleRateHz: rate,
    samples,
    durationS: samples / rate,
    stretches: [{start: 0, end: samples, atS: 0}],
    gyro: {roll, pitch, yaw},
    filteredGyro: undefined,
    setpoint: undefined,
    throttle,
    speeds: {kind: 'electrical', hz: erpm.map((e) => e.map((v) => v / 60))},
    commands: [],
    replyErrors: [],
    volts: undefined,
    amps: undefined,
    mapping: {
      ...{time: 0, timeUnit: 's', gyro: [1, 2, 3], gyroUnit: 'deg/s', gyroScale: 1, gyroSigns: [1, 1, 1]},
      ...{throttleUnit: '%', speeds: [], speedUnit: 'eRPM', speedScale: 1, commands: [], replyErrors: []},
    },
    names: ['t', 'roll', 'pitch', 'yaw'],
    notes: [],
    questions: [],
    dropped: {badValues: 0, badCells: [], repeatedTimes: 0, gaps: []},
    otherFlights: [],
    drift: 0,
  };
}

/** A flight drawn from a number: four to eight motors up to 15 % apart in speed and 3 times in strength, noise, delay, a resonance. */
export function drawnFlight(seed: number): KnownFlight {
  const random = uniform(500 + seed);
  const between = (a: number, b: number) => a + (b - a) * random();
  const motors = [4, 4, 6, 8][Math.floor(random() * 4)]!;
  const poles = [12, 14, 14, 22, 28][Math.floor(random() * 5)]!;
  return {
    ...{seed: 900 + seed, poles, rate: 1000, seconds: 10, lateMs: between(0, 6), noise: between(1, 4)},
    speeds: Array.from({length: motors}, () => between(0.925, 1.075)),
    loud: Array.from({length: motors}, () => between(3, 9)),
    ...(random() < 0.5 ? {resonance: {hz: between(120, 320), q: between(6, 20)}} : {}),
  };
}
