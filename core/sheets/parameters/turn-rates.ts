/** Turn rates on screen: found beside planned, degrees per second over the stick, and what a small move is worth. */
import {sameJson} from '../../canonical-json';
import {turnAxes} from '../../controller/turn-axes';
import {perMicrosecond, rateAt, turnRateIn, type TurnRate} from '../../controller/turn-rates';
import {capital} from '../../words/capital';
import type {JudgedCraft} from '../craft-question';
import {heldAndPlanned} from '../held-and-planned';
import type {Curve} from './curve';

interface RateRow {
  readonly name: string;
  readonly differs: boolean;
  /** Degrees per second over the share of the throw. */
  readonly curves: readonly Curve[];
  /** Under each of {@link rateHeads}; both sides where they differ. */
  readonly cells: readonly string[];
  /** What the picture says, for a reader who does not see it. */
  readonly label: string;
}

interface RatesSheet {
  readonly rows: readonly RateRow[];
  /** Top of the charts, one for all axes: degrees per second. */
  readonly highest: number;
}

export const rateHeads: readonly string[] = ['One µs at the centre', 'Half the throw', 'End of the stick'];

/** Undefined while no controller was read that describes its turn rates in degrees per second. */
export function ratesSheet(q: Pick<JudgedCraft, 'record' | 'plan'>): RatesSheet | undefined {
  const held = heldAndPlanned(q);
  const kind = held?.entries.find(({key}) => key === 'rates.roll_centre')?.kind;
  if (!held || kind?.of !== 'number' || kind.unit !== 'deg/s') return undefined;
  const rates = turnAxes.flatMap((axis) => {
    const [found, wanted] = [turnRateIn(held.found, axis), turnRateIn(held.planned, axis)];
    return found && wanted ? [{name: capital(axis), found, wanted}] : [];
  });
  return {
    rows: rates.map(rowOf),
    highest: Math.ceil(Math.max(0, ...rates.flatMap(({found, wanted}) => [topOf(found), topOf(wanted)])) / 100) * 100,
  };
}

function rowOf({
  name,
  found,
  wanted,
}: {
  readonly name: string;
  readonly found: TurnRate;
  readonly wanted: TurnRate;
}): RateRow {
  const differs = !sameJson(found, wanted);
  const [was, is] = [figuresOf(found), figuresOf(wanted)];
  return {
    ...{name, differs},
    curves: [curveOf('found', found), ...(differs ? [curveOf('planned', wanted)] : [])],
    cells: was.map((text, i) => `${text === is[i] ? text : `${text} → ${is[i]}`} deg/s`),
    label: `${name} over the stick, to ${wanted.highest} deg/s at its end`,
  };
}

const drawnSteps = 40;
const curveOf = (of: Curve['of'], rate: TurnRate): Curve => ({
  ...{
    of,
    points: Array.from({length: drawnSteps + 1}, (_, i) => [i / drawnSteps, rateAt(rate, i / drawnSteps)] as const),
  },
});
const topOf = (rate: TurnRate): number => Math.max(...curveOf('found', rate).points.map(([, at]) => at));

const figuresOf = (rate: TurnRate): string[] => [
  perMicrosecond(rate, 0).toFixed(2),
  rateAt(rate, 0.5).toFixed(0),
  rateAt(rate, 1).toFixed(0),
];
