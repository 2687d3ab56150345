/** What views ask of a capture: columns of levels, frames as a list, rhythm, lengths of bits, speeds, and the table that is saved. */
import * as fc from 'fast-check';
import {describe, expect, it} from 'vitest';
import {encodeCommand} from '../../dshot/command';
import {encodeReply, encodePeriod, periodOfErpm, replyGroups, groupCodes, lineOfGroups} from '../../dshot/reply';
import {commandEdges, replyEdges} from '../../dshot/waveform';
import {bitLengths} from '../decode/bit-lengths';
import {levelAfter, type Level, type Wire} from '../read/capture';
import {commandRhythm} from '../decode/command-rhythm';
import {decodeWire} from '../decode/decode-wire';
import {carriedText, faultyRows, firstCommandFrom, frameAt, frameCount} from '../decode/frames';
import {framesCsv} from './frames-csv';
import {firstFrom, levelColumns, sawHigh, sawLow, sawUnknown} from '../read/level-columns';
import {speedSeries} from './speed-series';
import {timelineWire} from './timeline';

const wireOf = (edges: readonly number[], first: Level = 0, unknown: readonly number[] = []): Wire => ({
  ...{name: 'probe.d0', first, edges: Float64Array.from(edges), unknown: Float64Array.from(unknown)},
});

/** So many exchanges at DShot300; some without reply, some with a wrong checksum, one command late. */
function exchanges({count = 40, missing = [] as number[], bad = [] as number[], late = -1} = {}) {
  let at = 40;
  const edges = Array.from({length: count}, (_, i) => {
    at += i === late ? 700 : i ? 250 : 0;
    const groups = replyGroups(encodePeriod(periodOfErpm(70_000 + 500 * i)));
    if (bad.includes(i)) groups[3] = groupCodes[(groupCodes.indexOf(groups[3]!) + 1) % 16]!;
    const command = commandEdges(encodeCommand({value: 48 + i, telemetryRequest: i === 3}, true), 'dshot300', true);
    const reply = missing.includes(i) ? [] : replyEdges(lineOfGroups(groups), 'dshot300');
    return [...command, ...reply].map(({us}) => (us + at) * 1e-6);
  }).flat();
  const wire = wireOf(edges, 1);
  return {wire, decoded: decodeWire(wire, {from: 0, to: edges.at(-1)! + 1e-3})};
}

describe('columns of levels', () => {
  it('hold exactly the levels that were there, whatever the edges and the stretch', () => {
    const times = fc.array(fc.integer({min: 1, max: 100_000}), {maxLength: 300});
    fc.assert(
      fc.property(times, fc.integer({min: 0, max: 90_000}), fc.integer({min: 1, max: 60_000}), (raw, from, width) => {
        const edges = [...new Set(raw)].sort((a, b) => a - b);
        const columns = 37;
        const seen = levelColumns(wireOf(edges), {from, to: from + width, columns});
        for (let c = 0; c < columns; c++) {
          const [a, b] = [from + (c * width) / columns, from + ((c + 1) * width) / columns];
          const before = levelAfter({first: 0}, edges.filter((e) => e < a).length);
          const isCrossed = edges.some((e) => e >= a && e < b);
          // Where an edge lies on the seam of two columns, either may have it.
          if (edges.some((e) => Math.abs(e - a) < 1e-6 || Math.abs(e - b) < 1e-6)) continue;
          expect(seen[c], `column ${c}`).toBe(isCrossed ? sawLow | sawHigh : before ? sawHigh : sawLow);
        }
      }),
      {seed: 14, numRuns: 200},
    );
  });

  it('mark what nobody knew, and a wire that never had a level', () => {
    const seen = levelColumns(wireOf([10], 0, [40, 60]), {from: 0, to: 100, columns: 10});
    expect([...seen].map((s) => (s & sawUnknown ? 'x' : '-')).join('')).toBe('----xx----');
    expect(levelColumns({...wireOf([]), first: undefined}, {from: 0, to: 1, columns: 3})).toEqual(
      Uint8Array.of(sawUnknown, sawUnknown, sawUnknown),
    );
  });

  it('the first time from a moment on is the one that a search from the begin finds', () => {
    const times = Float64Array.from({length: 1000}, (_, i) => i * 3);
    for (const begin of [0, 5, 400]) {
      for (const time of [begin * 3, 1200, 1201, 2997, 4000])
        expect(firstFrom(times, time, begin)).toBe(Math.max(begin, Math.min(1000, Math.ceil(time / 3))));
    }
  });

  it('a million edges are squeezed in less than a frame of a screen', () => {
    const wire = wireOf(Array.from({length: 1_000_000}, (_, i) => i * 1e-6));
    const began = performance.now();
    for (let i = 0; i < 20; i++) levelColumns(wire, {from: 0.1, to: 0.9, columns: 1600});
    expect((performance.now() - began) / 20).toBeLessThan(16);
  });
});

