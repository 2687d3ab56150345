/** What Spin says of sounds: the planned melody checked, what the ESCs keep, and how loud each is set. */
import {armName} from '../../craft/arm-name';
import {plannedMelody} from '../../craft/craft';
import {firstMelody, type MelodyKind} from '../../craft/melody-plan';
import {foundEsc, type FoundEsc} from '../../bench/found';
import {valueIn} from '../../settings/page';
import {codableMelody, keepsMelody, melodyIn, melodyLimits, melodyText} from '../../sounds/melody-block';
import {melodyMs, noteMs, pitchName, readRtttl, type Melody} from '../../sounds/rtttl';
import type {Choice} from '../choice';
import type {CraftQuestion} from '../craft-question';
export {firstMelody, type Melody, type MelodyKind};

/** A melody that an ESC keeps, as it was read back. */
interface KeptMelodyLine {
  readonly output: number;
  readonly arm: string;
  readonly text: string;
  readonly state: 'as planned' | 'differs' | 'keeps none' | 'not planned';
  readonly melody: Melody | undefined;
}

/** How loud a motor's ESC is set, in its own steps; undefined where that is not known. */
interface VoiceLine {
  readonly output: number;
  readonly arm: string;
  readonly usual: number | undefined;
  readonly lost: number | undefined;
}

/** Whether ESCs can keep the text. */
interface MelodyCheck {
  readonly isRight: boolean;
  /** Place of the fault; empty where there is none. */
  readonly place: string;
  readonly text: string;
}

interface SoundsSheet {
  readonly isPlanned: boolean;
  readonly kind: MelodyKind;
  readonly motors: Choice<number>[];
  readonly text: string;
  readonly check: MelodyCheck;
  /** What can be drawn and played of it: a text beyond the limits of an ESC too; undefined where it cannot be read. */
  readonly melody: Melody | undefined;
  readonly kept: readonly KeptMelodyLine[];
  readonly voices: readonly VoiceLine[];
  readonly canSound: boolean;
}

/** @param motor whose voice is written, counted from 0. */
export function soundsSheet(q: CraftQuestion, motor: number): SoundsSheet {
  const {craft, record, bench} = q;
  const {melodies} = craft.plan;
  const text = plannedMelody(craft.plan, motor) ?? '';
  const read = readRtttl(text);
  const escs = record.found?.escs ?? [];
  return {
    isPlanned: melodies !== undefined,
    kind: melodies?.kind ?? 'same',
    motors: craft.arms.map((_, value) => ({label: `${value + 1}`, value})),
    text,
    check: checked(text),
    melody: read.ok ? read.value : undefined,
    kept: escs.map((esc) => keptLine(q, esc)),
    voices: craft.arms.map((_, output) => voiceLine(q, output)),
    canSound: bench.isConnected && bench.isPowered && !bench.isOnAdapter && !bench.isOccupied,
  };
}

function checked(text: string): MelodyCheck {
  const check = codableMelody(text);
  if (!check.ok) {
    const {place, meaning, remedy} = check.problem;
    return {isRight: false, place, text: `${meaning} ${remedy}`};
  }
  return {
    ...{isRight: true, place: ''},
    text: `${check.value.notes.length} of ${melodyLimits.notes} notes; the motor starts after the melody has ended, ${melodyLimits.ms / 1000} s at most.`,
  };
}

function keptLine({craft}: CraftQuestion, {output, settings, settingsPage}: FoundEsc): KeptMelodyLine {
  const at = {output, arm: armName(craft, output)};
  if (!keepsMelody(settings?.layout)) return {...at, melody: undefined, text: '–', state: 'keeps none'};
  const melody = melodyIn(settingsPage);
  const text = melodyText(melody);
  const wanted = readRtttl(plannedMelody(craft.plan, output) ?? '');
  if (!wanted.ok) return {...at, melody, text, state: 'not planned'};
  return {...at, melody, text, state: text === melodyText(wanted.value) ? 'as planned' : 'differs'};
}

function voiceLine({craft, record}: CraftQuestion, output: number): VoiceLine {
  const values = record.found && foundEsc(record.found, output)?.settings?.values;
  return {
    ...{output, arm: armName(craft, output)},
    usual: values && valueIn(values, 'toneLoudness'),
    lost: values && valueIn(values, 'lostToneLoudness'),
  };
}

/** A melody as a piano roll: time to the right in thousandths of its length, pitch upwards in rows. */
interface PianoRoll {
  readonly bars: readonly {readonly from: number; readonly width: number; readonly row: number}[];
  /** From the top; whether each is a black key. */
  readonly rows: readonly {readonly isBlack: boolean}[];
  readonly range: string;
  readonly length: string;
  readonly spoken: string;
}

/** Even a melody of one note is drawn among the rows of a third, semitones around c5. */
const usualRange = {low: 72, high: 76} as const;
const blackKeys = [1, 3, 6, 8, 10];
/** Bars of neighbouring notes stay apart by this. */
const gap = 2;

export function pianoRoll(melody: Melody): PianoRoll {
  const pitches = melody.notes.flatMap((n) => (n.pitch === undefined ? [] : [n.pitch]));
  const [low, high] = [Math.min(...pitches, usualRange.low), Math.max(...pitches, usualRange.high)];
  const totalMs = melodyMs(melody);
  const perMs = 1000 / Math.max(1, totalMs);
  let passedMs = 0;
  const bars = melody.notes.flatMap((note) => {
    const [from, width] = [passedMs * perMs, noteMs(melody, note) * perMs];
    passedMs += noteMs(melody, note);
    // A row stays free above the highest note and below the lowest.
    return note.pitch === undefined ? [] : [{from, width: Math.max(gap, width - gap), row: high + 1 - note.pitch}];
  });
  return {
    bars,
    rows: Array.from({length: high - low + 3}, (_, row) => ({isBlack: blackKeys.includes((high + 1 - row) % 12)})),
    range: `${pitchName(low)} to ${pitchName(high)}`,
    length: `${(totalMs / 1000).toFixed(1)} s`,
    spoken: melody.notes.map((n) => (n.pitch === undefined ? 'pause' : pitchName(n.pitch))).join(', '),
  };
}
