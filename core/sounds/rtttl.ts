/**
 * Start-up melodies as RTTTL text (Nokia's published format): name, defaults, notes. `a` of octave 4 is 440 Hz; a duration is a
 * share of a whole note, of which `b` quarters sound in a minute; a dot makes it half as long again.
 */
import {failure, success, type Problem, type Result} from '../problem';

export const durations = [1, 2, 4, 8, 16, 32] as const;
type Duration = (typeof durations)[number];

export interface Note {
  /** Semitones, 69 is A4; undefined is a pause. */
  readonly pitch: number | undefined;
  /** Part of a whole note: 4 is a quarter. */
  readonly duration: Duration;
  readonly dotted: boolean;
}

export interface Melody {
  readonly name: string;
  /** Quarter notes a minute. */
  readonly beats: number;
  readonly notes: readonly Note[];
}

const scale = ['c', 'c#', 'd', 'd#', 'e', 'f', 'f#', 'g', 'g#', 'a', 'a#', 'b'] as const;
const octaves = {least: 4, most: 7} as const;
const beatBounds = {least: 25, most: 900} as const;
/** What the format takes where the text names no default. */
const usual = {d: 4, o: 6, b: 63} as const;

/** Hz; equal temperament, A4 = 440 Hz. */
export const hzOf = (pitch: number): number => 440 * 2 ** ((pitch - 69) / 12);

/** Time that a note sounds, ms. */
export const noteMs = ({beats}: Pick<Melody, 'beats'>, {duration, dotted}: Note): number =>
  ((60_000 / beats) * 4 * (dotted ? 1.5 : 1)) / duration;

export const melodyMs = (melody: Melody): number => melody.notes.reduce((sum, note) => sum + noteMs(melody, note), 0);

/** Name of a pitch as people say it: "A4", "C#5". */
export const pitchName = (pitch: number): string => `${scale[pitch % 12]!.toUpperCase()}${Math.floor(pitch / 12) - 1}`;

/** Reads RTTTL text. What does not read is told with its place in the text, counted from 1. */
export function readRtttl(text: string): Result<Melody> {
  const parts = text.split(':');
  if (parts.length !== 3)
    return fault(
      'text',
      `It has ${parts.length} parts between colons, not 3.`,
      'Write name:defaults:notes, as in rise:d=8,o=5,b=120:c,e,g.',
    );
  const [name, defaults, notes] = parts as [string, string, string];
  const head = readDefaults(defaults, name.length + 1);
  if (!head.ok) return head;
  const {d, o, b} = head.value;
  const read: Note[] = [];
  let at = name.length + defaults.length + 2;
  for (const cell of notes.split(',')) {
    if (cell.trim() !== '' || notes.trim() !== '') {
      const note = readNote(cell, {d, o});
      if (!note) return fault(placeOf(cell, at), `"${cell.trim()}" is not a note.`, noteRemedy);
      read.push(note);
    }
    at += cell.length + 1;
  }
  if (!read.length) return fault(`character ${at}`, 'It has no notes.', noteRemedy);
  return success({name: name.trim(), beats: b, notes: read});
}

const noteRemedy =
  'A note is a duration (1, 2, 4, 8, 16, 32), a letter a to g or p for a pause, # for sharp, an octave 4 to 7, a dot; all but the letter may be omitted.';

function readDefaults(text: string, from: number): Result<{d: Duration; o: number; b: number}> {
  const values: {d: number; o: number; b: number} = {...usual};
  let at = from;
  for (const cell of text.split(',')) {
    const place = placeOf(cell, at);
    at += cell.length + 1;
    if (cell.trim() === '') continue;
    const match = /^\s*([dob])\s*=\s*(\d+)\s*$/i.exec(cell);
    if (!match)
      return fault(place, `"${cell.trim()}" is not a default.`, 'Defaults are d=duration, o=octave, b=beats a minute.');
    const key = match[1]!.toLowerCase() as 'd' | 'o' | 'b';
    values[key] = Number(match[2]);
    const why = defaultFault(key, values[key]);
    if (why) return fault(place, why, 'Change it.');
  }
  return success({...values, d: values.d as Duration});
}

function defaultFault(key: 'd' | 'o' | 'b', value: number): string | undefined {
  if (key === 'd' && !isDuration(value)) return `A duration is ${durations.join(', ')}, not ${value}.`;
  if (key === 'o' && (value < octaves.least || value > octaves.most))
    return `An octave is ${octaves.least} to ${octaves.most}, not ${value}.`;
  if (key === 'b' && (value < beatBounds.least || value > beatBounds.most))
    return `Beats a minute are ${beatBounds.least} to ${beatBounds.most}, not ${value}.`;
  return undefined;
}

const isDuration = (value: number): value is Duration => (durations as readonly number[]).includes(value);

function readNote(text: string, {d, o}: {readonly d: Duration; readonly o: number}): Note | undefined {
  // Dots stand before or after the octave, both are met.
  const match = /^\s*(\d+)?([a-hp])(#)?(\.)?([4-7])?(\.)?\s*$/i.exec(text);
  if (!match) return undefined;
  const duration = match[1] === undefined ? d : Number(match[1]);
  if (!isDuration(duration)) return undefined;
  const dotted = match[4] !== undefined || match[6] !== undefined;
  const letter = match[2]!.toLowerCase();
  if (letter === 'p') return match[3] ? undefined : {pitch: undefined, duration, dotted};
  // In some countries b is called h.
  const natural = scale.indexOf((letter === 'h' ? 'b' : letter) as (typeof scale)[number]);
  const octave = match[5] === undefined ? o : Number(match[5]);
  return {pitch: 12 * (octave + 1) + natural + (match[3] ? 1 : 0), duration, dotted};
}

/** The melody as RTTTL text, its most common duration and octave as the defaults. */
export function writeRtttl({name, beats, notes}: Melody): string {
  const d = mostFrequent(notes.map((n) => n.duration)) ?? 4;
  const o = mostFrequent(notes.flatMap((n) => (n.pitch === undefined ? [] : [octaveOf(n.pitch)]))) ?? 5;
  const cells = notes.map(({pitch, duration, dotted}) => {
    const letter = pitch === undefined ? 'p' : scale[pitch % 12]!;
    const octave = pitch === undefined || octaveOf(pitch) === o ? '' : String(octaveOf(pitch));
    return `${duration === d ? '' : duration}${letter}${octave}${dotted ? '.' : ''}`;
  });
  return `${name}:d=${d},o=${o},b=${beats}:${cells.join(',')}`;
}

const octaveOf = (pitch: number) => Math.floor(pitch / 12) - 1;

function mostFrequent(values: readonly number[]): number | undefined {
  const counts = new Map<number, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

const placeOf = (cell: string, at: number): string => `character ${at + 1 + (cell.length - cell.trimStart().length)}`;

const fault = (place: string, meaning: string, remedy: string): {ok: false; problem: Problem} =>
  failure({code: 'rtttl', place: `melody, ${place}`, meaning, remedy});