describe('frames', () => {
  const {decoded} = exchanges({missing: [5], bad: [9], late: 20});

  it('are one list: every command and its reply, with verdict and meaning', () => {
    expect(frameCount(decoded)).toBe(80);
    expect(frameAt(decoded, 0, 14)).toMatchObject({kind: 'command', ok: true, text: 'throttle 1 of 2000, 0.0 %'});
    expect(frameAt(decoded, 6, 14).text).toContain('telemetry requested');
    expect(frameAt(decoded, 1, 14).text).toMatch(/^period \d+ µs, \d+ rpm$/);
    expect(frameAt(decoded, 1, undefined).text).toContain('eRPM');
    expect(frameAt(decoded, 11, 14)).toMatchObject({ok: false, text: 'no reply'});
    expect(frameAt(decoded, 19, 14)).toMatchObject({ok: false, text: 'wrong checksum'});
    expect(frameAt(decoded, 0, 14).bits).toHaveLength(16);
    expect([...faultyRows(decoded)]).toEqual([11, 19]);
    expect(carriedText(decoded)).toBe('DShot300, bidirectional');
  });

  it('the first command from a moment on', () => {
    expect(firstCommandFrom(decoded.commands, 0)).toBe(0);
    expect(firstCommandFrom(decoded.commands, decoded.commands[7]!.t)).toBe(7);
    expect(firstCommandFrom(decoded.commands, 1)).toBe(40);
  });

  it('as CSV: a line each, read back by splitting (RFC 4180)', () => {
    const lines = [...framesCsv(decoded, 14)].join('').trim().split('\n');
    expect(lines).toHaveLength(81);
    const cells = (row: number) => lines[row + 1]!.split(/,(?=(?:[^"]*"[^"]*")*[^"]*$)/);
    expect(cells(0).slice(1, 6)).toEqual(['command', '0', '48', '0', '1']);
    expect(Number(cells(0)[0])).toBeCloseTo(decoded.commands[0]!.t, 9);
    expect(cells(11)).toEqual(['', 'reply', '5', '', '', '0', '', '', '', 'no reply']);
    expect(Number(cells(1)[8])).toBeCloseTo(10_000, -2);
  });
});

describe('a stream of commands', () => {
  it('shows its loop rate, no jitter, and the gap with where it is', () => {
    const rhythm = commandRhythm(exchanges({late: 20}).decoded)!;
    expect(rhythm.loopHz).toBeCloseTo(4000, 3);
    expect(rhythm.jitterUs).toBeLessThan(0.01);
    expect(rhythm).toMatchObject({gapCount: 1, gaps: [{command: 20}]});
    expect(rhythm.gaps[0]!.lasts).toBeCloseTo(700e-6, 9);
    expect(rhythm.longestUs).toBeCloseTo(700, 3);
  });

  it('says nothing of two commands', () => {
    expect(commandRhythm(exchanges({count: 2}).decoded)).toBeUndefined();
  });
});

describe('lengths of bits', () => {
  it('lie at 3/8 and 3/4 of a bit (open trade protocol), and none is lost', () => {
    const {wire, decoded} = exchanges();
    const {fromUs, stepUs, counts} = bitLengths(wire, decoded)!;
    const at = [...counts.entries()].filter(([, n]) => n > 0).map(([i]) => fromUs + (i + 0.5) * stepUs);
    for (const us of at) expect(Math.min(Math.abs(us - 1.25), Math.abs(us - 2.5))).toBeLessThan(stepUs);
    expect(counts.reduce((a, b) => a + b)).toBe(40 * 16);
  });

  it('of pulses lie where the pulses are', () => {
    const edges = Array.from({length: 50}, (_, i) => [i * 2.5e-3 + 1e-4, i * 2.5e-3 + 1e-4 + (1100 + i) * 1e-6]).flat();
    const wire = wireOf(edges);
    const decoded = decodeWire(wire, {from: 0, to: 0.2});
    expect(decoded.protocol).toBe('analog');
    const {fromUs, stepUs, counts} = bitLengths(wire, decoded)!;
    expect(fromUs).toBeLessThan(1100);
    expect(fromUs + stepUs * counts.length).toBeGreaterThan(1149);
    expect(counts.reduce((a, b) => a + b)).toBe(50);
  });
});

describe('speeds over time', () => {
  it('are those of the replies; of many the lowest and highest of each column', () => {
    const {decoded} = exchanges({missing: [5]});
    const whole = speedSeries(decoded, 14);
    expect(whole.speed).toHaveLength(39);
    expect(whole.speed[0]).toBeCloseTo(10_000, -2);
    const few = speedSeries(decoded, 14, 4);
    expect(few.speed.length).toBeLessThanOrEqual(8);
    expect(Math.max(...few.speed)).toBe(Math.max(...whole.speed));
    expect(Math.min(...few.speed)).toBe(Math.min(...whole.speed));
  });
});

describe('a timeline', () => {
  const {wire, decoded} = exchanges({missing: [5], bad: [9]});
  const faulty = faultyRows(decoded);
  const look = (from: number, to: number, columns = 800) =>
    timelineWire(wire, decoded, {question: {from, to, columns, poles: 14}, faulty});

  it('near: frames with their bits; far: marks where something is wrong', () => {
    const {t} = decoded.commands[9]!;
    const near = look(t - 20e-6, t + 200e-6);
    expect(near.frames.map((f) => f.row)).toEqual([18, 19]);
    expect(near.frames[1]).toMatchObject({ok: false, text: 'wrong checksum'});
    expect(near.faults.length).toBe(1);
    const far = look(0, 11e-3, 60);
    expect(far.frames).toEqual([]);
    expect(far.faults.length).toBe(2);
  });

  it('a reply in an encoded stretch reads as it was sent', () => {
    const near = look(decoded.commands[0]!.t, decoded.commands[0]!.t + 300e-6);
    const reply = near.frames.find((f) => f.kind === 'reply')!;
    expect(lineOfGroups(replyGroups(parseInt(reply.bits!, 2)))).toBe(encodeReply(periodOfErpm(70_000)));
  });
});
