/** The filters of a flight controller's gyro, as one chain: what each is, and its sections at one moment of a flight. */
import {lowPassSections, notch, partNotch, sectionCount, type LowPassKind, type Section} from './section';

export interface LowPassStage {
  readonly kind: LowPassKind;
  readonly hz: number;
  /** Cut-off at full throttle, Hz, where it follows throttle along a straight line; fixed where undefined. */
  readonly fullHz?: number | undefined;
}

/** Notches on multiples of every motor's speed. */
export interface MotorNotches {
  /** Multiples of the speed, and how much of the notch is mixed in there, 0…1. */
  readonly orders: readonly {readonly order: number; readonly weight: number}[];
  readonly q: number;
  /** No notch goes below, Hz. */
  readonly minHz: number;
  /** A notch fades in over so many Hz above the lowest; at 0 it stays there whole. */
  readonly fadeHz: number;
  /** First-order smoothing of the speeds, Hz; 0 for none. */
  readonly speedLowPassHz: number;
  /** Age of a speed when it is used, ms: replies come once a loop, and are measured over an electrical turn. */
  readonly speedDelayMs: number;
}

/** Notches that look for the strongest peaks by themselves, axis by axis. */
export interface MovingNotches {
  readonly count: number;
  readonly q: number;
  readonly minHz: number;
  readonly maxHz: number;
}

export interface FilterChain {
  readonly motor: MotorNotches;
  readonly moving: MovingNotches;
  readonly gyroLowPasses: readonly LowPassStage[];
  /** On the derivative only, behind the others. */
  readonly dLowPasses: readonly LowPassStage[];
}

/** What following filters look at, at one moment. */
export interface MomentState {
  /** Revolutions per second as the notches see them; 0 or NaN where a motor has no speed. */
  readonly motorsHz: readonly number[];
  /** Percent. */
  readonly throttle: number;
}

/** A notch nearer to half the rate than this is left out: it would be no notch any more. */
const highestShare = 0.475;

/** Where a motor's notch sits and how much of it is mixed in; undefined where there is none. */
export function notchPlace(
  {minHz, fadeHz}: MotorNotches,
  {order, weight}: {readonly order: number; readonly weight: number},
  motorHz: number,
  rateHz: number,
): {hz: number; share: number} | undefined {
  if (!(motorHz > 0)) return undefined;
  const wanted = order * motorHz;
  const faded = fadeHz > 0 ? Math.min(1, Math.max(0, (wanted - minHz) / fadeHz)) : 1;
  const hz = Math.max(minHz, wanted);
  const share = weight * faded;
  return share > 0 && hz < highestShare * rateHz ? {hz, share} : undefined;
}

/** Sections of the motor-speed notches at one moment. */
export function motorSections({motor}: FilterChain, {motorsHz}: MomentState, rateHz: number): Section[] {
  const sections: Section[] = [];
  for (const motorHz of motorsHz)
    for (const order of motor.orders) {
      const place = notchPlace(motor, order, motorHz, rateHz);
      if (!place) continue;
      const whole = notch(place.hz, motor.q, rateHz);
      sections.push(place.share < 1 ? partNotch(whole, place.share) : whole);
    }
  return sections;
}

/** Sections of moving notches that sit at `centresHz`. */
export const movingSections = ({moving}: FilterChain, centresHz: readonly number[], rateHz: number): Section[] =>
  centresHz.flatMap((hz) => (hz > 0 && hz < highestShare * rateHz ? [notch(hz, moving.q, rateHz)] : []));

/** Cut-off of a low-pass at a throttle in percent, Hz. */
export const cutOffAt = ({hz, fullHz}: LowPassStage, throttle: number): number =>
  fullHz === undefined ? hz : hz + (fullHz - hz) * Math.min(1, Math.max(0, throttle / 100));

/**
 * A biquad at or above half the rate does not exist, and is open. Cascades of first order run there all the same, and delay:
 * their α = dt/(RC + dt) is below 1 at any cut-off.
 */
export const lowPassesAt = (stages: readonly LowPassStage[], throttle: number, rateHz: number): Section[] =>
  stages.flatMap((stage) => {
    const hz = cutOffAt(stage, throttle);
    const exists = stage.kind !== 'biquad-lowpass' || hz < rateHz / 2;
    return exists ? lowPassSections(stage.kind, hz, rateHz) : [];
  });

/** Biquads that one axis runs, for the load: a section of first order costs as much here. */
export function sectionsPerAxis({motor, moving, gyroLowPasses, dLowPasses}: FilterChain, motors: number): number {
  const of = (stages: readonly LowPassStage[]) => stages.reduce((sum, {kind}) => sum + sectionCount[kind], 0);
  return motor.orders.length * motors + moving.count + of(gyroLowPasses) + of(dLowPasses);
}
