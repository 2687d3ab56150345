/** Files that are made to be slow, to fill memory or to end in an error: what they cost is counted, not timed. */
import {describe, expect, it} from 'vitest';
import type {Capture} from './capture';
import {CsvEdgesReader} from './csv-edges';
import {glitchS, withoutGlitches} from '../decode/glitches';
import {VcdReader} from './vcd';
import {maxWires} from './wire-list';

function read(text: string): Capture & {bytes: number; times: number} {
  const reader = new VcdReader();
  const bytes = new TextEncoder().encode(text);
  for (let at = 0; at < bytes.length; at += 65_536) reader.push(bytes.subarray(at, at + 65_536));
  const capture = reader.end();
  const times = capture.wires.reduce((sum, w) => sum + w.edges.length + w.unknown.length, 0);
  return {...capture, bytes: bytes.length, times};
}
const head = '$timescale 1 ns $end\n';
const body = '$enddefinitions $end\n#0\n';
const told = ({faults}: Capture) => faults.map((f) => f.meaning).join(' ');

describe('a value change dump', () => {
  it('of 2 kB that declares 327,680 wires has as many as are read, and says so', () => {
    const vars = Array.from({length: 80}, (_, i) => `$var wire 4096 ${String.fromCharCode(33 + i)} w${i} $end`).join(
      '\n',
    );
    const capture = read(`${head}${vars}\n${body}`);
    expect(capture.wires).toHaveLength(maxWires);
    expect(capture.faultCount).toBe(79);
    expect(told(capture)).toContain('More than 4096 wires');
    // One empty list stands for all that never change.
    expect(new Set(capture.wires.map((w) => w.edges)).size).toBe(1);
  });

  it('with 60,000 names of one wire keeps those that it has room for', () => {
    const vars = Array.from({length: 60_000}, (_, i) => `$var wire 1 ! n${i} $end`).join('\n');
    const capture = read(`${head}${vars}\n${body}1!\n#5\n0!\n`);
    expect(capture.wires).toHaveLength(1);
    expect(capture.wires[0]!.also).toHaveLength(maxWires - 1);
    expect(capture.wires[0]!.edges).toEqual(Float64Array.of(5e-9));
    expect(capture.faultCount).toBe(60_000 - maxWires);
  });

  it('keeps no more than 8 bytes for each of its own where a short change sets a wide vector', () => {
    const changes = Array.from({length: 60_000}, (_, i) => `b${i % 2 ? 'x' : '0'} !\n#${i + 1}`).join('\n');
    const capture = read(`${head}$var wire 4096 ! w $end\n${body}${changes}\n`);
    expect(capture.times).toBeLessThan(capture.bytes + 1_010_000);
    expect(told(capture)).toContain('Vectors change more wires');
  });

  it('with scopes in scopes and endless comments keeps names short and drops the comments', () => {
    const scopes = Array.from({length: 20_000}, () => '$scope module abcdefgh $end').join('\n');
    const comment = `$comment ${'x '.repeat(200_000)}$end`;
    const vars = Array.from({length: 500}, (_, i) => `$var wire 1 c${i} w${i} $end`).join('\n');
    const capture = read(`${head}${comment}\n${scopes}\n${vars}\n${body}`);
    expect(Math.max(...capture.wires.map((w) => w.name.length))).toBeLessThanOrEqual(1_000);
    expect(capture.wires.at(-1)!.name.endsWith('w499')).toBe(true);
  });
});

it('an edge list with more columns than wires are read is refused with their number', () => {
  const reader = new CsvEdgesReader();
  reader.push(new TextEncoder().encode(`0${',1'.repeat(40_000)}\n`));
  expect(told(reader.end())).toContain('40001 columns');
});

describe('edges that crowd together', () => {
  it('by 200,000 are thinned without a call inside a call for each', () => {
    const edges = Float64Array.from({length: 200_000}, (_, i) => i * 50e-9);
    const {edges: kept, glitches} = withoutGlitches(edges);
    expect(kept.length + 2 * glitches).toBe(edges.length);
    for (let i = 1; i < kept.length; i++) expect(kept[i]! - kept[i - 1]!).toBeGreaterThanOrEqual(glitchS);
  });

  it('leave what stands apart in the middle of a long crowd', () => {
    // Twelve edges in two bunches that are 1 µs apart: the bunches are no one crowd.
    const bunch = (at: number) => Array.from({length: 6}, (_, i) => at + i * 30e-9);
    const {edges} = withoutGlitches(Float64Array.from([...bunch(0), ...bunch(1e-6), 5e-6]));
    expect(edges.at(-1)).toBe(5e-6);
  });
});
