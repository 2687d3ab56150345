/** What Noise says above its pictures: which flight is open, which views there are, which units of its log are open to doubt. */
import type {Flight} from '../../flight/flight';
import {axes, type Axis, type UnitOf} from '../../flight/mapping';
import type {UnitQuestion} from '../../flight/guess-units';
import type {MapKind} from '../../noise/drawn-map';
import type {Evidence} from '../../noise/finding';
import type {OpenFlight} from '../../noise/flight-summary';
import {duration} from '../../words/duration';
import {momentText} from '../../words/moment';
import type {Choice} from '../choice';

export type NoiseView = 'noise' | 'filters' | 'chain' | 'compare';
export const noiseViews: readonly Choice<NoiseView>[] = [
  {label: 'Where noise is', value: 'noise'},
  {label: 'Filters and delay', value: 'filters'},
  {label: 'Best chain', value: 'chain'},
  {label: 'Flights compared', value: 'compare'},
];
export const axisChoices: readonly Choice<Axis>[] = axes.map((value) => ({label: value, value}));

export function noiseLead(open: OpenFlight | undefined): string {
  if (!open)
    return 'A flight log of this craft shows where motor noise lies, what filters would do to it, and whether a change made it quieter.';
  const {durationS, sampleRateHz, motors} = open.summary;
  const origin = open.flight.isDemo ? ' (computed for the demo)' : '';
  const speeds = motors ? `speeds of ${motors} motors` : 'no motor speeds';
  const kept = open.flight.isDemo ? '' : ` Kept ${momentText(open.flight.keptAt)}.`;
  return `${open.flight.label}${origin}, ${duration(1000 * durationS)} at ${(sampleRateHz / 1000).toFixed(1)} kHz, ${speeds}.${kept}`;
}

const kindOfMap = {'order map': 'order', 'throttle map': 'throttle', 'time map': 'time'} as const;

/** The map in which a finding shows itself; undefined where it is none of the maps. */
export const mapOf = (evidence: Evidence): MapKind | undefined =>
  evidence === 'none' || evidence === 'motor lines' ? undefined : kindOfMap[evidence];

/** The other flights of a craft, to hold the open one against or to serve with it. */
export const otherFlights = (flights: readonly Flight[], open: OpenFlight | undefined): Flight[] =>
  flights.filter((f) => f.id !== open?.flight.id);

interface UnitsSheet {
  /** Those with another answer; of raw steps nobody but a person knows the size. */
  readonly questions: readonly (UnitQuestion & {readonly options: string[]})[];
  /** Whether one of them can be answered here. */
  readonly isChoice: boolean;
  /** What each was taken for, until a person says otherwise. */
  readonly taken: Partial<Record<UnitOf, string>>;
}

export function unitsSheet({summary}: OpenFlight): UnitsSheet {
  const asked = summary.questions.filter(({others, taken}) => others.length > 0 || taken === 'raw');
  return {
    questions: asked.map((q) => ({...q, options: q.others.length ? [q.taken, ...q.others] : []})),
    isChoice: asked.some(({others}) => others.length > 0),
    taken: Object.fromEntries(asked.map((q) => [q.about, q.taken])),
  };
}
