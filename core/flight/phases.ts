/** Phases of a flight, from its throttle: where it hovers, cruises, goes full, cuts and punches. */
import type {FlightLog} from './flight-log';
import type {Stretch} from './time-base';

export const flightPhases = ['hover', 'cruise', 'full power', 'cuts', 'punches'] as const;
export type FlightPhase = (typeof flightPhases)[number];

/** A part of a flight by time, s since its start. */
export interface TimeRange {
  readonly fromS: number;
  readonly toS: number;
}

/** What of a flight is looked at. */
export type FlightPart = 'all' | FlightPhase | TimeRange;

/** Steps in which throttle is looked at, s. */
const stepS = 0.1;
/** Throttle that changes by more than this within half a second is a cut or a punch, percentage points. */
const suddenPoints = 25;
/** A cut or a punch lasts so long from its step on, s. */
const suddenS = 0.5;
/** Hover is within this of the flight's most common level; beyond lies cruise, percentage points. */
const hoverPoints = 6;
const fullPercent = 90;

/** Ranges of each phase; none without a throttle column. */
export function phasesOf(log: FlightLog): Readonly<Record<FlightPhase, readonly TimeRange[]>> {
  const kinds = new Map<number, FlightPhase>();
  const levels = throttleSteps(log);
  const hover = mostFrequent(levels.map((l) => l.percent).filter((p) => p > 10 && p < 70));
  levels.forEach(({percent, tick}, i) => {
    const before = levels[i - 5];
    if (before && before.tick === tick - 5 && Math.abs(percent - before.percent) > suddenPoints) {
      const kind = percent < before.percent ? 'cuts' : 'punches';
      for (let t = tick - 4; t <= tick + suddenS / stepS; t++) if (!kinds.has(t)) kinds.set(t, kind);
    } else if (kinds.has(tick)) return;
    else if (percent >= fullPercent) kinds.set(tick, 'full power');
    else kinds.set(tick, Math.abs(percent - hover) <= hoverPoints ? 'hover' : 'cruise');
  });
  const ticks = new Set(levels.map((l) => l.tick));
  return Object.fromEntries(
    flightPhases.map((phase) => [phase, rangesOf([...ticks].filter((t) => kinds.get(t) === phase))]),
  ) as Record<FlightPhase, TimeRange[]>;
}

function throttleSteps({throttle, stretches, sampleRateHz}: FlightLog): {percent: number; tick: number}[] {
  if (!throttle) return [];
  const step = Math.max(1, Math.round(stepS * sampleRateHz));
  return stretches.flatMap(({start, end, atS}) =>
    Array.from({length: Math.floor((end - start) / step)}, (_, i) => ({
      percent: throttle[start + i * step]!,
      tick: Math.round(atS / stepS) + i,
    })),
  );
}

/** Middle of the fullest of bins 5 points wide. */
function mostFrequent(percents: readonly number[]): number {
  const counts = new Map<number, number>();
  for (const p of percents) counts.set(Math.floor(p / 5), (counts.get(Math.floor(p / 5)) ?? 0) + 1);
  const [bin = 0] = [...counts.entries()].sort((a, b) => b[1] - a[1])[0] ?? [];
  return bin * 5 + 2.5;
}

function rangesOf(ticks: readonly number[]): TimeRange[] {
  const sorted = [...ticks].sort((a, b) => a - b);
  const ranges: {fromS: number; toS: number}[] = [];
  for (const tick of sorted) {
    const last = ranges.at(-1);
    if (last && Math.abs(last.toS - tick * stepS) < stepS / 2) last.toS = (tick + 1) * stepS;
    else ranges.push({fromS: tick * stepS, toS: (tick + 1) * stepS});
  }
  return ranges;
}

/** The same log with only some of its time in its stretches; columns are shared. */
export function withRanges(log: FlightLog, ranges: readonly TimeRange[]): FlightLog {
  const rate = log.sampleRateHz;
  const stretches: Stretch[] = log.stretches.flatMap(({start, end, atS}) =>
    ranges.flatMap(({fromS, toS}) => {
      const from = Math.max(start, start + Math.round((fromS - atS) * rate));
      const to = Math.min(end, start + Math.round((toS - atS) * rate));
      return to > from ? [{start: from, end: to, atS: atS + (from - start) / rate}] : [];
    }),
  );
  return {...log, stretches};
}
