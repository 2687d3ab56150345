/** Waveforms that are drawn and written are read back by the decoder; bits someone typed get their meaning or their fault. */
import {describe, expect, it} from 'vitest';
import {encodeCommand} from '../../dshot/command';
import {commandText, namedCommands} from '../../dshot/command-names';
import {digitalProtocols} from '../../dshot/protocol';
import {readBits} from '../../dshot/read-bits';
import {encodeReply} from '../../dshot/reply';
import {commandEdges, replyEdges} from '../../dshot/waveform';
import {decodeWire} from '../decode/decode-wire';
import {meaningOf} from './figures';
import {VcdReader} from '../read/vcd';
import {writeVcd} from '../read/write-vcd';
import type {Wire} from '../read/capture';

const wireOf = (us: readonly number[], first: 0 | 1, name = 'a.b c'): Wire => ({
  ...{name, first, unknown: new Float64Array(0)},
  edges: Float64Array.from(us, (t) => (t + 50) * 1e-6),
});

describe('a drawn frame', () => {
  it.each(digitalProtocols.flatMap((p) => [false, true].map((b) => [p, b] as const)))(
    'of %s, bidirectional %s, is read back from the dump that was written',
    (protocol, bidirectional) => {
      const word = encodeCommand({value: 1046, telemetryRequest: true}, bidirectional);
      const edges = [
        ...commandEdges(word, protocol, bidirectional),
        ...(bidirectional ? replyEdges(encodeReply(1200), protocol) : []),
      ];
      const text = writeVcd(
        [
          wireOf(
            edges.map((e) => e.us),
            bidirectional ? 1 : 0,
          ),
          wireOf([], 0, 'still'),
        ],
        500e-6,
      );
      const reader = new VcdReader();
      reader.push(new TextEncoder().encode(text));
      const capture = reader.end();
      expect(capture.faults).toEqual([]);
      expect(capture.wires.map((w) => w.name)).toEqual(['a.b_c', 'still']);
      const wire = decodeWire(capture.wires[0]!, capture);
      expect(wire).toMatchObject({protocol, bidirectional, inverted: bidirectional});
      expect(wire.commands).toMatchObject([{value: 1046, telemetry: true, ok: true}]);
      if (bidirectional) expect(meaningOf(wire, 0)).toEqual({kind: 'speed', period: 1200});
    },
  );

  it('takes the time that facts of the trade give: 16 bits of 3.333 µs, 30 µs, 21 bits at 5/4 of the rate', () => {
    expect(commandEdges(0x8000, 'dshot300', false).slice(0, 3)).toEqual([
      {us: 0, level: 1},
      {us: expect.closeTo(2.5, 3) as number, level: 0},
      {us: expect.closeTo(3.333, 3) as number, level: 1},
    ]);
    const reply = replyEdges(0b000000000000000000001, 'dshot300');
    expect(reply).toEqual([
      {us: expect.closeTo(83.33, 2) as number, level: 0},
      {us: expect.closeTo(83.33 + 20 * 2.667, 2) as number, level: 1},
    ]);
  });
});

describe('bits that someone typed', () => {
  it.each([
    // The published example (from memory): 1046 without telemetry request is 0x82C6.
    ['0x82C6', true, /^Value 1046: throttle 999 of 2000, 49\.9 %\. Checksum 0x6, that of a plain wire\.$/],
    ['1000 0010 1100 0110', true, /^Value 1046/],
    ['82C9', true, /bidirectional wire/],
    ['0x82C5', false, /^Checksum 0x5; value 1046 .* has 0x6 on a plain wire and 0x9 on a bidirectional one\.$/],
    ['00D2', true, /^Value 6: send version, telemetry requested/],
    [encodeReply(1200).toString(2).padStart(21, '0'), true, /a period of 1200 µs, 50000 eRPM; with 14 poles 7143 rpm/],
    [`0x${encodeReply('stopped').toString(16).padStart(5, '0')}`, true, /the motor has stopped/],
    ['00000 11001 11001 11001', false, /^Group 1 of 4 is 00000, which is not a valid GCR code/],
    ['11001 11001 11001 11001', false, /^Checksum 0x0; 0x0 has 0xF\.$/],
    ['100000000000000000000', false, /begins with 0/],
    ['0xFFFFFF', false, /at most 0x1FFFFF/],
    ['hello', false, /^Type 16 bits/],
    ['', false, /^Type 16 bits/],
  ])('%s', (told, ok, text) => {
    const read = readBits(told, 14);
    expect(read.text).toMatch(text);
    expect(read.ok).toBe(ok);
  });

  it('every command and every speed has words', () => {
    expect(namedCommands.map((c) => c.value)).toEqual([...Array(15).keys(), 20, 21]);
    for (let value = 0; value < 2048; value++) expect(commandText(value)).not.toBe('');
    expect([commandText(48), commandText(2047), commandText(30)]).toEqual([
      'throttle 1 of 2000, 0.0 %',
      'throttle 2000 of 2000, 100.0 %',
      'command 30, reserved',
    ]);
  });
});
