/** What a captured wire says: wires made by a generator in another language (core/fixtures/make-capture.py), as analysers see them. */
import {readFileSync} from 'node:fs';
import {gunzipSync} from 'node:zlib';
import {describe, expect, it} from 'vitest';
import type {Wire} from '../capture/read/capture';
import {decodeWire} from '../capture/decode/decode-wire';
import {readerFor} from '../capture/read/read-capture';
import {timeGrid} from '../capture/read/time-grid';
import {captureFindings} from './capture-findings';

const fixture = (name: string) => readFileSync(new URL(`../fixtures/${name}`, import.meta.url));
const {captures} = JSON.parse(fixture('capture.json').toString('utf8')) as {
  captures: readonly {
    readonly file: string;
    readonly protocol: string;
    readonly errorPercent: number;
    readonly glitches: number;
    readonly replies: readonly {readonly status: string}[];
  }[];
};

function captureOf(file: string) {
  const reader = readerFor(gunzipSync(fixture(file)));
  reader.push(gunzipSync(fixture(file)));
  const {wires, from, to} = reader.end();
  return {wire: wires[0]!, from, to};
}
/** A wire as an analyser sees it that looks once every `stepS`. */
const sampled = (wire: Wire, stepS: number): Wire => ({
  ...wire,
  edges: wire.edges.map((edge) => Math.ceil(edge / stepS) * stepS).filter((edge, i, all) => edge !== all[i - 1]),
});
const clean = captures.find(
  ({protocol, glitches, replies, errorPercent}) =>
    protocol === 'dshot300' && !glitches && !errorPercent && replies.every((r) => r.status === 'ok'),
)!;
const {wire, ...span} = captureOf(clean.file);
const findingsOf = (of: Wire) => captureFindings(decodeWire(of, span), undefined);

describe('the samples of an analyser', () => {
  it('show in the edges; times as they were show none', () => {
    expect(timeGrid(wire.edges)).toBeUndefined();
    for (const stepS of [1e-6, 5e-7, 4.16667e-8, 1e-8])
      expect(timeGrid(sampled(wire, stepS).edges)! / stepS).toBeCloseTo(1, 3);
    expect(timeGrid(wire.edges.subarray(0, 8))).toBeUndefined();
  });

  it('a clean wire is sound; looked at every 1 µs it says nothing about the wire, and blames none', () => {
    expect(findingsOf(wire).map((f) => f.id)).toEqual(['sound']);
    const coarse = findingsOf(sampled(wire, 1e-6));
    expect(coarse[0]).toMatchObject({id: 'sampling', tag: 'wait'});
    expect(coarse[0]!.text).toContain('a sample every 1.00 µs; a bit of DShot300 lasts 3.3');
    for (const {text, tag} of coarse) {
      expect(tag).toBe('wait');
      expect(text).not.toMatch(/disturbed|noise on the wire/);
    }
  });

  it('one that nothing can be read of any more too; fast enough it is sound again', () => {
    const fast = captures.find(({protocol}) => protocol === 'dshot600')!;
    const own = captureOf(fast.file);
    const decoded = decodeWire(sampled(own.wire, 1.5e-6), own);
    expect(captureFindings(decoded, undefined)[0]?.id).toBe('sampling');
    expect(findingsOf(sampled(wire, 1e-7)).map((f) => f.id)).toEqual(['sound']);
  });
});

describe('a disturbed wire', () => {
  it('is told as that where the analyser looked often enough', () => {
    // Every seventh command loses a pulse.
    const edges = [...wire.edges];
    const bursts = edges.flatMap((edge, i) => (i > 0 && edge - edges[i - 1]! > 1e-4 ? [i] : []));
    bursts.filter((_, i) => i % 7 === 0).forEach((at, i) => edges.splice(at + 4 - 2 * i, 2));
    const bad = findingsOf({...wire, edges: Float64Array.from(edges)}).find((f) => f.id === 'commands');
    expect(bad).toMatchObject({tag: 'diff', text: expect.stringContaining('disturbed on its way')});
  });
});
