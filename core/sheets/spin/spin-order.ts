/** What Spin's motor order says: which output is next, what was seen of each, and on which side a wrong one is best changed. */
import {wantedDirections, type RotationDirection} from '../../craft/craft';
import {isDigital} from '../../dshot/protocol';
import {sightingHolds, sightingRows, tellsSense, type SightingRow} from '../../spin/sighting/sighting';
import {sightingQuestion} from '../../route/standings';
import {pulseTop} from '../../spin/sighting/pulse-pattern';
import {pulseUs} from '../../spin/hold/speed-sample';
import {startScatter} from '../../spin/script/start-scatter';
import {twoSides} from '../../spin/sighting/two-sides';
import {whatIsWrong} from '../../spin/verdict/what-is-wrong';
export {unexpectedKinds, type UnexpectedKind} from '../../spin/script/unexpected';
import type {Cell} from '../survey/esc-line';
import type {CraftQuestion} from '../craft-question';

/** The hold of now, and whose answer is open. */
export interface SpinHold {
  readonly output: number;
  readonly isHeld: boolean;
  /** The output has turned, and which arm it was is asked. */
  readonly isAsking: boolean;
}

/** What the hold button tells: it moves with every step of the throttle, and is asked apart from the rest. */
interface HoldButton {
  readonly title: string;
  readonly note: string;
  /** Of the throttle that a hold reaches. */
  readonly share: number;
}

/** How one arm is drawn. */
export interface DrawnArm {
  readonly sense: RotationDirection | undefined;
  readonly label: string;
  readonly state: 'open' | 'ok' | 'diff' | 'asked';
}

/** The number that an arm's output goes by; none where nobody knows it. */
export const outputLabel = (output = -1): string => (output < 0 ? '?' : String(output + 1));

interface OutputLine {
  readonly output: number;
  readonly state: 'seen' | 'asked' | 'next' | 'to come';
  /** What was seen of it; undefined until then. */
  readonly seen: SeenCells | undefined;
}

interface SeenCells {
  readonly arm: Cell;
  readonly turned: Cell;
  readonly planned: string;
  /** What it was seen on and is another thing now; empty where what was seen still holds. */
  readonly changed: string;
  readonly startsAt: string;
  /** How often its start was measured, and how far those lie apart; empty before the first. */
  readonly starts: string;
  readonly coastsDown: Cell;
}

interface WrongLine {
  readonly output: number;
  readonly arm: string;
  readonly what: string;
  readonly side: string;
  readonly isPlanned: boolean;
}

interface SpinOrderSheet {
  readonly canHold: boolean;
  readonly heading: string;
  readonly hint: string;
  /** Throttle that a hold reaches, 0…1. */
  readonly top: number;
  /** No speeds come, so a person says when it turns. */
  readonly isBlind: boolean;
  /** One for each arm, in the order of the craft. */
  readonly drawn: readonly DrawnArm[];
  /** One for each output. */
  readonly lines: readonly OutputLine[];
  readonly wrongs: readonly WrongLine[];
  readonly sides: SidesLine;
  /** Every motor was seen, and as it must be: the next view waits. */
  readonly isComplete: boolean;
}

/** The way the motors turn against the way that the flight controller was told. */
interface SidesLine {
  readonly state: 'agree' | 'would flip' | 'open';
  readonly title: string;
  readonly text: string;
}

export function spinOrderSheet(q: CraftQuestion, hold: SpinHold): SpinOrderSheet {
  const {record, bench} = q;
  const config = record.found?.controller?.config;
  // With pulses ESCs start later: their low end lies above 1000 µs.
  const top = isDigital(config?.protocol ?? 'dshot300') ? pulseTop.digital : pulseTop.analog;
  const rows = sightingRows(sightingQuestion(q), record.sightings);
  return {
    canHold: bench.isPropsOff && !!record.found && !bench.isOccupied && !bench.isRunningOut,
    ...asked(q, hold),
    top,
    isBlind: !config?.replies,
    drawn: drawnArms(q, hold.isAsking),
    lines: rows.map((row) => outputLine(q, row, hold)),
    wrongs: rows.flatMap((row) => wrongLines(q, row)),
    sides: sidesLine(q),
    isComplete: rows.every(({seen}) => seen && sightingHolds(seen, sightingQuestion(q))),
  };
}

