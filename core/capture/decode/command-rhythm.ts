/** How evenly commands come: the loop rate that a wire shows, its jitter, and gaps in the stream. */
import type {DecodedWire} from './decode-wire';
import {median} from '../../numbers/median';

interface CommandGap {
  /** Index of the command after it, and when that begins, s. */
  readonly command: number;
  readonly at: number;
  /** How long nothing came, s. */
  readonly lasts: number;
}

export interface CommandRhythm {
  /** Median of the intervals, as a rate, Hz. */
  readonly loopHz: number;
  /** Standard deviation of the intervals that are no gaps, µs. */
  readonly jitterUs: number;
  readonly shortestUs: number;
  readonly longestUs: number;
  /** The longest ones. */
  readonly gaps: readonly CommandGap[];
  readonly gapCount: number;
}

/** An interval of so many loops is a gap: at least one command is not there. */
const gapLoops = 1.5;
const maxGaps = 50;

/** Undefined with fewer than three commands. */
export function commandRhythm({commands}: Pick<DecodedWire, 'commands'>): CommandRhythm | undefined {
  if (commands.length < 3) return undefined;
  const intervals = Float64Array.from(commands.slice(1), ({t}, i) => t - commands[i]!.t);
  const loopS = median(intervals);
  const usual = intervals.filter((s) => s <= gapLoops * loopS);
  const mean = usual.reduce((a, b) => a + b, 0) / usual.length;
  const variance = usual.reduce((sum, s) => sum + (s - mean) ** 2, 0) / Math.max(1, usual.length - 1);
  const gaps = [...intervals.entries()]
    .filter(([, lasts]) => lasts > gapLoops * loopS)
    .map(([i, lasts]): CommandGap => ({command: i + 1, at: commands[i + 1]!.t, lasts}));
  return {
    ...{loopHz: 1 / loopS, jitterUs: Math.sqrt(variance) * 1e6},
    ...{
      shortestUs: intervals.reduce((a, b) => Math.min(a, b)) * 1e6,
      longestUs: intervals.reduce((a, b) => Math.max(a, b)) * 1e6,
    },
    ...{gaps: gaps.sort((a, b) => b.lasts - a.lasts).slice(0, maxGaps), gapCount: gaps.length},
  };
}
