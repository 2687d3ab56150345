/**
 * Dumps that other programs wrote: Debian's iverilog simulating four wires (core/fixtures/make-capture.v), and gtkwave's
 * converters, vcd2fst and fst2vcd, on a dump of our other generator.
 */
import {readFileSync} from 'node:fs';
import {gunzipSync} from 'node:zlib';
import {describe, expect, it} from 'vitest';
import {decodeWire} from '../decode/decode-wire';
import {meaningOf} from '../ask/figures';
import {readerFor} from './read-capture';

function read(name: string, pieceLength = 4096) {
  const bytes = gunzipSync(readFileSync(new URL(`../../fixtures/${name}`, import.meta.url)));
  const reader = readerFor(bytes);
  for (let i = 0; i < bytes.length; i += pieceLength) reader.push(bytes.subarray(i, i + pieceLength));
  return reader.end();
}
const decoded = (capture: ReturnType<typeof read>, name: string) =>
  decodeWire(
    capture.wires.find((w) => w.name === name)!,
    capture,
  );

describe('a dump by iverilog', () => {
  const capture = read('capture-iverilog.vcd.gz');

  it('is read without a fault: nested scopes, vectors bit by bit, integers, reals, unknown values', () => {
    expect(capture.faults).toEqual([]);
    expect(capture.wires.length).toBeGreaterThan(200);
    expect(capture.wires.some((w) => w.name === 'bench.send600.word[15]')).toBe(true);
    expect(capture.wires.some((w) => w.name.includes('throttle'))).toBe(false);
  });

  it('a vector of two wires carries DShot600 on one and DShot300 on the other', () => {
    const [fast, slow] = [decoded(capture, 'bench.plain[1]'), decoded(capture, 'bench.plain[0]')];
    expect([fast.protocol, slow.protocol]).toEqual(['dshot600', 'dshot300']);
    expect(fast.commands.map((c) => c.value)).toEqual(Array.from({length: 64}, (_, i) => 32 * i));
    expect(slow.commands.map((c) => c.value)).toEqual(Array.from({length: 32}, (_, i) => 2047 - 60 * i));
    expect([...fast.commands, ...slow.commands].every((c) => c.ok)).toBe(true);
  });

  it('a bidirectional wire: every reply after 30 µs, the one that did not come missing', () => {
    const wire = decoded(capture, 'bench.bidirectional');
    expect(wire).toMatchObject({protocol: 'dshot300', bidirectional: true, inverted: true});
    expect(wire.turnaroundUs).toBeCloseTo(30, 3);
    expect(wire.replies.map((r) => r.status)).toEqual(Array.from({length: 32}, (_, i) => (i === 7 ? 'missing' : 'ok')));
    expect(meaningOf(wire, 0)).toEqual({kind: 'speed', period: 'stopped'});
  });
});

it('a dump that went through vcd2fst and fst2vcd says what the one before said', () => {
  const [before, after] = [read('capture-3.vcd.gz'), read('capture-gtkwave.vcd.gz')];
  expect(after.faults).toEqual([]);
  const [a, b] = [before, after].map((c) => decodeWire(c.wires[0]!, c));
  expect(b).toEqual({...a, name: after.wires[0]!.name});
  expect(b!.commands.length).toBeGreaterThan(10);
});