function asked(q: CraftQuestion, {output, isHeld, isAsking}: SpinHold): Pick<SpinOrderSheet, 'heading' | 'hint'> {
  if (!isAsking) return {heading: `Next: output ${output + 1}`, hint: 'Hold the button and look at the craft.'};
  return {
    heading: `Output ${output + 1} ${isHeld ? 'is turning' : 'has turned'}. Which arm is it, and which way?`,
    hint: 'In the drawing, click that arm: its right half if it turned clockwise, its left half if not. Replies report speed, never the direction.',
  };
}

/** @param throttle commanded, 0…1. @param top throttle that a hold reaches. */
export const holdButton = (
  {bench}: CraftQuestion,
  {output, isHeld}: SpinHold,
  {throttle, top}: {readonly throttle: number; readonly top: number},
): HoldButton => ({
  title: `Hold to turn output ${output + 1}`,
  note: holdNote(bench, {isHeld, throttle, top}),
  share: throttle / top,
});

function holdNote(
  bench: CraftQuestion['bench'],
  {isHeld, throttle, top}: {readonly isHeld: boolean; readonly throttle: number; readonly top: number},
): string {
  if (isHeld && throttle > 0) return `${(throttle * 100).toFixed(1)} % throttle, ${pulseUs(throttle).toFixed(0)} µs`;
  if (isHeld) return 'rests for a moment, then again';
  if (bench.isRunningOut) return 'wait until every motor has stopped';
  return `pulses up to ${(top * 100).toFixed(0)} %, stops when you let go`;
}

function drawnArms(q: CraftQuestion, isAsking: boolean): DrawnArm[] {
  const senses = wantedDirections(q.craft);
  return q.craft.arms.map((_, arm) => {
    const sighting = q.record.sightings.find((s) => s.arm === arm);
    const label = outputLabel(sighting?.output);
    if (isAsking) return {sense: sighting?.sense, label, state: 'asked'};
    if (!sighting) return {sense: senses[arm], label, state: 'open'};
    return {sense: sighting.sense, label, state: sightingHolds(sighting, sightingQuestion(q)) ? 'ok' : 'diff'};
  });
}

const shortSense = (sense: RotationDirection): string => (sense === 'clockwise' ? 'clockwise' : 'counter-cw');

function outputLine(q: CraftQuestion, row: SightingRow, {output, isAsking}: SpinHold): OutputLine {
  const {seen} = row;
  const isHere = row.output === output;
  if (!seen) return {output: row.output, state: isHere ? (isAsking ? 'asked' : 'next') : 'to come', seen: undefined};
  const scatter = startScatter(seen.startsUs ?? []);
  return {
    output: row.output,
    state: 'seen',
    seen: {
      arm: {text: q.craft.arms[seen.arm]?.name ?? '', isOff: row.armWrong},
      turned: {text: tellsSense(seen) ? shortSense(seen.sense) : 'both ways', isOff: row.senseWrong},
      planned: shortSense(row.wanted),
      changed: row.changes.join('; '),
      startsAt: seen.startsAtUs === undefined ? '–' : `${seen.startsAtUs.toFixed(0)} µs`,
      starts: !scatter
        ? ''
        : scatter.starts === 1
          ? 'once'
          : `${scatter.starts} times, ± ${scatter.deviationUs!.toFixed(1)}`,
      coastsDown: {text: coast(seen.coastDownS), isOff: row.coastsLong},
    },
  };
}

/** A coast-down as reports can tell it: they come every 20 ms, and what is quicker is only known to be quick. */
const coast = (seconds: number | undefined): string =>
  seconds === undefined ? '–' : seconds < 0.05 ? 'under 0.05 s' : `${seconds.toFixed(2)} s`;

/** What was seen on something that is another thing now says nothing of what is wrong. */
function wrongLines({craft, record}: CraftQuestion, {seen, changes, output}: SightingRow): WrongLine[] {
  if (!seen || changes.length) return [];
  return whatIsWrong(craft, record.found, seen).map(({what, side, planned}) => ({
    ...{output, arm: craft.arms[seen.arm]?.name ?? '', what, side, isPlanned: planned},
  }));
}

function sidesLine(q: CraftQuestion): SidesLine {
  const {kind, text} = twoSides(sightingQuestion(q), q.record.sightings);
  if (kind === 'would flip') return {state: kind, title: 'Two sides do not agree: would flip at take-off', text};
  return kind === 'agree' ? {state: kind, title: '✓ two sides agree', text} : {state: 'open', title: 'two sides', text};
}
