/**
 * Value change dumps, IEEE 1364 §18: all scopes, identifier codes, timescales, x and z, vectors bit by bit. Read byte by byte in
 * pieces of any length; what is not understood is told with its line and passed over.
 */
import type {Capture, CaptureReader} from './capture';
import {FaultList} from './fault-list';
import {maxWires, WireBuilder, type Value} from './wire-list';

const units: Readonly<Record<string, number>> = {s: 1, ms: 1e-3, us: 1e-6, ns: 1e-9, ps: 1e-12, fs: 1e-15};
/** Without a timescale times are taken for these, s. */
const usualScale = 1e-9;
/** Longest vector that is read, bits. */
const maxBits = 4096;
/** Longest name of a wire with its scopes, letters, and the deepest scope that goes into it. */
const [longestName, deepestScope] = [1_000, 64];
/** Most words of a section that a wire needs: $var has seven at most. */
const maxWords = 64;
/** Times that vectors may keep beyond one for each byte read: a short one can change as many wires as it has bits. */
const spareTimes = 1_000_000;

const longestWord = 2 * maxBits;
/** Sections of the header that tell of wires; what stands in others is not kept. */
const needed: ReadonlySet<string> = new Set(['$timescale', '$scope', '$upscope', '$var', '$enddefinitions']);

const [newline, blank, hash, dollar] = [10, 32, 35, 36];
const isBlank = (byte: number) => byte <= 32;

/** Wires that one identifier code stands for, most significant bit first. */
interface Variable {
  readonly bits: readonly WireBuilder[];
}

export class VcdReader implements CaptureReader {
  /** Bytes of a token that the next piece goes on with. */
  private rest = new Uint8Array(0);
  private line = 1;
  private inHeader = true;
  /** Words of a section of the header, or of a comment, that has not ended. */
  private section: string[] | undefined;
  /** Value of a vector that waits for its identifier code. */
  private vector: string | undefined;
  private scale: number | undefined;
  /** Names down to each open scope, each with a dot behind it. */
  private readonly scopes: string[] = [];
  /** Wires, and other names of bits, that were declared. */
  private declared = 0;
  private bytesRead = 0;
  /** Times that vectors have kept. */
  private vectorTimes = 0;
  private readonly variables = new Map<string, Variable>();
  /** The same by the one byte of a short code: most files have no longer ones. */
  private readonly short: (Variable | undefined)[] = [];
  private time = 0;
  private from: number | undefined;
  private to = 0;
  private readonly found = new FaultList();

  push(piece: Uint8Array): void {
    this.bytesRead += piece.length;
    let begin = 0;
    // The word in which the piece before broke off, with the blank after it.
    if (this.rest.length) {
      while (begin < piece.length && !isBlank(piece[begin]!)) begin++;
      this.rest = joined(this.rest, piece.subarray(0, ++begin));
      if (begin <= piece.length) this.read(this.rest, 0, this.rest.length);
    }
    if (begin <= piece.length) {
      let end = piece.length;
      while (end > begin && !isBlank(piece[end - 1]!)) end--;
      this.rest = piece.slice(end);
      this.read(piece, begin, end);
    }
    if (this.rest.length <= longestWord) return;
    this.fault(`A word has more than ${longestWord} characters: this is not a value change dump.`);
    this.rest = new Uint8Array(0);
  }

  end(): Capture {
    this.push(Uint8Array.of(blank));
    if (this.inHeader) this.fault('The file ends before $enddefinitions.');
    if (this.section && !this.inHeader) this.fault(`${this.section[0]!} has no $end.`);
    const from = this.from ?? 0;
    const builders = [...new Set([...this.variables.values()].flatMap((v) => v.bits))];
    const wires = builders.map((b) => b.end(this.to));
    const {faults, faultCount} = this.found;
    return {wires, from, to: Math.max(this.to, from), faults, faultCount};
  }

