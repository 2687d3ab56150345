import * as fc from 'fast-check';
import {describe, expect, it} from 'vitest';
import {hexToBytes, bytesToHex} from '@noble/hashes/utils.js';
import {Harness} from '@simulator/testing/bench-harness';
import {decodeCbor, decodeMessage, encodeCbor, encodeMessage} from './message';
import {longestFrame, SlipDecoder, slipEncode} from './slip';

describe('SLIP, RFC 1055', () => {
  it('hides END and ESC as the RFC says', () => {
    expect(bytesToHex(slipEncode(Uint8Array.of(0x01, 0xc0, 0xdb, 0x02)))).toBe('c001dbdcdbdd02c0');
  });
  it('any frames come back, cut anywhere', () => {
    fc.assert(
      fc.property(
        fc.array(fc.uint8Array({minLength: 1, maxLength: 60}), {maxLength: 6}),
        fc.integer({min: 1, max: 9}),
        (frames, cut) => {
          const stream = frames.flatMap((f) => [...slipEncode(f)]);
          const decoder = new SlipDecoder();
          const out: Uint8Array[] = [];
          for (let i = 0; i < stream.length; i += cut)
            out.push(...decoder.push(Uint8Array.from(stream.slice(i, i + cut))));
          expect(out.map((f) => [...f])).toEqual(frames.map((f) => [...f]));
        },
      ),
      {seed: 21},
    );
  });
  it('drops and counts a wrong escape and an endless frame, then goes on', () => {
    const decoder = new SlipDecoder();
    expect(decoder.push(Uint8Array.of(0xc0, 1, 0xdb, 7, 0xc0))).toEqual([]);
    expect(decoder.push(new Uint8Array(longestFrame + 10))).toEqual([]);
    expect(decoder.push(Uint8Array.of(0xc0, 5, 0xc0)).map((f) => [...f])).toEqual([[5]]);
    expect(decoder.dropped).toBe(2);
  });
});

describe('CBOR, RFC 8949 Appendix A', () => {
  it.each([
    ['00', 0],
    ['17', 23],
    ['1818', 24],
    ['1903e8', 1000],
    ['1a000f4240', 1_000_000],
    ['20', -1],
    ['3903e7', -1000],
    ['fb3ff199999999999a', 1.1],
    ['f4', false],
    ['f5', true],
    ['f6', null],
    ['60', ''],
    ['6449455446', 'IETF'],
    ['62c3bc', 'ü'],
    ['83010203', [1, 2, 3]],
    ['a26161016162820203', {a: 1, b: [2, 3]}],
  ])('%s', (hex, value) => {
    expect(decodeCbor(hexToBytes(hex))).toEqual(value);
    expect(bytesToHex(encodeCbor(value))).toBe(hex);
  });
  it('byte strings are byte strings', () => {
    expect(bytesToHex(encodeCbor(Uint8Array.of(1, 2, 3, 4)))).toBe('4401020304');
    expect(decodeCbor(hexToBytes('4401020304'))).toEqual(Uint8Array.of(1, 2, 3, 4));
  });
});

describe('messages', () => {
  const body = (m: Parameters<typeof encodeMessage>[0]) => new SlipDecoder().push(encodeMessage(m))[0]!;
  it("the worked frame of docs/bench-link.md; its CRC is what Python's binascii.crc_hqx gives", () => {
    expect(bytesToHex(encodeMessage({sequence: 1, operation: 'hello', argument: null}))).toBe(
      'c0' + '83016568656c6c6ff6' + '031c' + 'c0',
    );
  });
  it('any flipped bit is caught', () => {
    const good = body({
      sequence: 7,
      operation: 'esc.read',
      argument: {output: 1, address: 0x1000, length: 16},
    });
    for (let bit = 0; bit < good.length * 8; bit++) {
      const bad = good.slice();
      bad[bit >> 3]! ^= 1 << (bit & 7);
      expect(decodeMessage(bad)).toBe('bad-crc');
    }
  });
  it('a whole frame with something else in it is told from a damaged one', () => {
    expect(decodeMessage(Uint8Array.of(1))).toBe('bad-crc');
    const wrong = new SlipDecoder().push(encodeMessage({sequence: -5, operation: 'x', argument: 1}))[0]!;
    expect(decodeMessage(wrong)).toBe('bad-shape');
  });
});

