/** What Plumb 2.2 keeps of its filters beyond 2.0, as it comes. */
import type {WireConfig} from '@core/link/operations';

export const plumb22Filters = {
  notchWeights: [] as number[],
  notchFadeHz: 0,
  speedLowPassHz: 0,
  movingQ: 3,
  movingMinHz: 100,
  movingMaxHz: 600,
  gyroLowPass: 'biquad-lowpass',
  gyroLowPassFullHz: 0,
  dLowPass: 'biquad-lowpass',
  dLowPassHz: 110,
  dLowPassFullHz: 0,
} satisfies Partial<WireConfig>;
