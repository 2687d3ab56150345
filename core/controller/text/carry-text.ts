/**
 * Carries a controller text over to another version of its firmware, line by line, with an account of each. Nothing is
 * dropped silently: a line that nobody knows goes along as it is, and one that has no place any more is told.
 */
import type {TomlValue} from 'smol-toml';
import {entries, entryOf, headSection, type Entry, type Place, type TextVersion} from './entries';
import {pathOf, shown, type ControllerText, type TextLine} from './read-text';
import {lineFor, writeLines, type LineToWrite} from './write-text';

type Fate = 'kept' | 'moved' | 'renamed' | 'new' | 'gone' | 'out of range' | 'unknown';

export interface CarriedLine {
  readonly fate: Fate;
  /** Section and key as the text has them; undefined for a new line. */
  readonly from: string | undefined;
  /** Where it stands afterwards; undefined where it is gone. */
  readonly to: string | undefined;
  readonly was: string | undefined;
  readonly is: string | undefined;
  /** What to know about it; empty where nothing. */
  readonly note: string;
}

export interface CarriedText {
  readonly from: TextVersion;
  readonly to: TextVersion;
  readonly report: readonly CarriedLine[];
  /** The whole text as the other version reads it. */
  readonly text: string;
}

export function carryText(text: ControllerText, to: TextVersion): CarriedText {
  const from = text.readAs;
  const own = text.lines.filter((l) => l.section !== headSection);
  const steps = own.map((line) => carryLine(line, from, to));
  const there = new Set(own.map((l) => entryOf(l, from)?.field));
  const added = entries.filter((e) => e.places[to] && !e.places[from] && !there.has(e.field));
  const news = added.map((entry): Step => {
    const line = lineFor(entry.places[to]!, entry.usual, entry.comment);
    const note = `${to} has it, ${from} had not; it starts with the default.`;
    return {
      line,
      account: {fate: 'new', from: undefined, to: pathOf(line), was: undefined, is: shown(line.value), note},
    };
  });
  const head = text.lines
    .filter((l) => l.section === headSection)
    .map((l) => ({...l, value: l.key === 'version' ? to : l.value, comment: ''}));
  const all = [...steps, ...news];
  const lines = all.flatMap((s) => (s.line ? [s.line] : []));
  return {from, to, report: all.map((s) => s.account), text: writeLines([...head, ...inOrder(lines, to)])};
}

interface Step {
  readonly line: LineToWrite | undefined;
  readonly account: CarriedLine;
}

function carryLine(line: TextLine, from: TextVersion, to: TextVersion): Step {
  const entry = entryOf(line, from);
  const path = pathOf(line);
  const was = shown(line.value);
  const account = (fate: Fate, note: string, is?: LineToWrite): CarriedLine => ({
    ...{fate, from: path, to: is && pathOf(is), was, is: is && shown(is.value), note},
  });
  if (!entry) {
    const kept = {section: line.section, key: line.key, value: line.value, comment: 'kept as it was found'};
    return {
      line: kept,
      account: account('unknown', `Unknown setting of ${from}, carried over unchanged.`, kept),
    };
  }
  const [here, place] = [entry.places[from]!, entry.places[to]];
  if (!place) return {line: undefined, account: account('gone', `${to} has nothing like it.`)};
  const value = valueIn(line.value, here);
  if (value === undefined || !place.kind.takes(place.toLine ? place.toLine(value) : value)) {
    const instead = insteadOf(line.value, {here, place, entry});
    const expected = value === undefined ? here.kind.expected : place.kind.expected;
    const note = `${was} is not ${expected}; ${shown(instead.value)} stands there instead.`;
    return {line: instead, account: account('out of range', note, instead)};
  }
  const carried = lineFor(place, value, entry.comment);
  return {line: carried, account: account(fateOf(here, place), unitNote(here, place), carried)};
}

/** The nearest value that the new place takes, else the usual one. */
function insteadOf(was: TomlValue, {here, place, entry}: {here: Place; place: Place; entry: Entry}): LineToWrite {
  const taken = here.kind.takes(was) ? was : here.kind.nearest?.(was);
  const value = taken === undefined ? undefined : here.fromLine ? here.fromLine(taken) : taken;
  const line = value === undefined ? undefined : lineFor(place, value, entry.comment);
  if (line && place.kind.takes(line.value)) return line;
  const near = line && place.kind.nearest?.(line.value);
  return near === undefined ? lineFor(place, entry.usual, entry.comment) : {...line!, value: near};
}

/** The field's value in a line; undefined where the line does not hold what its place takes. */
const valueIn = (value: TomlValue, place: Place): TomlValue | undefined =>
  place.kind.takes(value) ? (place.fromLine ? place.fromLine(value) : value) : undefined;

function fateOf(here: Place, there: Place): Fate {
  if (here.key !== there.key) return 'renamed';
  return here.section === there.section ? 'kept' : 'moved';
}

const unitNote = (here: Place, there: Place): string =>
  here.toLine !== there.toLine && here.kind.expected !== there.kind.expected
    ? `It was ${here.kind.expected}, it is ${there.kind.expected}.`
    : '';

/** Known lines as the version has them, then the others. */
function inOrder(lines: readonly LineToWrite[], version: TextVersion): LineToWrite[] {
  const rank = (l: LineToWrite) => {
    const entry = entryOf(l, version);
    return entry ? entries.indexOf(entry) : entries.length;
  };
  return lines
    .map((line) => ({line, rank: rank(line)}))
    .sort((a, b) => a.rank - b.rank)
    .map(({line}) => line);
}
