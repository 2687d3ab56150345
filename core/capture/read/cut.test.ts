/** Captures of the other generator (core/fixtures/make-capture.py), begun and ended anywhere: what was cut is no frame, and nothing is lost that was whole. */
import {readFileSync} from 'node:fs';
import {gunzipSync} from 'node:zlib';
import {describe, expect, it} from 'vitest';
import {levelAfter, type Wire} from './capture';
import {decodeWire} from '../decode/decode-wire';
import {readerFor} from './read-capture';

function load(name: string): Wire {
  const bytes = gunzipSync(readFileSync(new URL(`../../fixtures/${name}.vcd.gz`, import.meta.url)));
  const reader = readerFor(bytes);
  reader.push(bytes);
  return reader.end().wires[0]!;
}

/** The wire between two of its edges; the capture begins and ends a moment beside them. */
function cut(wire: Wire, begin: number, end: number) {
  const edges = wire.edges.subarray(begin, end);
  const piece = {...wire, first: levelAfter(wire, begin), edges};
  return decodeWire(piece, {from: edges[0]! - 1e-7, to: edges.at(-1)! + 1e-7});
}

describe.each([
  ['capture-2', 'DShot300 with replies'],
  ['capture-3', 'DShot600 with replies at 8 kHz'],
  ['capture-5', 'the same, with jitter and 2 % off'],
  ['capture-1', 'DShot150 without replies'],
  ['capture-10', 'DShot600 without replies at 32 kHz'],
])('%s, %s', (name) => {
  const wire = load(name);
  const whole = decodeWire(wire, {from: 0, to: wire.edges.at(-1)! + 1e-3});
  const timesOf = new Set(whole.commands.map(({t}) => Math.round(t * 1e6)));
  const near = (t: number) => [-1, 0, 1].some((us) => timesOf.has(Math.round(t * 1e6) + us));

  it('begun at any edge: every command and every reply that is there is one of the whole capture', () => {
    for (let begin = 1; begin < 130; begin++) {
      const {commands, replies} = cut(wire, begin, wire.edges.length);
      expect(commands.every(({t, ok}) => ok && near(t))).toBe(true);
      expect(replies.every(({status}) => status === 'ok')).toBe(true);
      const later = whole.commands.filter(({t}) => t > wire.edges[begin]! - 0.3e-6).length;
      expect(commands).toHaveLength(later);
    }
  });

  it('ended at any edge: the last exchange is left out until it can be whole', () => {
    for (let less = 1; less < 130; less++) {
      const end = wire.edges.length - less;
      const {commands, replies} = cut(wire, 0, end);
      expect(commands.every(({t, ok}) => ok && near(t))).toBe(true);
      // The last three bits of a reply may be rest: cut there it has come, and does not check.
      expect(replies.slice(0, -1).every(({status}) => status === 'ok')).toBe(true);
      const bit = whole.rate!.bitS;
      const sure = whole.commands.filter(
        ({t}) => t + (whole.bidirectional ? 37 : 16) * bit + 36e-6 < wire.edges[end - 1]!,
      );
      expect(commands.length).toBeGreaterThanOrEqual(sure.length);
      expect(commands.length).toBeLessThanOrEqual(sure.length + 2);
    }
  });
});

it('one command with rest around it is read; half a command is none', () => {
  const wire = load('capture-1');
  const of = (begin: number, end: number) => {
    const edges = wire.edges.subarray(begin, end);
    return decodeWire({...wire, edges}, {from: edges[0]! - 1e-4, to: edges.at(-1)! + 1e-4});
  };
  expect(of(32, 64).commands).toHaveLength(1);
  expect(of(40, 64)).toMatchObject({protocol: 'unknown', commands: []});
});

it('a command in the midst that does not read stays one that does not', () => {
  const wire = load('capture-1');
  const edges = Float64Array.from([...wire.edges].filter((_, i) => i !== 40 && i !== 41));
  const {commands} = decodeWire({...wire, edges}, {from: 0, to: edges.at(-1)! + 1e-3});
  expect(commands.map(({ok}) => ok)).toEqual(commands.map((_, i) => i !== 1));
});