  private read(bytes: Uint8Array, begin: number, end: number): void {
    let i = begin;
    while (i < end) {
      const byte = bytes[i]!;
      if (isBlank(byte)) {
        if (byte === newline) this.line++;
        i++;
        continue;
      }
      let stop = i + 1;
      while (!isBlank(bytes[stop]!)) stop++;
      if (this.inHeader || this.section || this.vector !== undefined) this.word(text(bytes, i, stop));
      else if (byte === hash) this.moment(bytes, i + 1, stop);
      else this.change(bytes, i, stop);
      i = stop;
    }
  }

  /** A token of the header, of a comment, or the code after a vector. */
  private word(token: string): void {
    if (this.vector !== undefined) return this.setVector(token);
    if (!this.section) {
      this.section = [token];
      if (!token.startsWith('$')) {
        this.section = undefined;
        this.fault(`"${shown(token)}" stands in the header outside of any section.`);
      } else if (token === '$end') this.section = undefined;
      return;
    }
    if (token !== '$end') {
      if (needed.has(this.section[0]!) && this.section.length < maxWords) this.section.push(token);
      return;
    }
    const [keyword, ...words] = this.section;
    this.section = undefined;
    this.header(keyword!, words);
  }

  private header(keyword: string, words: readonly string[]): void {
    switch (keyword) {
      case '$timescale':
        return this.setScale(words.join(''));
      case '$scope':
        return void this.scopes.push(this.scopeName(words[1] ?? ''));
      case '$upscope':
        if (this.scopes.pop() === undefined) this.fault('$upscope without a $scope before it.');
        return;
      case '$var':
        return this.declare(words);
      case '$enddefinitions':
        this.inHeader = false;
        if (this.scale === undefined) this.fault('There is no $timescale: times are taken for nanoseconds.');
        return;
      // $date, $version, $comment and what tools add: nothing that a wire needs.
      default:
    }
  }

  private setScale(told: string): void {
    const read = /^(1|10|100)(s|ms|us|ns|ps|fs)$/.exec(told);
    if (read) this.scale = Number(read[1]) * units[read[2]!]!;
    else this.fault(`$timescale ${shown(told)} is not 1, 10 or 100 of s, ms, us, ns, ps or fs.`);
  }

  /** type, size, code, reference and an optional range such as [7:0] or [3]. */
  private declare(words: readonly string[]): void {
    const [type = '', sizeText = '', code = '', reference = '', ...range] = words;
    const size = Number(sizeText);
    if (!code || !reference || !Number.isInteger(size) || size < 1)
      return this.fault(`$var ${shown(words.join(' '))} is not type, size, code and name.`);
    if (type === 'real' || type === 'realtime' || type === 'event') return void this.keep(code, {bits: []});
    if (size > maxBits) {
      this.keep(code, {bits: []});
      return this.fault(`"${reference}" has ${size} bits; up to ${maxBits} are read.`);
    }
    const known = this.variables.get(code);
    this.declared += size;
    if (this.declared > maxWires) {
      if (!known) this.keep(code, {bits: []});
      return this.fault(`More than ${maxWires} wires or names of wires: "${shown(reference)}" is skipped.`);
    }
    const name = this.named(reference);
    const names = bitNames(name, size, range.join(''));
    // Two names of one code are one wire: the first names it, the others are told beside it.
    if (known?.bits.length === size) known.bits.forEach((bit, i) => bit.alias(names[i]!));
    if (!known) this.keep(code, {bits: names.map((bit) => new WireBuilder(bit))});
  }

  private scopeName(name: string): string {
    const outer = this.scopes.at(-1) ?? '';
    return name && this.scopes.length < deepestScope ? shortened(`${outer}${name}.`) : outer;
  }

  private named(reference: string): string {
    return shortened(`${this.scopes.at(-1) ?? ''}${reference}`);
  }

  private keep(code: string, variable: Variable): void {
    this.variables.set(code, variable);
    if (code.length === 1) this.short[code.charCodeAt(0)] = variable;
  }

