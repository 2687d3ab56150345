/** What two flights held against each other say, in one word and one sentence. */
import type {Change} from './level-change';
import type {FlightComparison, NoComparison} from './compare-flights';

type CompareVerdict = 'quieter' | 'louder' | 'alike' | 'no verdict';

/** By the lines at the motors' own speed, over all axes: the one question that is asked at 95 %. */
export function compareVerdict(comparison: FlightComparison | NoComparison): {
  readonly verdict: CompareVerdict;
  readonly why: string;
} {
  if (comparison.kind === 'not comparable') return {verdict: 'no verdict', why: comparison.why};
  const {atOnce} = comparison;
  if (!atOnce) return {verdict: 'no verdict', why: noLevel};
  const verdict = wayOf(atOnce);
  return {
    verdict,
    why: `At the motors’ speed the later flight is ${changeWords(atOnce)}${verdict === 'alike' ? ': not surely another' : ''}.`,
  };
}

export const noLevel = 'No speed was flown often enough in both flights for a level on the motor lines.';

/** Whether the later flight is quieter by more than the bound. */
export const isSurely = ({db, bound}: Change): boolean => db > bound;

/** Which way it changed for sure. */
export function wayOf(change: Change): 'quieter' | 'louder' | 'alike' {
  if (isSurely(change)) return 'quieter';
  return isSurely({...change, db: -change.db}) ? 'louder' : 'alike';
}

export const changeWords = ({db, bound}: Change): string =>
  `${db >= 0 ? 'quieter' : 'louder'} by ${Math.abs(db).toFixed(1)} ± ${bound.toFixed(1)} dB`;