describe('client and bench', () => {
  it('a repeat of a lost answer does nothing twice', async () => {
    const h = new Harness();
    await h.run(h.client.request('esc.enter', {output: 0}));
    const spoil = h.bench.mishaps;
    const lose = h.run(h.client.request('esc.erase', {output: 0, address: 0x2000}));
    // Answers are lost for two seconds: the client repeats, the bench answers from memory.
    h.time.after(1, () => (spoil.loss = 1));
    h.time.after(3000, () => (spoil.loss = 0));
    await lose;
    expect(h.client.counters.repeats).toBe(2);
    expect([...h.bench.escs[0]!.flash.read(0x2000, 4)]).toEqual([255, 255, 255, 255]);
  });
  it('told to refuse changes, it begins none, not even by repeating, and lets the rest through', async () => {
    const h = new Harness();
    await h.run(h.client.request('esc.enter', {output: 0}));
    const before = [...h.bench.escs[0]!.flash.read(0x2000, 64)];
    // The first request is lost on the way; before it is repeated there is no record any more.
    h.bench.mishaps.loss = 1;
    const lost = h.run(h.client.request('esc.erase', {output: 0, address: 0x2000}));
    h.time.after(500, () => {
      h.bench.mishaps.loss = 0;
      h.client.refuseChanges({code: 'abandoned', place: 'work order', meaning: 'Ended.', remedy: 'Resume.'});
    });
    await expect(lost).rejects.toMatchObject({problem: {code: 'abandoned'}});
    const next = h.run(h.client.request('esc.erase', {output: 0, address: 0x2400}));
    await expect(next).rejects.toMatchObject({problem: {code: 'abandoned'}});
    expect([...h.bench.escs[0]!.flash.read(0x2000, 64)]).toEqual(before);
    expect((await h.run(h.client.request('power', null))).volts).toBeGreaterThan(10);
    h.client.refuseChanges(undefined);
    await h.run(h.client.request('esc.erase', {output: 0, address: 0x2000}));
    expect([...h.bench.escs[0]!.flash.read(0x2000, 4)]).toEqual([255, 255, 255, 255]);
  });
  it('a bad argument and an unknown operation are refused with a reason', async () => {
    const h = new Harness();
    const say = (operation: never, argument: never) =>
      h.run(h.client.request(operation, argument)).catch((e: {problem: {code: string}}) => e.problem.code);
    expect(await say('esc.read' as never, {output: 7, address: 0, length: 1} as never)).toBe('no-output');
  });
  it('the bootloader refuses its own range, and reading outside flash', async () => {
    const h = new Harness();
    await h.run(h.client.request('esc.enter', {output: 2}));
    const code = (work: Promise<unknown>) =>
      h.run(work).then(
        () => 'done',
        (e: {problem: {code: string}}) => e.problem.code,
      );
    expect(await code(h.client.request('esc.erase', {output: 2, address: 0x0800}))).toBe('protected');
    expect(await code(h.client.request('esc.write', {output: 2, address: 0x0ff0, bytes: new Uint8Array(32)}))).toBe(
      'protected',
    );
    expect(await code(h.client.request('esc.read', {output: 2, address: 0xffff, length: 4}))).toBe('bad-address');
    expect(await code(h.client.request('esc.read', {output: 1, address: 0x1000, length: 4}))).toBe('not-in-bootloader');
  });
  it('a pulled cable rejects what is open and everything after', async () => {
    const h = new Harness();
    const open = h.client.request('esc.enter', {output: 0});
    h.time.after(5, () => h.bench.detach());
    await expect(h.run(open)).rejects.toMatchObject({problem: {code: 'cable-out'}});
    await expect(h.client.request('hello', null)).rejects.toMatchObject({problem: {code: 'cable-out'}});
    expect(h.client.isClosed).toBe(true);
  });
});
