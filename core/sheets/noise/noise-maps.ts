/** Where noise is: which maps and parts of the flight there are, what is drawn over them, how sure they are, what the flight says. */
import {flightPhases, type FlightPart, type TimeRange} from '../../flight/phases';
import type {AliasedLine} from '../../noise/aliased-lines';
import type {MapKind, ShownMap} from '../../noise/drawn-map';
import type {Evidence, Finding, FindingKind} from '../../noise/finding';
import type {FlightReport} from '../../noise/flight-report';
import type {OpenFlight} from '../../noise/flight-summary';
import {poleWords} from '../../noise/pole-words';
import {isSameResonance} from '../../noise/resonances';
import {upperMedian} from '../../numbers/median';
import {decibelBounds} from '../../spectra/welch';
import {wholePercent} from '../../words/percent';
import type {Choice} from '../choice';
import {mapOf} from './noise';

interface MapsNow {
  readonly part: FlightPart;
  readonly shown: ShownMap | undefined;
  /** Multiples that the planned notches follow. */
  readonly harmonics: readonly number[];
}

interface MapsSheet {
  readonly kinds: Choice<MapKind>[];
  readonly motors: Choice<number>[];
  readonly parts: Choice<string>[];
  /** What the list of parts stands on, and the part itself where it was chosen by hand. */
  readonly part: string;
  readonly byHand: TimeRange | undefined;
  readonly durationS: number;
  readonly map: DrawnNoise | undefined;
  readonly notes: readonly string[];
  readonly poles: PolesOfFlight;
  readonly findings: readonly FindingSheet[];
}

interface DrawnNoise {
  readonly names: AxisNames;
  /** Right edge, in the unit of x. */
  readonly maxX: number;
  readonly lines: readonly MapLine[];
  readonly label: string;
}

interface AxisNames {
  readonly x: string;
  readonly xUnit: string;
  readonly y: string;
  readonly yUnit: string;
}

/** A line over a map, in units of its axes. */
export interface MapLine {
  readonly label: string;
  readonly points: readonly (readonly [number, number])[];
  readonly dash: readonly number[];
}

interface PolesOfFlight {
  /** Undefined where the flight does not tell. */
  readonly fits: boolean | undefined;
  readonly title: string;
  readonly text: string;
}

interface FindingSheet {
  readonly title: string;
  readonly text: string;
  readonly next: string;
  /** Map that shows it. */
  readonly evidence: Evidence | undefined;
}

export function mapsSheet({summary}: OpenFlight, {part, shown, harmonics}: MapsNow): MapsSheet {
  const {report, durationS} = summary;
  const byHand = typeof part === 'object' ? part : undefined;
  return {
    kinds: mapChoices(summary),
    motors: Array.from({length: summary.motors}, (_, i) => ({label: `motor ${i + 1}`, value: i})),
    parts: [
      {label: 'whole flight', value: 'all'},
      ...flightPhases.filter((p) => summary.phases[p].length).map((p) => ({label: p, value: p})),
      {label: 'by hand', value: 'hand'},
    ],
    ...{part: typeof part === 'object' ? 'hand' : part, byHand, durationS},
    map: shown && drawnNoise(shown, harmonics),
    notes: [...certaintyOf(shown), ...report.aliases.map((line) => aliasWords(line, summary.sampleRateHz))],
    poles: polesOf(report),
    findings: together(report.findings).flatMap(findingSheet),
  };
}

function mapChoices({hasThrottle, motors}: OpenFlight['summary']): Choice<MapKind>[] {
  const ofMotors: Choice<MapKind>[] = [
    {label: 'speed', value: 'speed'},
    {label: 'orders', value: 'order'},
  ];
  return [
    ...(hasThrottle ? [{label: 'throttle', value: 'throttle' as const}] : []),
    {label: 'time', value: 'time'},
    ...(motors ? ofMotors : []),
  ];
}

/** A spectrum needs some moments: the shortest part, s. */
const shortestS = 1;

/** The part that a choice of the list means; by hand it begins as the whole flight. */
export const partOf = (choice: string, durationS: number): FlightPart =>
  choice === 'hand' ? {fromS: 0, toS: durationS} : (choice as Exclude<FlightPart, TimeRange>);

/** The part with one end moved; as it was where too little would be left. */
export function withEnd(part: TimeRange, end: keyof TimeRange, atS: number): TimeRange {
  const moved = {...part, [end]: atS};
  return moved.toS - moved.fromS >= shortestS ? moved : part;
}

const shownHz = 1000;
const shownOrders = 6;
const dashes: readonly (readonly number[])[] = [[], [6, 3], [2, 3], [1, 4]];

