/** DShot (open trade protocol) against values of the published description and a second, table-driven form. */
import * as fc from 'fast-check';
import {describe, expect, it} from 'vitest';
import {decodeCommand, encodeCommand, throttleValue, valueThrottle} from './command';
import {loopBudget} from './loop-budget';
import {wireTime} from './wire-time';
import {bitUs} from './protocol';
import {decodeReply, encodeReply, erpmOfPeriod, rpmOfErpm} from './reply';

describe('command frames', () => {
  it('the published example: 1046 without telemetry request is 0x82C6 (from memory)', () => {
    expect(encodeCommand({value: 1046, telemetryRequest: false}, false)).toBe(0x82c6);
  });

  it('all 2048 values agree with a form that adds nibbles as text, both ways', () => {
    for (let value = 0; value < 2048; value++)
      for (const telemetryRequest of [false, true]) {
        const body = value.toString(2).padStart(11, '0') + (telemetryRequest ? '1' : '0');
        const nibbles = body.match(/.{4}/g)!;
        const sum = [0, 1, 2, 3].map((i) => (nibbles.filter((n) => n[i] === '1').length % 2 ? '1' : '0')).join('');
        const flipped = [...sum].map((b) => (b === '1' ? '0' : '1')).join('');
        expect(encodeCommand({value, telemetryRequest}, false)).toBe(parseInt(body + sum, 2));
        expect(encodeCommand({value, telemetryRequest}, true)).toBe(parseInt(body + flipped, 2));
        expect(decodeCommand(parseInt(body + sum, 2), false)).toEqual({
          ok: true,
          value: {value, telemetryRequest},
        });
      }
  });

  it('any single flipped bit is caught', () => {
    fc.assert(
      fc.property(fc.integer({min: 0, max: 2047}), fc.integer({min: 0, max: 15}), (value, bit) => {
        expect(decodeCommand(encodeCommand({value, telemetryRequest: false}, true) ^ (1 << bit), true).ok).toBe(false);
      }),
      {seed: 3},
    );
  });

  it('a value beyond 11 bits is a bug of the caller', () => {
    expect(() => encodeCommand({value: 2048, telemetryRequest: false}, false)).toThrow(
      'DShot value 2048 is not 0…2047',
    );
  });

  it('throttle runs from 48 to 2047 in 2000 steps', () => {
    expect([throttleValue(0), throttleValue(1), valueThrottle(2047), valueThrottle(47)]).toEqual([0, 2047, 1, 0]);
    expect(new Set(Array.from({length: 2000}, (_, i) => throttleValue(Math.max(1e-9, i / 1999)))).size).toBe(2000);
  });
});

describe('replies', () => {
  // The 4-to-5 table of the description, written out once more.
  const table = '19 1B 12 13 1D 15 16 17 1A 09 0A 0B 1E 0D 0E 0F'
    .split(' ')
    .map((h) => parseInt(h, 16).toString(2).padStart(5, '0'));

  it('agree with a form that works on strings of bits', () => {
    for (const period of [1, 100, 511, 512, 1000, 4096, 20_000, 65_408]) {
      let exponent = 0;
      while (Math.round(period / 2 ** exponent) > 511) exponent++;
      const body =
        exponent.toString(2).padStart(3, '0') +
        Math.round(period / 2 ** exponent)
          .toString(2)
          .padStart(9, '0');
      const nibbles = body.match(/.{4}/g)!.map((n) => parseInt(n, 2));
      const word = [...nibbles, ~(nibbles[0]! ^ nibbles[1]! ^ nibbles[2]!) & 0xf];
      let level = '0';
      const line =
        '0' +
        [...word.map((n) => table[n]!).join('')]
          .map((bit) => (level = bit === '1' ? (level === '1' ? '0' : '1') : level))
          .join('');
      expect(encodeReply(period).toString(2).padStart(21, '0'), String(period)).toBe(line);
    }
  });

  it('come back within the 9 bits of the mantissa', () => {
    fc.assert(
      fc.property(fc.integer({min: 1, max: 65_000}), (period) => {
        const back = decodeReply(encodeReply(period));
        expect(back.ok && typeof back.value === 'number' && Math.abs(back.value / period - 1)).toBeLessThan(1 / 512);
      }),
      {seed: 4},
    );
  });

  it('0xFFF means stopped', () => {
    expect(decodeReply(encodeReply('stopped'))).toEqual({ok: true, value: 'stopped'});
    expect(erpmOfPeriod('stopped')).toBe(0);
  });

  it('a group that is not in the table is told from a bad checksum', () => {
    const kinds = new Set<string>();
    for (let line = 0; line < 1 << 21; line += 977) {
      const reply = decodeReply(line);
      kinds.add(reply.ok ? 'ok' : reply.problem);
    }
    expect([...kinds].sort()).toEqual(['bad-checksum', 'bad-group-code', 'ok']);
  });

  it('eRPM = 60·10⁶ / period, rpm = eRPM / pole pairs', () => {
    expect(erpmOfPeriod(600)).toBe(100_000);
    expect(rpmOfErpm(100_000, 14)).toBeCloseTo(14_285.7, 1);
  });
});

describe('loop budget', () => {
  it('bit times 6.667, 3.333 and 1.667 µs (open trade protocol)', () => {
    expect([bitUs('dshot150'), bitUs('dshot300'), bitUs('dshot600')].map((t) => t.toFixed(3))).toEqual([
      '6.667',
      '3.333',
      '1.667',
    ]);
  });

  it('a DShot300 exchange takes 53.3 + 30 + 56 µs: 21 bits at 5/4 of the rate', () => {
    const {commandUs, replyUs, totalUs} = wireTime('dshot300', true);
    expect([commandUs, replyUs, totalUs].map((t) => Math.round(t * 10) / 10)).toEqual([53.3, 56, 139.3]);
  });

  it('bidirectional DShot300 does not go with an 8 kHz loop; 4 kHz is right (common practice, no source)', () => {
    const fits = (loopHz: number) =>
      loopBudget({clockMhz: 216, loopHz, protocol: 'dshot300', replies: true, outputs: 4, biquadsPerAxis: 15}).wireFits;
    expect([fits(8000), fits(4000)]).toEqual([false, true]);
  });

  it('a 72 MHz controller is overloaded at 8 kHz and right at 2 kHz (common practice, no source)', () => {
    // Three harmonics of four motors, a moving notch, two low-passes.
    const filters = 3 * 4 + 1 + 2;
    const load = (loopHz: number) =>
      loopBudget({
        clockMhz: 72,
        loopHz,
        protocol: 'dshot300',
        replies: true,
        outputs: 4,
        biquadsPerAxis: filters,
      }).load;
    expect(load(8000)).toBeGreaterThan(0.65);
    expect(load(2000)).toBeLessThan(0.5);
  });
});
