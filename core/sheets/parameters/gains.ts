/** Gains of the rate loop on screen: found beside planned, beside what the firmware begins with, and beside the last flight. */
import {
  acting,
  gainKey,
  gainParts,
  gainShareAt,
  gainsIn,
  quieterIn,
  wholeIn,
  type GainPart,
  type Quieter,
} from '../../controller/gains';
import {turnAxes, type TurnAxis} from '../../controller/turn-axes';
import type {Flight} from '../../flight/flight';
import type {SettingEntry, SettingValues} from '../../link/setting-shapes';
import {crossoverFigures, type Crossover, type NoCrossover} from '../../noise/crossover';
import {capital} from '../../words/capital';
import {momentText} from '../../words/moment';
import {wholePercent} from '../../words/percent';
import type {JudgedCraft} from '../craft-question';
import {heldAndPlanned} from '../held-and-planned';
import type {Curve} from './curve';

export interface GainsNow {
  /** The flight that is open on Noise; undefined where none is. */
  readonly flight: Flight | undefined;
  /** Of that flight. */
  readonly crossover: Crossover | NoCrossover | undefined;
}

interface GainCell {
  readonly name: string;
  /** As it is planned, beside what was found where that differs. */
  readonly text: string;
  readonly differs: boolean;
  /** Found, planned and the firmware's own, as shares of the widest range. */
  readonly found: number;
  readonly planned: number;
  readonly usual: number;
  /** What is to be known of it beside its value; empty where nothing is. */
  readonly note: string;
}

interface GainRow {
  readonly name: string;
  readonly cells: readonly GainCell[];
  /** D for each P, as planned. */
  readonly ratio: string;
  /** What acts of P, I and D after the one factor for all; empty where that is 1. */
  readonly acting: string;
}

interface GainsSheet {
  readonly rows: readonly GainRow[];
  readonly whole: string;
  /** Share of the gains over throttle; empty where the firmware does not take gains back. */
  readonly attenuation: readonly Curve[];
  readonly attenuationText: string;
  /** What the loop of this craft does in flight with its gains; a whole sentence. */
  readonly loop: string;
  /** Since which flight changes are marked; a whole sentence. */
  readonly since: string;
}

export const gainHeads: readonly string[] = [
  'P, error of the moment',
  'I, error that lasts',
  'D, change of the error',
  'Feed of the sticks',
];

/** Undefined while no controller was read that describes gains of its axes. */
export function gainsSheet(q: Pick<JudgedCraft, 'record' | 'plan'>, now: GainsNow): GainsSheet | undefined {
  const held = heldAndPlanned(q);
  if (!held) return undefined;
  const {found, planned} = held;
  const flown = now.flight?.settings;
  const entries = new Map(held.entries.map((entry) => [entry.key, entry]));
  const rows = turnAxes.flatMap((axis) => {
    const set = gainsIn(planned, axis);
    return set && gainsIn(found, axis) ? [rowOf(axis, {found, planned, entries, flown})] : [];
  });
  if (!rows.length) return undefined;
  const [was, is] = [wholeIn(found), wholeIn(planned)];
  return {
    rows,
    whole: `P, I and D of all axes × ${was === is ? '' : `${wholePercent(was)} → `}${wholePercent(is)}`,
    ...attenuationOf(quieterIn(found), quieterIn(planned)),
    loop: loopText(now),
    since: sinceText(now.flight),
  };
}

function sinceText(flight: Flight | undefined): string {
  if (!flight) return 'What changed since a flight is marked beside one that is open there.';
  if (!flight.settings) return `What the controller held when ${flight.label} was kept is not known.`;
  return `What changed since ${flight.label}, ${momentText(flight.keptAt)}, is marked.`;
}

interface Sides {
  readonly found: SettingValues;
  readonly planned: SettingValues;
  readonly entries: ReadonlyMap<string, SettingEntry>;
  /** What it held when the flight was kept. */
  readonly flown: SettingValues | undefined;
}

function rowOf(axis: TurnAxis, sides: Sides): GainRow {
  const set = gainsIn(sides.planned, axis)!;
  const whole = wholeIn(sides.planned);
  const {p, i, d} = acting(set, whole);
  return {
    name: capital(axis),
    cells: gainParts.map((part) => cellOf(axis, part, sides)),
    ratio: set.p > 0 ? (set.d / set.p).toFixed(2) : '–',
    acting: whole === 1 ? '' : `acting: ${[p, i, d].map((v) => v.toFixed(1)).join(' · ')}`,
  };
}

function cellOf(axis: TurnAxis, part: GainPart, {found, planned, entries, flown}: Sides): GainCell {
  const key = gainKey(axis, part);
  const {usual, kind} = entries.get(key)!;
  // What the axis was read by is a number in both.
  const [was, is, stock] = [found[key], planned[key], usual] as [number, number, number];
  const top = kind.of === 'number' ? kind.max : Math.max(was, is, stock);
  const before = flown?.[key];
  const notes = [
    is === stock ? 'default' : `default ${stock}`,
    ...(typeof before === 'number' && before !== was ? [`${before} in that flight`] : []),
  ];
  return {
    ...{name: part === 'feed' ? 'feed' : part.toUpperCase(), differs: was !== is, note: notes.join(', ')},
    text: was === is ? String(is) : `${was} → ${is}`,
    ...{found: was / top, planned: is / top, usual: stock / top},
  };
}

function attenuationOf(
  found: Quieter | undefined,
  planned: Quieter | undefined,
): Pick<GainsSheet, 'attenuation' | 'attenuationText'> {
  if (!found || !planned) return {attenuation: [], attenuationText: ''};
  const differs = found.from !== planned.from || found.by !== planned.by;
  return {
    attenuation: [curveOf('found', found), ...(differs ? [curveOf('planned', planned)] : [])],
    attenuationText: `Gains over throttle: whole up to ${wholePercent(planned.from)}, ${wholePercent(1 - planned.by)} of them at full throttle`,
  };
}

const curveOf = (of: Curve['of'], quieter: Quieter): Curve => ({
  of,
  points: [...new Set([0, quieter.from, 1])].map((t) => [t, gainShareAt(quieter, t)] as const),
});

function loopText({flight, crossover: c}: GainsNow): string {
  if (!flight || !c)
    return 'Where the loop crosses a gain of 1, and with which margin, is measured from a flight with quick stick moves: open one on Noise.';
  const which = `${flight.label}${flight.isDemo ? ' of the demo' : ''}`;
  return c.kind === 'found'
    ? `In ${which} the loop crosses a gain of 1: ${crossoverFigures(c)}.`
    : `Where the loop crosses a gain of 1 could not be measured from ${which}: ${c.why}.`;
}
