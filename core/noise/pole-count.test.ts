/**
 * The pole count is looked for in flights that no other code of ours made: sines at known speeds, with unequal motors,
 * noise, a fixed resonance, and speeds that come late and rounded.
 */
import {describe, expect, it} from 'vitest';
import {findPoleCount} from './pole-count';

/** Park and Miller's minimal standard generator (CACM 1988): the same flight on every machine. */
function uniform(seed: number): () => number {
  let state = (seed * 7919 + 1) % 2147483647;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

interface Flight {
  readonly seed: number;
  readonly poles: number;
  /** Speed and loudness of each motor, relative. */
  readonly speeds: readonly number[];
  readonly loud: readonly number[];
  /** Throttle swing around hover, 0 for none. */
  readonly swing?: number;
  readonly lateMs?: number;
}

const rate = 2000;
const seconds = 24;

/** Hover near 150 Hz with swings and steps; 1×, 2×, 3× lines that grow with the square of speed. */
function flight({seed, poles, speeds, loud, swing = 0.45, lateMs = 4}: Flight) {
  const random = uniform(seed);
  const n = rate * seconds;
  const gyro = new Float64Array(n);
  const hz = speeds.map(() => new Float64Array(n));
  const phase = speeds.map(() => random() * 6.28);
  const wander = speeds.map(() => random() * 6.28);
  let level = 1;
  for (let i = 0; i < n; i++) {
    const t = i / rate;
    const step = Math.floor(t / 1.3) % 4 === 3 ? 0.25 : 0;
    level += (1 + swing * (Math.sin(0.9 * t) + step) - level) * 0.004;
    let sum = (random() + random() + random() - 1.5) * 6;
    speeds.forEach((relative, m) => {
      const f = 150 * relative * level * (1 + 0.03 * Math.sin(2.1 * t + wander[m]!));
      hz[m]![i] = f;
      phase[m]! += (2 * Math.PI * f) / rate;
      const strength = 2.5 * loud[m]! * (f / 150) ** 2;
      sum += strength * (Math.sin(phase[m]!) + 0.4 * Math.sin(2 * phase[m]! + 1) + 0.3 * Math.sin(3 * phase[m]! + 2));
    });
    gyro[i] = sum + 5 * Math.sin(2 * Math.PI * 212 * t);
  }
  const late = Math.round((lateMs / 1000) * rate);
  const erpm = hz.map((f) =>
    Float64Array.from(f, (_, i) => Math.round((f[Math.max(0, i - late)]! * 60 * poles) / 2 / 10) * 10),
  );
  return {gyro, erpm, sampleRateHz: rate};
}

const poleCounts = [12, 14, 22, 28];

describe('the pole count', () => {
  it('is found whatever is planned, with motors alike', () => {
    for (const poles of poleCounts)
      for (const plannedPoles of [12, 14]) {
        const found = findPoleCount({
          ...flight({seed: poles, poles, speeds: [1, 1.01, 0.99, 1], loud: [1, 1, 1, 1]}),
          plannedPoles,
        });
        expect(found, `${poles} poles, planned ${plannedPoles}`).toMatchObject({kind: 'found', poles});
        // The sentence on the screen gives this ratio: planned over true count.
        if (found.kind === 'found') expect(found.ratio).toBeCloseTo(plannedPoles / poles, 1.7);
      }
  });

  it('is right in 20 of 20 flights whose rear motors turn 8 % faster and shake 1.5 times as much', () => {
    const wrong = Array.from({length: 20}, (_, seed) => {
      const log = flight({seed: 100 + seed, poles: 14, speeds: [1, 1, 1.08, 1.08], loud: [1, 1, 1.5, 1.5]});
      const found = findPoleCount({...log, plannedPoles: 14});
      return found.kind === 'found' && found.poles === 14 ? [] : [`seed ${100 + seed}: ${JSON.stringify(found)}`];
    }).flat();
    expect(wrong).toEqual([]);
  });

  it('is right when one motor is ten times louder than the others, and with six motors', () => {
    const one = flight({seed: 3, poles: 14, speeds: [1, 0.97, 1.05, 1], loud: [0.3, 3, 0.3, 0.3]});
    expect(findPoleCount({...one, plannedPoles: 12})).toMatchObject({kind: 'found', poles: 14});
    const six = flight({
      seed: 4,
      poles: 12,
      speeds: [1, 0.98, 1.03, 1.01, 1.06, 1.02],
      loud: [1, 1.4, 0.8, 1, 1.2, 0.9],
    });
    expect(findPoleCount({...six, plannedPoles: 14})).toMatchObject({kind: 'found', poles: 12});
  });

  it('is refused without variation of speed, and without speeds', () => {
    const hover = flight({seed: 5, poles: 14, speeds: [1, 1.02, 1, 0.99], loud: [1, 1, 1, 1], swing: 0});
    expect(findPoleCount({...hover, plannedPoles: 14})).toMatchObject({
      kind: 'unclear',
      why: expect.stringContaining('vary by a factor of 1.0'),
    });
    expect(findPoleCount({...hover, erpm: [], plannedPoles: 14})).toEqual({
      kind: 'unclear',
      why: 'The log has no motor speeds.',
    });
  });

  it('is refused where no motor is to be heard', () => {
    const still = flight({seed: 6, poles: 14, speeds: [1, 1, 1, 1], loud: [0, 0, 0, 0]});
    expect(findPoleCount({...still, plannedPoles: 14}).kind).toBe('unclear');
  });
});
