/** What each filter of a gyro chain costs in time at one frequency. */
import {lowPass, notch, phaseDelayS} from './biquad';
import {notchHz, type NotchBank} from './notch-bank';

export interface FilterChain extends NotchBank {
  readonly movingNotches: number;
  readonly gyroLowPassHz: number;
}

export interface DelayEntry {
  readonly filter: 'motor-speed notches' | 'gyro low-pass' | 'moving notches';
  /** Number of biquads in it. */
  readonly count: number;
  readonly delayMs: number;
}

/** Q of the controller's moving notches; an entry of the simulated controller. */
export const movingNotchQ = 3;

/**
 * Phase delay at `atHz` of every filter, averaged over the flight's speeds.
 * @param motorsHz rotation frequency per motor at some moments of the flight
 * @param peaksHz where moving notches would sit, strongest first
 */
export function delayLedger(
  chain: FilterChain,
  {
    motorsHz,
    peaksHz,
    sampleRateHz,
    atHz,
  }: {motorsHz: readonly Float64Array[]; peaksHz: readonly number[]; sampleRateHz: number; atHz: number},
): DelayEntry[] {
  let notches = 0;
  for (const hz of motorsHz) {
    let sum = 0;
    for (const h of chain.harmonics)
      for (const speed of hz) {
        const centre = notchHz(chain, speed, h, sampleRateHz);
        if (centre !== undefined) sum += phaseDelayS(notch(centre, chain.q, sampleRateHz), atHz, sampleRateHz);
      }
    notches += hz.length ? sum / hz.length : 0;
  }
  const moving = peaksHz.slice(0, chain.movingNotches);
  const movingS = moving.reduce(
    (sum, hz) => sum + phaseDelayS(notch(hz, movingNotchQ, sampleRateHz), atHz, sampleRateHz),
    0,
  );
  const open = chain.gyroLowPassHz >= sampleRateHz / 2;
  const lowPassS = open ? 0 : phaseDelayS(lowPass(chain.gyroLowPassHz, Math.SQRT1_2, sampleRateHz), atHz, sampleRateHz);
  return [
    {filter: 'motor-speed notches', count: chain.harmonics.length * motorsHz.length, delayMs: notches * 1000},
    {filter: 'gyro low-pass', count: 1, delayMs: lowPassS * 1000},
    {filter: 'moving notches', count: moving.length, delayMs: movingS * 1000},
  ];
}

export const totalDelayMs = (ledger: readonly DelayEntry[]): number => ledger.reduce((sum, e) => sum + e.delayMs, 0);