const axisNames: Readonly<Record<MapKind, AxisNames>> = {
  throttle: {x: 'frequency, Hz; throttle in % upward', xUnit: 'Hz', y: 'throttle', yUnit: '% throttle'},
  time: {x: 'frequency, Hz; time in s upward', xUnit: 'Hz', y: 'time', yUnit: 's'},
  speed: {x: 'frequency, Hz; revolutions per second upward', xUnit: 'Hz', y: 'speed', yUnit: 'rev/s'},
  order: {x: 'multiples of motor speed; revolutions per second upward', xUnit: '×', y: 'speed', yUnit: 'rev/s'},
};

function drawnNoise(shown: ShownMap, harmonics: readonly number[]): DrawnNoise {
  const {kind, axis, map} = shown;
  const names = axisNames[kind];
  const maxX = kind === 'order' ? shownOrders : Math.min(shownHz, (map.columns - 1) * map.stepX);
  return {names, maxX, lines: linesOf(shown, harmonics), label: `Noise of gyro ${axis} ${names.y}`};
}

/** Multiples of the motor's speed over the map: what the planned notches follow, or all three where none is planned. */
function linesOf({map, curves, kind, motor}: ShownMap, harmonics: readonly number[]): MapLine[] {
  const curve = curves[motor];
  if (kind === 'order' || !curve) return [];
  const orders = harmonics.length ? harmonics : [1, 2, 3];
  return orders.map((order, i) => ({
    label: `${order}×`,
    dash: dashes[i % dashes.length]!,
    points: [...curve.hz].map((hz, row) => [hz * order, map.from + (row + 0.5) * map.stepY] as const),
  }));
}

/** What a map is made of and how sure it is. */
function certaintyOf(shown: ShownMap | undefined): string[] {
  if (!shown) return [];
  const {segment, hop, map} = shown;
  if (!segment)
    return [
      'Order tracking: the gyro is taken once for each step of the motor’s own turn, so its lines stand upright.',
    ];
  const windows = upperMedian([...map.counts].filter((n) => n > 0)) || 1;
  const share = Math.min(1, hop / segment);
  const {below, above} = decibelBounds(windows, share);
  const overlap = share < 1 ? `${wholePercent(1 - share)} overlap` : 'no overlap';
  return [
    `Hann windows of ${segment} samples, ${overlap}, bins of ${map.stepX.toFixed(1)} Hz. A row is the mean of ${windows} ` +
      `windows (median): right within −${below.toFixed(1)}/+${above.toFixed(1)} dB, 19 of 20 times.`,
  ];
}

const aliasWords = ({order, highestHz, lowestImageHz, share}: AliasedLine, rateHz: number): string =>
  `${order}× of the motors runs up to ${highestHz.toFixed(0)} Hz, beyond half of the log’s ${rateHz.toFixed(0)} Hz, for ` +
  `${(share * 100).toPrecision(2)} % of the flight: there it aliases down, as low as ${lowestImageHz.toFixed(0)} Hz (calculated).`;

function polesOf({poles, loggedPoles}: FlightReport): PolesOfFlight {
  const words = poleWords(poles, loggedPoles);
  if (!words)
    return {fits: undefined, title: 'No pole count from this flight', text: poles.kind === 'unclear' ? poles.why : ''};
  const {fits, title, text} = words;
  return {fits, title, text: fits ? text : `${text} ${countThem}`};
}

const countThem = 'Count the magnets of one motor; where the count in the plan is right, carry the work order out.';

const findingTitle: Readonly<Record<Exclude<FindingKind, 'wrong-poles'>, string>> = {
  unbalanced: 'Bent bell or unbalanced propeller',
  'long-coast': 'Falls late after a cut',
  loose: 'Something is loose',
  resonance: 'Resonance',
  electrical: 'A tone that no part makes',
  'reply-loss': 'Replies lost',
  jitter: 'Time stamps jitter',
  'missing-rows': 'Rows missing',
  clipped: 'Gyro at the end of its range',
  aliased: 'Lines beyond half the log’s rate',
  desync: 'Lost its step',
};

/** The pole count has its own verdict. */
function findingSheet({kind, motor, text, next, evidence}: Finding): FindingSheet[] {
  if (kind === 'wrong-poles') return [];
  const title = `${findingTitle[kind]}${motor === undefined ? '' : `, motor ${motor + 1}`}`;
  return [{title, text, next, evidence: mapOf(evidence) && evidence}];
}

/** The same resonance on several axes is one. */
function together(findings: readonly Finding[]): Finding[] {
  const shown: Finding[] = [];
  const isSame = (a: Finding, b: Finding) => a.hz !== undefined && b.hz !== undefined && isSameResonance(a.hz, b.hz);
  for (const f of findings) if (!shown.some((s) => isSame(s, f))) shown.push(f);
  return shown;
}
