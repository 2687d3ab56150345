/** What Signal says of the pole count: what shows it, and what a wrong one does. */
import type {NextAction, SignalFinding} from '../../compare/signal-findings';
import {wrongPoles, type WrongPoles} from '../../controller/wrong-poles';
import {polesBehind} from '../../motion/odd-motor';
import type {NoPoleVerdict, PoleVerdict} from '../../noise/pole-count';
import {poleWords} from '../../noise/pole-words';
import {polesFromSpeed} from '../../replies/poles-from-speed';
import {grouped} from '../../words/grouped';
import type {CraftQuestion} from '../craft-question';
import {median} from '../../numbers/median';
import {percent} from '../../words/percent';

/** What lies open beside the craft: its newest motor card, and the flight of its Noise station. */
export interface PolesNow {
  /** KV of every motor that the card told, with the poles that its speeds were made with; undefined without one of this craft. */
  readonly card: {readonly kvs: readonly number[]; readonly poles: number} | undefined;
  /** Undefined while no flight is open. */
  readonly flight:
    | {readonly verdict: PoleVerdict | NoPoleVerdict | undefined; readonly loggedPoles: number}
    | undefined;
  /** Speed that the table of wrong counts is for, rpm; undefined for the usual one. */
  readonly rpm: number | undefined;
}

interface WrongCountLine {
  readonly poles: number;
  readonly isCounted: boolean;
  readonly isPlanned: boolean;
  readonly reads: string;
  readonly ratio: string;
  readonly notch: string;
  readonly beside: string;
  readonly leaves: string;
}

interface PolesSheet {
  readonly findings: readonly SignalFinding[];
  readonly rpm: number;
  readonly lines: readonly WrongCountLine[];
  readonly note: string;
}

/** Gyro rate of a controller that nobody has read yet, Hz. */
const usualGyroHz = 8000;
/** What notches leave is told down to this, dB. */
const nothingDb = -60;

const countAgain: NextAction = {text: 'Count the magnets again', station: 'craft'};

export function polesSheet(q: CraftQuestion, now: PolesNow): PolesSheet {
  const rpm = now.rpm ?? usualRpm(q);
  const rateHz = q.record.found?.controller?.config.gyroHz ?? usualGyroHz;
  const rows = wrongPoles(q.craft.plan.controller, {counted: q.craft.motor.poles, lineHz: rpm / 60, rateHz});
  return {
    findings: [ofCount(q), ofController(q), ofSpeed(q), ofCard(q, now.card), ofFlight(now.flight)],
    rpm,
    lines: rows.map((row) => wrongCountLine(row, q, rpm)),
    note: `Predicted for the planned notches (${notchText(q)}) of one motor at this speed, at ${rateHz / 1000} kHz. A reply counts electrical turns; poles / 2 of them are one turn of the shaft. 0 dB: the noise passes whole, and the delay of the filter is paid for nothing.`,
  };
}

/** Half of what the motor turns without load on a charged pack, in steps of 500. */
const usualRpm = ({craft: {motor, battery}}: CraftQuestion): number =>
  Math.round((0.5 * motor.kv * battery.cells * 4) / 500) * 500;

function wrongCountLine(row: WrongPoles, {craft}: CraftQuestion, rpm: number): WrongCountLine {
  return {
    poles: row.poles,
    isCounted: row.isTrue,
    isPlanned: row.poles === craft.plan.controller.poles,
    reads: `${grouped(rpm * row.ratio)} rpm`,
    ratio: row.ratio.toFixed(3),
    notch: `${row.notchHz.toFixed(0)} Hz`,
    beside: row.isTrue ? '–' : `${grouped(row.notchHz - rpm / 60)} Hz`,
    leaves: row.leavesDb <= nothingDb ? 'nothing' : `${grouped(row.leavesDb, 1)} dB`,
  };
}

function notchText({craft}: CraftQuestion): string {
  const {notchHarmonics, notchQ, notchMinHz, replies} = craft.plan.controller;
  if (!replies || !notchHarmonics.length) return 'none planned';
  return `${notchHarmonics.map((h) => `${h}×`).join(' ')}, Q ${notchQ}, from ${notchMinHz} Hz`;
}

