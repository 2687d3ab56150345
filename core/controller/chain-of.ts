/** The filter chain that a flight controller's configuration makes, and the fields that make a chain. */
import type {ControllerPlan} from './plan';
import type {FilterChain, LowPassStage} from '../filters/chain';

/** Fields of the configuration that filters come from. */
export const chainFields = [
  'notchHarmonics',
  'notchWeights',
  'notchQ',
  'notchMinHz',
  'notchFadeHz',
  'speedLowPassHz',
  'movingNotches',
  'movingQ',
  'movingMinHz',
  'movingMaxHz',
  'gyroLowPass',
  'gyroLowPassHz',
  'gyroLowPassFullHz',
  'dLowPass',
  'dLowPassHz',
  'dLowPassFullHz',
] as const satisfies readonly (keyof ControllerPlan)[];
export type FilterFields = Pick<ControllerPlan, 'replies' | (typeof chainFields)[number]>;

/** What a controller's firmware does where it has no field for it: entries of the simulated controllers, Plumb 2.x. */
export const fixedFilters = {
  notchFadeHz: 0,
  speedLowPassHz: 0,
  movingQ: 3,
  movingMaxHz: 600,
  gyroLowPass: 'biquad-lowpass',
  gyroLowPassFullHz: 0,
  /** On the derivative. */
  dLowPass: 'biquad-lowpass',
  dLowPassHz: 110,
  dLowPassFullHz: 0,
} as const;

/** A reply is measured over one electrical turn and used one loop later, ms. */
const speedDelayMs = 1;

/** Notches that follow motors run with replies only. */
export function chainOf(fields: FilterFields): FilterChain {
  const c = {...fixedFilters, ...fields};
  const orders = (c.replies ? c.notchHarmonics : []).map((order) => ({
    order,
    weight: (c.notchWeights?.[order - 1] ?? 100) / 100,
  }));
  const {notchQ: q, notchMinHz: minHz, notchFadeHz: fadeHz, speedLowPassHz} = c;
  return {
    motor: {orders, q, minHz, fadeHz, speedLowPassHz, speedDelayMs},
    moving: {count: c.movingNotches, q: c.movingQ, minHz: c.movingMinHz ?? minHz, maxHz: c.movingMaxHz},
    gyroLowPasses: [stage(c.gyroLowPass, c.gyroLowPassHz, c.gyroLowPassFullHz)],
    dLowPasses: [stage(c.dLowPass, c.dLowPassHz, c.dLowPassFullHz)],
  };
}

const stage = (kind: LowPassStage['kind'], hz: number, fullHz: number): LowPassStage =>
  fullHz > 0 ? {kind, hz, fullHz} : {kind, hz};

/** Fields that a search changes. */
type SearchedFields = Pick<FilterFields, 'notchHarmonics' | 'notchQ' | 'movingNotches' | 'gyroLowPassHz'> &
  Partial<Pick<FilterFields, 'notchWeights' | 'gyroLowPass' | 'gyroLowPassFullHz'>>;

/**
 * The fields that make a chain, of those that a configuration has: one that `has` does not know is left out where the
 * chain does not need it. Throws for a chain that such a configuration cannot hold.
 */
export function fieldsOf(chain: FilterChain, has: Partial<FilterFields>): SearchedFields {
  const [low] = chain.gyroLowPasses;
  if (chain.gyroLowPasses.length !== 1) throw new RangeError('A configuration holds one low-pass');
  const {kind, hz, fullHz = 0} = low!;
  const hasKind = has.gyroLowPass !== undefined || kind !== fixedFilters.gyroLowPass;
  const hasFull = has.gyroLowPassFullHz !== undefined || fullHz !== 0;
  return {
    notchHarmonics: chain.motor.orders.map((o) => o.order),
    ...(has.notchWeights && {notchWeights: []}),
    notchQ: chain.motor.q,
    movingNotches: chain.moving.count,
    ...(hasKind && {gyroLowPass: kind}),
    gyroLowPassHz: hz,
    ...(hasFull && {gyroLowPassFullHz: fullHz}),
  };
}
