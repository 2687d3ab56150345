/** The open flight against an earlier one: what changed with bounds, what a person measured on both, whether it proves anything. */
import type {Flight} from '../../flight/flight';
import {notedChanges} from '../../flight/noted';
import type {FlightComparison, NoComparison} from '../../noise/compare/compare-flights';
import {wayOf} from '../../noise/compare/compare-verdict';
import type {OpenFlight} from '../../noise/flight-summary';
import type {NoiseVerdict} from '../../noise/compare/judge-flights';
import type {Change} from '../../noise/compare/level-change';
import {otherFlights} from './noise';

interface CompareNow {
  readonly open: OpenFlight;
  readonly flights: readonly Flight[];
  readonly compared:
    | {readonly before: Flight; readonly after: Flight; readonly comparison: FlightComparison | NoComparison}
    | undefined;
  readonly verdict: NoiseVerdict | undefined;
}

interface CompareSheet {
  readonly title: string;
  readonly others: Flight[];
  /** Why the two cannot be compared; empty where they can. */
  readonly refused: string;
  readonly result: ComparedSheet | undefined;
}

interface ComparedSheet {
  readonly comparison: FlightComparison;
  readonly head: string;
  readonly rows: readonly ChangeRow[];
  readonly noted: readonly NotedRow[];
  readonly verdict: NoiseVerdict | undefined;
}

interface ChangeRow {
  readonly name: string;
  readonly isAll: boolean;
  /** At once, twice, three times the speed, and beside the lines. */
  readonly cells: readonly ChangeCell[];
}

interface ChangeCell {
  readonly text: string;
  /** Louder for sure, quieter for sure, or neither. */
  readonly way: 'down' | 'up' | '';
}

interface NotedRow {
  readonly name: string;
  readonly before: string;
  readonly after: string;
  readonly change: string;
}

export function compareSheet({open, flights, compared, verdict}: CompareNow): CompareSheet {
  const comparison = compared?.comparison;
  return {
    title: `${open.flight.label} against`,
    others: otherFlights(flights, open),
    refused: comparison?.kind === 'not comparable' ? comparison.why : '',
    result:
      compared && comparison?.kind === 'compared'
        ? {
            ...{comparison, verdict, noted: notedRows(compared, flights)},
            head: `Change ${comparison.isFiltered ? 'behind the filters' : 'as logged'}, dB`,
            rows: changeRows(comparison),
          }
        : undefined,
  };
}

const changeRows = ({axes, atOnce, rest}: FlightComparison): ChangeRow[] => [
  ...axes.map(({axis, lines, rest: beside}) => ({
    ...{name: axis, isAll: false, cells: [...lines, beside].map(changeCell)},
  })),
  {name: 'all axes', isAll: true, cells: [changeCell(atOnce), empty, empty, changeCell(rest)]},
];

const empty: ChangeCell = {text: '', way: ''};

const ways = {quieter: 'down', louder: 'up', alike: ''} as const;

/** A minus is quieter. */
function changeCell(change: Change | undefined): ChangeCell {
  if (!change) return {text: 'no estimate', way: ''};
  const {db, bound} = change;
  const text = `${db >= 0 ? '−' : '+'}${Math.abs(db).toFixed(1)} ± ${bound.toFixed(1)}`;
  return {text, way: ways[wayOf(change)]};
}

/** What a person measured on both, as the flights are noted now. */
function notedRows({before, after}: {before: Flight; after: Flight}, flights: readonly Flight[]): NotedRow[] {
  const of = (flight: Flight) => flights.find((f) => f.id === flight.id)?.noted;
  return notedChanges(of(before), of(after)).map(({name, unit, before: was, after: is}) => ({
    ...{name: `${name}, ${unit}`, before: was.toFixed(1), after: is.toFixed(1)},
    change: `${is < was ? '−' : '+'}${Math.abs(is - was).toFixed(1)}`,
  }));
}