  private moment(bytes: Uint8Array, from: number, to: number): void {
    let ticks = 0;
    for (let i = from; i < to; i++) {
      const digit = bytes[i]! - 48;
      if (digit < 0 || digit > 9) return this.fault(`"#${shown(text(bytes, from, to))}" is not a time.`);
      ticks = ticks * 10 + digit;
    }
    if (from === to) return this.fault('"#" without a time.');
    const time = ticks * (this.scale ?? usualScale);
    if (time < this.time)
      return this.fault(`Time goes back to ${ticks}: what follows is taken to be at the time before.`);
    this.time = time;
    this.from ??= time;
    this.to = time;
  }

  /** 0!, 1!, x!, z!, the first half of b1010 !, or a keyword of the body. */
  private change(bytes: Uint8Array, from: number, to: number): void {
    const value = bytes[from]!;
    if (value === dollar) return this.keyword(text(bytes, from, to));
    const isVector = value === 98 || value === 66 || value === 114 || value === 82;
    if (isVector) {
      this.vector = text(bytes, from, to);
      return;
    }
    const level = scalar(value);
    if (level === null) return this.fault(`"${shown(text(bytes, from, to))}" is not a change of a value.`);
    const variable = to - from === 2 ? this.short[bytes[from + 1]!] : this.variables.get(text(bytes, from + 1, to));
    if (!variable) return this.fault(`Code "${shown(text(bytes, from + 1, to))}" was not declared.`);
    this.from ??= this.time;
    variable.bits.at(-1)?.set(level, this.time);
  }

  private keyword(token: string): void {
    if (token === '$comment') this.section = [token];
    else if (!['$dumpvars', '$dumpall', '$dumpon', '$dumpoff', '$end'].includes(token))
      this.fault(`"${shown(token)}" is not a keyword of the body.`);
  }

  private setVector(code: string): void {
    const told = this.vector!;
    this.vector = undefined;
    const variable = this.variables.get(code);
    if (!variable) return this.fault(`Code "${shown(code)}" was not declared.`);
    if (told[0] === 'r' || told[0] === 'R') return;
    const {bits} = variable;
    if (this.vectorTimes > this.bytesRead + spareTimes)
      return this.fault('Vectors change more wires than a recording of this size can: this change is skipped.');
    const digits = told.slice(1);
    const values: Value[] = [];
    for (const digit of digits) {
      const level = scalar(digit.charCodeAt(0));
      if (level === null) return this.fault(`"${shown(told)}" is not a vector of 0, 1, x and z.`);
      values.push(level);
    }
    // What is left out on the left is 0, or x or z where the first digit is (IEEE 1364, 18.2.2).
    const fill = values[0] === undefined ? undefined : 0;
    bits.forEach((bit, i) => {
      const at = i - (bits.length - values.length);
      const before = bit.kept;
      bit.set(at < 0 ? fill : values[at], this.time);
      this.vectorTimes += bit.kept - before;
    });
  }

  private fault(meaning: string): void {
    this.found.add(this.line, meaning);
  }
}

/** null for what is no value. */
function scalar(byte: number): Value | null {
  if (byte === 48) return 0;
  if (byte === 49) return 1;
  const isUnknown = byte === 120 || byte === 88 || byte === 122 || byte === 90;
  return isUnknown ? undefined : null;
}

/** A wire for each bit, the most significant first; names count as the range does. */
function bitNames(name: string, size: number, range: string): string[] {
  if (size === 1) return [name + range];
  const [high, low] = (/^\[(\d+):(\d+)\]$/.exec(range) ?? []).slice(1).map(Number);
  const first = high ?? size - 1;
  const step = first >= (low ?? 0) ? -1 : 1;
  return Array.from({length: size}, (_, i) => `${name}[${first + step * i}]`);
}

const text = (bytes: Uint8Array, from: number, to: number): string =>
  String.fromCharCode(...bytes.subarray(from, Math.min(to, from + 10_000)));
const shortened = (name: string): string => (name.length > longestName ? `${name.slice(0, longestName - 1)}…` : name);
const shown = (token: string): string => (token.length > 40 ? `${token.slice(0, 40)}…` : token);

function joined(a: Uint8Array, b: Uint8Array): Uint8Array<ArrayBuffer> {
  const all = new Uint8Array(a.length + b.length);
  all.set(a);
  all.set(b, a.length);
  return all;
}
