/** The log as it was read: what its columns are taken for, what was left out and why, what a person measured beside it. */
import {chainOf} from '../../controller/chain-of';
import {asRunning} from '../../controller/plan';
import type {Flight} from '../../flight/flight';
import {notedFields, type Noted} from '../../flight/noted';
import type {OpenFlight} from '../../noise/flight-summary';
import {chainWords} from '../../tuning/reasons';
import {counted} from '../../words/counted';
import {grouped} from '../../words/grouped';
import {percent} from '../../words/percent';

interface LogNotes {
  /** In a few words, for the closed line; empty where nothing was wrong. */
  readonly troubles: string;
  readonly lines: readonly string[];
  /** Whether it is one of the person's own: those can be noted, read anew and removed. */
  readonly isOwn: boolean;
  readonly note: string;
  readonly fields: readonly NotedField[];
}

interface NotedField {
  readonly field: keyof Noted;
  readonly name: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly value: number | undefined;
}

/** Lines of one kind that are told one by one. */
const toldOfEach = 12;
const toldNotes = 6;
/** A clock that drifts by less is told by nobody's frequencies, share. */
const felt = 0.002;

export function logNotes({flight, summary}: OpenFlight): LogNotes {
  return {
    troubles: troubles(summary).join(', '),
    lines: [
      rateLine(summary),
      columnsLine(summary),
      ...chargeLine(summary),
      ...flownWithLine(flight, summary),
      ...cellLines(summary),
      ...gapLines(summary),
      ...otherLines(summary),
      ...summary.notes.filter((n) => !n.startsWith('flown with')).slice(0, toldNotes),
    ],
    isOwn: !flight.isDemo,
    note: flight.notes ?? '',
    fields: notedFields.map(({field, name, unit, least, most}) => ({
      ...{field, name, unit, min: least, max: most, value: flight.noted?.[field]},
    })),
  };
}

type Summary = OpenFlight['summary'];

function troubles({dropped, otherFlights, stretches}: Summary): string[] {
  const filled = dropped.gaps.filter((g) => g.filled).length;
  return [
    ...(dropped.badValues ? [counted(dropped.badValues, 'bad row')] : []),
    ...(dropped.repeatedTimes ? [counted(dropped.repeatedTimes, 'repeated time')] : []),
    ...(filled ? [`${counted(filled, 'short gap')} filled`] : []),
    ...(stretches.length > 1 ? [`${stretches.length} stretches`] : []),
    ...(otherFlights.length ? [`${counted(otherFlights.length, 'more flight', 'more flights')} in the file`] : []),
  ];
}

const rateLine = ({samples, sampleRateHz}: Summary): string =>
  `${grouped(samples)} rows at ${sampleRateHz.toFixed(1)} Hz; what lies beyond ${(sampleRateHz / 2).toFixed(0)} Hz is unknown, and a line from there aliases down.`;

function columnsLine({names, mapping: m}: Summary): string {
  const name = (column: number) => names[column]!;
  const scale = m.speedScale === 1 ? '' : ` × ${m.speedScale}`;
  const speeds = m.speeds.length ? `; speeds ${m.speeds.map(name).join(', ')} in ${m.speedUnit}${scale}` : '';
  return `Time is ${name(m.time)} in ${m.timeUnit}; gyro ${m.gyro.map(name).join(', ')} in ${m.gyroUnit}${speeds}.`;
}

const chargeLine = ({chargeMah}: Summary): string[] =>
  chargeMah === undefined ? [] : [`${chargeMah.toFixed(0)} mAh went through the log's current sensor.`];

/** What it was flown with, and how that is known. */
function flownWithLine({config: read}: Flight, {config: said}: Summary): string[] {
  const config = said ?? read;
  if (!config) return [];
  const how = said ? 'as the log says' : 'as the controller was read when this log was kept';
  return [`Flown with ${chainWords(chainOf(asRunning(config)))}; ${how}.`];
}

function cellLines({dropped, names}: Summary): string[] {
  const told = dropped.badCells.slice(0, toldOfEach).map(({line, column, text}) => {
    const what = text === '' ? 'the cell is empty' : `"${text}" is not a number`;
    return `Line ${line}, ${names[column]!}: ${what}; the row was skipped.`;
  });
  const more = dropped.badValues - toldOfEach;
  return more > 0 ? [...told, `${counted(more, 'more bad row was', 'more bad rows were')} skipped.`] : told;
}

function gapLines({dropped}: Summary): string[] {
  const told = dropped.gaps.slice(0, toldOfEach).map(({atS, missing, filled}) => {
    const rows = counted(missing, 'row is', 'rows are');
    return `At ${atS.toFixed(2)} s ${rows} missing; ${filled ? 'filled along a straight line' : 'the flight is parted there'}.`;
  });
  const more = dropped.gaps.length - toldOfEach;
  return more > 0 ? [...told, `${counted(more, 'more gap')}.`] : told;
}

function otherLines({dropped, otherFlights, drift}: Summary): string[] {
  const repeated = dropped.repeatedTimes;
  return [
    ...(repeated
      ? [`${counted(repeated, 'row repeats', 'rows repeat')} a time or run backwards and were skipped.`]
      : []),
    ...otherFlights.map(
      ({fromLine, rows}) =>
        `Another flight begins at line ${fromLine} with ${grouped(rows)} rows; the longest is shown.`,
    ),
    ...(drift > felt
      ? [`The clock drifts by up to ${percent(drift)} over the flight, and with it every frequency.`]
      : []),
  ];
}
