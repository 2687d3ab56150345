/** The simulated controller runs its filters in code of its own: it does what Bidex says that the same fields do. */
import {describe, expect, it} from 'vitest';
import {AxisFilters} from '@simulator/flights/controller-filters';
import {lowPassesAt, motorSections, sectionsPerAxis} from '../filters/chain';
import {cascade} from '../filters/response';
import {budgetOf} from './budget-of';
import {chainOf, type FilterFields} from './chain-of';
import {asRunning, planOver, type ControllerConfig, type ControllerPlan} from './plan';

const rate = 8000;
const usual: FilterFields = {
  replies: true,
  notchHarmonics: [1, 2],
  notchQ: 5,
  notchMinHz: 100,
  movingNotches: 0,
  gyroLowPassHz: 300,
};

/** |H| of the simulated filters: the impulse they answer with, summed at one frequency. */
function magnitude(fields: FilterFields, hz: number, {speeds, throttle}: {speeds: number[]; throttle: number}): number {
  const filters = new AxisFilters(fields, speeds.length, rate);
  let re = 0;
  let im = 0;
  for (let i = 0; i < rate; i++) {
    const y = filters.run(i === 0 ? 1 : 0, speeds, throttle / 100);
    re += y * Math.cos((2 * Math.PI * hz * i) / rate);
    im -= y * Math.sin((2 * Math.PI * hz * i) / rate);
  }
  return Math.hypot(re, im);
}

describe('the chain of a configuration', () => {
  it.each<[string, Partial<FilterFields>]>([
    ['the usual one', {}],
    ['a weak second harmonic', {notchWeights: [100, 40]}],
    ['a fade above the lowest frequency', {notchFadeHz: 120}],
    ['a first-order low-pass', {gyroLowPass: 'lowpass1'}],
    ['a second-order low-pass', {gyroLowPass: 'lowpass2'}],
    ['a third-order low-pass that follows throttle', {gyroLowPass: 'lowpass3', gyroLowPassFullHz: 700}],
    ['a biquad that follows throttle', {gyroLowPassFullHz: 600}],
  ])('is what the simulated controller runs with %s', (_, changes) => {
    const fields = {...usual, ...changes};
    const moment = {speeds: [150, 180, 210, 240], throttle: 40};
    const chain = chainOf(fields);
    const sections = [
      ...motorSections(chain, {motorsHz: moment.speeds, throttle: 40}, rate),
      ...lowPassesAt(chain.gyroLowPasses, 40, rate),
    ];
    for (const hz of [20, 60, 130, 170, 205, 330, 500, 900])
      expect(magnitude(fields, hz, moment)).toBeCloseTo(cascade(sections, hz, rate).magnitude, 5);
  });

  it('without a field is what firmware without it does', () => {
    expect(chainOf(usual)).toEqual({
      motor: {
        orders: [
          {order: 1, weight: 1},
          {order: 2, weight: 1},
        ],
        ...{q: 5, minHz: 100, fadeHz: 0, speedLowPassHz: 0, speedDelayMs: 1},
      },
      moving: {count: 0, q: 3, minHz: 100, maxHz: 600},
      gyroLowPasses: [{kind: 'biquad-lowpass', hz: 300}],
      dLowPasses: [{kind: 'biquad-lowpass', hz: 110}],
    });
  });
});

describe('a plan', () => {
  const config: ControllerConfig = {
    ...usual,
    ...{protocol: 'dshot300', poles: 14, loopHz: 4000, gyroHz: 8000, arms: [0, 1, 2, 3], idlePercent: 5},
  };
  const plan: ControllerPlan = asRunning(config);

  it('leaves what it is silent about as the craft has it', () => {
    const found = {...config, movingQ: 7, dLowPassHz: 90};
    expect(planOver({...plan, dLowPassHz: 140}, found)).toMatchObject({movingQ: 7, dLowPassHz: 140});
    expect(planOver(plan, undefined)).toEqual(plan);
  });

  it('with more sections costs more of the loop, in order of the sections', () => {
    const board = {clockMhz: 72, outputs: 4};
    const loads = [{}, {gyroLowPass: 'lowpass3' as const}, {notchHarmonics: [1, 2, 3]}].map((changes) => {
      const fields = {...plan, ...changes};
      return [sectionsPerAxis(chainOf(fields), 4), budgetOf(fields, board).load] as const;
    });
    const perSection = loads.slice(1).map(([n, load]) => (load - loads[0]![1]) / (n - loads[0]![0]));
    expect(perSection[0]).toBeGreaterThan(0);
    expect(perSection[1]).toBeCloseTo(perSection[0]!, 12);
  });
});