function ofCount({craft}: CraftQuestion): SignalFinding {
  const [planned, counted] = [craft.plan.controller.poles, craft.motor.poles];
  const at = {id: 'counted', word: 'counted'};
  if (planned === counted)
    return {...at, tag: 'ok', text: `${counted} magnets on the Craft station, and ${planned} planned.`};
  return {
    ...{...at, tag: 'diff', text: `${counted} magnets on the Craft station, but ${planned} planned.`},
    action: {text: `Plan ${counted} poles`, change: {poles: counted}},
  };
}

function ofController({craft, record}: CraftQuestion): SignalFinding {
  const found = record.found?.controller?.config.poles;
  const counted = craft.motor.poles;
  const at = {id: 'controller', word: 'controller'};
  if (found === undefined) return {...at, tag: 'wait', text: 'Not read yet.'};
  if (found === counted) return {...at, tag: 'ok', text: `It holds ${found}.`};
  const isOpen = craft.plan.controller.poles !== found;
  return {
    ...{
      ...at,
      tag: 'diff',
      text: `It holds ${found}: its speeds read ${(counted / found).toFixed(2)} × what they are.`,
    },
    ...(isOpen && {action: {text: 'Carry out the work order', bench: true} as const}),
  };
}

/** By KV × volts × throttle, from the measurement of the replies. */
function ofSpeed({craft, standings}: CraftQuestion): SignalFinding {
  const at = {id: 'speed', word: 'KV and volts'};
  const {poles} = craft.plan.controller;
  const measures = standings.replies.kind === 'none' ? undefined : standings.replies.proof.replies;
  const told = measures && polesFromSpeed(measures, poles);
  if (!told)
    return {
      ...{...at, tag: 'wait', text: 'Measure the replies: speed over KV × volts × throttle leaves few counts.'},
      action: {text: 'Hold to measure, under Replies', bench: true},
    };
  const fits = told.plausible.includes(craft.motor.poles);
  const list = told.plausible.join(', ') || 'none';
  return {
    ...{...at, tag: fits ? 'ok' : 'diff'},
    text: `At ${percent(told.throttle)} throttle the motors turned at ${percent(told.share)} of KV × volts × throttle, read with ${poles} poles. A free motor lies between 70 and 110 %: with ${list} poles.`,
    ...(!fits && {action: countAgain}),
  };
}

/** By the KV that the newest motor card fitted: a wrong count of poles makes it wrong by the same share. */
function ofCard({craft}: CraftQuestion, card: PolesNow['card']): SignalFinding {
  const at = {id: 'card', word: 'motor card'};
  if (!card?.kvs.length)
    return {
      ...{...at, tag: 'wait', text: 'No motor card was measured: it fits the KV of every motor from its speeds.'},
      action: {text: 'Measure the motors', station: 'spin'},
    };
  const [kv, label] = [median(card.kvs), craft.motor.kv];
  const behind = polesBehind(kv, label, card.poles);
  const text = `The motor card fitted a KV of ${grouped(kv)} with ${card.poles} poles; the label says ${grouped(label)}`;
  if (behind === undefined) return {...at, tag: 'ok', text: `${text}.`};
  return {...at, tag: 'diff', text: `${text}: it fits with ${behind.poles} poles.`, action: countAgain};
}

/** By the lines in a flight. */
function ofFlight(flight: PolesNow['flight']): SignalFinding {
  const at = {id: 'flight', word: 'flight'};
  const words = flight && poleWords(flight.verdict, flight.loggedPoles);
  if (words) return {...at, tag: words.fits ? 'ok' : 'diff', text: `${words.title}. ${words.text}`};
  return {
    ...{...at, tag: 'wait'},
    text: flight
      ? 'The open flight gives no answer: its speeds change too little, or no line stands out.'
      : 'No flight is open. The motor lines of a flight show the count most reliably.',
    action: {text: 'Open a flight', station: 'noise'},
  };
}
