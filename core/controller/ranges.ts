/** Ranges of a flight controller's numbers: the one place that plan, text, editors and words take them from. */
import * as z from 'zod';

export interface Range {
  readonly min: number;
  readonly max: number;
  readonly unit?: string;
  readonly isWhole?: boolean;
  /** What one step of an editor changes, and the digits that it shows behind the point. */
  readonly step?: number;
  readonly digits?: number;
}

const hz = (min: number, max: number, step: number): Range => ({min, max, step, unit: 'Hz'});
const width: Range = {min: 1, max: 20, step: 0.5, digits: 1};
const fullHz = hz(0, 1000, 50);
const angle: Range = {min: -180, max: 180, unit: '°'};

export const ranges = {
  poles: {min: 2, max: 60, isWhole: true},
  loopHz: {min: 1, max: 1_000_000, unit: 'Hz', isWhole: true},
  idlePercent: {min: 0, max: 15, unit: '%'},
  /** A multiple of motor speed. */
  harmonic: {min: 1, max: 5, isWhole: true},
  notchWeight: {min: 0, max: 100, unit: '%', isWhole: true, step: 10},
  notchQ: width,
  notchMinHz: hz(20, 400, 10),
  notchFadeHz: hz(0, 200, 10),
  speedLowPassHz: hz(0, 500, 10),
  movingNotches: {min: 0, max: 5, isWhole: true},
  movingQ: width,
  movingMinHz: hz(20, 400, 10),
  movingMaxHz: hz(100, 2000, 50),
  gyroLowPassHz: hz(50, 1000, 50),
  gyroLowPassFullHz: fullHz,
  dLowPassHz: hz(20, 1000, 10),
  dLowPassFullHz: fullHz,
  clockMhz: {min: 0, max: 1000, unit: 'MHz', isWhole: true},
  'mounting.yaw': angle,
  'mounting.pitch': angle,
  'mounting.roll': angle,
  'receiver.port': {min: 0, max: 10, isWhole: true},
  /** Of a receiver, counted from 1. */
  channel: {min: 1, max: 18, isWhole: true},
  'receiver.deadBandUs': {min: 0, max: 100, unit: 'µs'},
  /** A channel's pulse. */
  pulse: {min: 800, max: 2200, unit: 'µs'},
  'failSafe.afterMs': {min: 50, max: 10_000, unit: 'ms'},
} as const satisfies Readonly<Record<string, Range>>;

/** A number within a range. */
export function within({min, max, isWhole}: Range): z.ZodNumber {
  const number = z.number().min(min).max(max);
  return isWhole ? number.int() : number;
}
