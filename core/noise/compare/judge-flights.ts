/** Whether a craft is proven quiet: by a flight after the change, with the filters that were read back, against one before. */
import type {FlightComparison, NoComparison} from './compare-flights';
import {changeWords, isSurely, noLevel} from './compare-verdict';
import type {FlightReport} from '../flight-report';

export interface FlightFacts {
  readonly label: string;
  /** When it was taken into this craft's keeping, epoch ms. */
  readonly keptAt: number;
  /** Filters that were read from the controller then, as text; undefined where nothing had been read. */
  readonly filters: string | undefined;
  readonly isDemo: boolean;
  /** Whether the log itself says what it was flown with; else that rests on who kept it after the change. */
  readonly namesFilters: boolean;
  readonly report: FlightReport;
  /** Delay of the filters it was flown with, ms; undefined where they are not known. */
  readonly delayMs: number | undefined;
}

interface NoiseQuestion {
  readonly before: FlightFacts;
  readonly after: FlightFacts;
  readonly comparison: FlightComparison | NoComparison;
  /** Filters that are planned, as text. */
  readonly planned: string;
  /** When the controller was last written by a work order, epoch ms. */
  readonly writtenAt: number | undefined;
  readonly plannedPoles: number;
}

export interface NoiseVerdict {
  readonly holds: boolean;
  /** What was measured, in words and figures. */
  readonly text: string;
  /** What is missing for a proof; empty where it holds. */
  readonly missing: readonly string[];
}

/** Replies lost in flight beyond this share are no proof of a quiet craft, one in a thousand. */
const maxLoss = 1e-3;
/** Noise may rise by no more than this beside the lines, dB. */
const maxRise = 1;

export function judgeFlights(q: NoiseQuestion): NoiseVerdict {
  const missing = [...facts(q), ...measured(q), ...flightFindings(q.after.report, q.plannedPoles)];
  return {holds: missing.length === 0, text: textOf(q), missing};
}

function facts({before, after, planned, writtenAt}: NoiseQuestion): string[] {
  const missing: string[] = [];
  if (before.isDemo || after.isDemo)
    missing.push('A flight computed for the demo proves nothing of this craft; fly both yourself.');
  if (after.filters === undefined)
    missing.push(
      'The controller has not been read when the later flight was kept: survey the bench, then open the log again.',
    );
  else if (after.filters !== planned)
    missing.push('The later flight was not flown with the filters that are planned now.');
  if (writtenAt !== undefined && after.keptAt < writtenAt)
    missing.push('The later flight was kept before the work order wrote the controller; fly again.');
  if (before.filters !== undefined && before.filters === after.filters)
    missing.push('Both flights were flown with the same filters: nothing changed that could be proven.');
  return missing;
}

function measured({comparison}: NoiseQuestion): string[] {
  if (comparison.kind === 'not comparable') return [comparison.why];
  const {atOnce, rest} = comparison;
  if (!atOnce) return [noLevel];
  const missing: string[] = [];
  if (!isSurely(atOnce))
    missing.push(
      `Noise at the motors' speed changed by ${signed(-atOnce.db)} ± ${atOnce.bound.toFixed(1)} dB: not surely quieter.`,
    );
  if (rest && rest.db + rest.bound < -maxRise)
    missing.push(
      `Beside the motor lines the later flight is louder, by ${(-rest.db).toFixed(1)} ± ${rest.bound.toFixed(1)} dB.`,
    );
  return missing;
}

function flightFindings({poles, losses, findings}: FlightReport, plannedPoles: number): string[] {
  const missing: string[] = [];
  if (poles.kind === 'found' && poles.poles !== plannedPoles)
    missing.push(`The later flight fits ${poles.poles} poles, not the ${plannedPoles} planned.`);
  const lost = losses.filter((l) => (l.share ?? 0) > maxLoss);
  for (const {motor, share} of lost)
    missing.push(
      `${motor === undefined ? 'The motors' : `Motor ${motor + 1}`} lost ${((share ?? 0) * 100).toPrecision(2)} % of the replies in the later flight.`,
    );
  for (const f of findings) if (f.kind === 'long-coast' || f.kind === 'desync') missing.push(f.text);
  return missing;
}

function textOf({before, after, comparison}: NoiseQuestion): string {
  if (comparison.kind === 'not comparable' || !comparison.atOnce)
    return `${after.label} could not be compared with ${before.label}`;
  const {atOnce, rest, moments} = comparison;
  const count = moments.reduce((sum, [a, b]) => sum + a + b, 0);
  const delay =
    before.delayMs === undefined || after.delayMs === undefined
      ? ''
      : `, delay ${Math.abs(before.delayMs - after.delayMs).toFixed(1)} ms ${after.delayMs <= before.delayMs ? 'less' : 'more'}`;
  return `${after.label} against ${before.label}: ${changeWords(atOnce)} at 1×${rest ? `, ${changeWords(rest)} beside the motor lines` : ''}${delay}; ${count} moments at equal speeds${after.namesFilters ? '' : '. The log does not say what it was flown with: that it was flown after the change is your word'}`;
}

const signed = (v: number) => `${v >= 0 ? '+' : '−'}${Math.abs(v).toFixed(1)}`;
