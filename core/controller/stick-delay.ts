/**
 * How long a move of the stick takes until the control loop acts on it, part by part. A move falls anywhere between two
 * frames, and between two turns of the loop: it waits half of either on average. A low-pass of first order with cut-off f
 * follows a steady move 1/(2πf) later; any text on linear filters.
 */
import type {SettingValues} from '../link/setting-shapes';

/** How steps between two frames are smoothed. */
export type StickSmoothing =
  | {readonly kind: 'off'}
  | {readonly kind: 'by itself'}
  | {readonly kind: 'set'; readonly hz: number};

export interface StickQuestion {
  /** Frames of the receiver per second, Hz; undefined where nobody counted them. */
  readonly frameHz: number | undefined;
  /** Undefined where the firmware does not describe it. */
  readonly smoothing: StickSmoothing | undefined;
  readonly loopHz: number;
}

export interface StickDelay {
  readonly part: 'receiver frame' | 'smoothing' | 'control loop';
  /** Mean, ms; undefined where it is not known: see `why`. */
  readonly delayMs: number | undefined;
  /** Where the figure is from, or why there is none. */
  readonly why: string;
}

/** As the settings of the firmware have it. */
export function smoothingIn(values: SettingValues): StickSmoothing | undefined {
  const [kind, hz] = [values['sticks.smoothing'], values['sticks.smoothing_hz']];
  if (kind === 'off' || kind === 'by itself') return {kind};
  return kind === 'set' && typeof hz === 'number' && hz > 0 ? {kind, hz} : undefined;
}

export function stickDelays({frameHz, smoothing, loopHz}: StickQuestion): StickDelay[] {
  return [
    frameHz === undefined
      ? {part: 'receiver frame', delayMs: undefined, why: 'its frames were not counted: look at the receiver on Arming'}
      : {
          part: 'receiver frame',
          delayMs: 500 / frameHz,
          why: `half of the time between two of ${frameHz.toFixed(0)} frames a second`,
        },
    {part: 'smoothing', ...smoothingDelay(smoothing)},
    {part: 'control loop', delayMs: 500 / loopHz, why: `half of one turn at ${(loopHz / 1000).toFixed(1)} kHz`},
  ];
}

function smoothingDelay(smoothing: StickSmoothing | undefined): Omit<StickDelay, 'part'> {
  if (!smoothing) return {delayMs: undefined, why: 'its firmware does not describe it'};
  if (smoothing.kind === 'off') return {delayMs: 0, why: 'off'};
  if (smoothing.kind === 'by itself') return {delayMs: undefined, why: 'the firmware chooses its cut-off by itself'};
  return {delayMs: 1000 / (2 * Math.PI * smoothing.hz), why: `low-pass of first order at ${smoothing.hz} Hz`};
}
