/**
 * Captures made by a generator in another language (core/fixtures/make-capture.py): every command and reply gets the verdict
 * that is true of it, with jitter, rates that are off, glitches, replies that are missing or damaged.
 */
import {readFileSync} from 'node:fs';
import {gunzipSync} from 'node:zlib';
import {describe, expect, it} from 'vitest';
import {decodeCommand, encodeCommand} from '../../dshot/command';
import {decodeReplyBody, encodeReply} from '../../dshot/reply';
import {replyMeaning} from '../../dshot/reply-meaning';
import type {Capture} from './capture';
import {CsvEdgesReader} from './csv-edges';
import {decodeWire} from '../decode/decode-wire';
import {lossOf, meaningOf, speedOf} from '../ask/figures';
import {withoutGlitches} from '../decode/glitches';
import {readerFor} from './read-capture';
import {VcdReader} from './vcd';

interface Truth {
  readonly words: {
    readonly commands: {readonly plain: readonly number[]; readonly bidirectional: readonly number[]};
    readonly replies: readonly number[];
  };
  readonly captures: readonly {
    readonly file: string;
    readonly protocol: string;
    readonly inverted: boolean;
    readonly bidirectional: boolean;
    readonly errorPercent: number;
    readonly commands: readonly {readonly t: number; readonly value: number; readonly telemetry: boolean}[];
    readonly replies: readonly {
      readonly status: 'ok' | 'bad' | 'missing';
      readonly why?: string;
      readonly periodUs?: number;
    }[];
    readonly glitches: number;
  }[];
}
const fixture = (name: string) => readFileSync(new URL(`../../fixtures/${name}`, import.meta.url));
const truth = JSON.parse(fixture('capture.json').toString('utf8')) as Truth;

const bytesOf = (text: string) => new TextEncoder().encode(text);
function readVcd(text: string, pieceLength = Infinity): Capture {
  const [reader, bytes] = [new VcdReader(), bytesOf(text)];
  for (let i = 0; i < bytes.length; i += pieceLength) reader.push(bytes.slice(i, i + pieceLength));
  return reader.end();
}

describe('words', () => {
  it('of all commands, plain and bidirectional, are those of the other generator', () => {
    for (const bidirectional of [false, true]) {
      const words = truth.words.commands[bidirectional ? 'bidirectional' : 'plain'];
      words.forEach((word, i) => {
        const command = {value: i >> 1, telemetryRequest: i % 2 === 1};
        expect(encodeCommand(command, bidirectional)).toBe(word);
        expect(decodeCommand(word, bidirectional)).toEqual({ok: true, value: command});
      });
    }
  });

  it('of all replies carry their twelve bits', () =>
    truth.words.replies.forEach((line, body) => expect(decodeReplyBody(line)).toEqual({ok: true, value: body})));
});

describe.each(truth.captures)('$file, $protocol', (t) => {
  const text = gunzipSync(fixture(t.file)).toString('utf8');
  const capture = readVcd(text);
  const wire = decodeWire(capture.wires[0]!, capture);

  it('its protocol, polarity and rate are found', () => {
    expect(capture.faults).toEqual([]);
    expect(wire).toMatchObject({
      ...{name: 'board.motor', protocol: t.protocol, inverted: t.inverted, bidirectional: t.bidirectional},
      glitches: t.glitches,
    });
    expect(Math.abs(wire.rate!.errorPercent - t.errorPercent)).toBeLessThan(0.1);
    if (t.bidirectional) expect(Math.abs(wire.turnaroundUs! - 30)).toBeLessThan(0.1);
  });

  it('every command reads, at its time', () => {
    expect(wire.commands).toHaveLength(t.commands.length);
    t.commands.forEach((command, i) => {
      const {t: at, value, telemetry, ok} = wire.commands[i]!;
      expect({value, telemetry, ok}).toEqual({value: command.value, telemetry: command.telemetry, ok: true});
      expect(Math.abs(at - command.t)).toBeLessThan(0.3e-6);
    });
  });

  it('every reply has its verdict, and they add up', () => {
    expect(wire.replies.map((r) => r.status)).toEqual(t.replies.map((r) => r.status));
    t.replies.forEach((reply, i) => {
      expect(wire.replies[i]!.why).toBe(reply.why ?? null);
      expect(speedOf(meaningOf(wire, i), 14)?.periodUs).toBe(reply.periodUs);
    });
    const lost = t.replies.filter((r) => r.status !== 'ok').length;
    const {lossPercent} = lossOf(wire);
    if (t.replies.length) expect(lossPercent).toBeCloseTo((100 * lost) / t.replies.length, 9);
    else expect(lossPercent).toBeUndefined();
  });
});

describe('a value change dump', () => {
  const small = `$date today $end $timescale
    10 ps $end $scope module a $end $scope task b $end
    $var reg 3 ab v [2:0] $end $var wire 1 # clk $end $var real 64 r volts $end $upscope $end
    $var integer 2 ! n $end $var wire 1 # also $end $upscope $end $enddefinitions $end
    $comment nothing #5 1# here $end
    #10 $dumpvars b10 ab 0# bz ! r1.5 r $end
    #20 1# b111 ab #30 x# #40 0# b0 ! b1x ab #50`;

  it('scopes, vectors bit by bit, timescale, x and z, reals, comments, two names of one code', () => {
    const {wires, from, to, faults} = readVcd(small);
    expect(faults).toEqual([]);
    expect([from, to].map((t) => t * 1e12)).toEqual([100, 500].map((t) => expect.closeTo(t, 6) as number));
    expect(wires.map((w) => w.name)).toEqual(['a.b.v[2]', 'a.b.v[1]', 'a.b.v[0]', 'a.b.clk', 'a.n[1]', 'a.n[0]']);
    expect(wires.map((w) => w.also)).toEqual([undefined, undefined, undefined, ['a.also'], undefined, undefined]);
    const told = wires.map(({first, edges, unknown}) => [first, [...edges].map(inPs), [...unknown].map(inPs)]);
    expect(told).toEqual([
      // "b10" stands for 010, "b1x" for 01x.
      [0, [200, 400], []],
      [1, [], []],
      [0, [200], [400, 500]],
      [0, [200, 400], [300, 400]],
      [0, [], []],
      [0, [], []],
    ]);
  });
  const inPs = (time: number) => Math.round(time * 1e12);

  it.each([1, 2, 3, 7, 64])('in pieces of %d bytes is the same', (length) =>
    expect(readVcd(small, length)).toEqual(readVcd(small)),
  );

  it.each([
    ['1!', 1, /outside of any section/],
    ['$timescale 3 ns $end $enddefinitions $end', 1, /not 1, 10 or 100/],
    ['$timescale 1 ns $end\n$var wire x $end\n$enddefinitions $end', 2, /not type, size, code and name/],
    ['$timescale 1 ns $end $enddefinitions $end\n#5\n1?', 3, /Code "\?" was not declared/],
    ['$timescale 1 ns $end $var wire 1 ! a $end $enddefinitions $end\n#5 0!\n#4 1!', 3, /Time goes back to 4/],
    ['$timescale 1 ns $end $var wire 2 ! a $end $enddefinitions $end\n#5\nb12 !', 3, /not a vector/],
    ['$timescale 1 ns $end $var wire 1 ! a $end $enddefinitions $end\n#5x', 2, /is not a time/],
    ['$var wire 1 ! a $end $enddefinitions $end', 1, /no \$timescale/],
    ['$timescale 1 ns $end', 1, /ends before \$enddefinitions/],
  ])('%j is told with its line', (text, line, meaning) => {
    const {faults} = readVcd(text);
    expect(faults[0]).toEqual({line, meaning: expect.stringMatching(meaning) as string});
  });

  it('bytes that are no text at all end soon, with a fault', () => {
    const reader = new VcdReader();
    for (let i = 0; i < 40; i++) reader.push(new Uint8Array(4096).fill(0x80));
    expect(reader.end().faultCount).toBeGreaterThan(0);
  });
});

describe('an edge list as CSV', () => {
  const read = (text: string) => {
    const reader = new CsvEdgesReader();
    reader.push(bytesOf(text));
    return reader.end();
  };

  it.each([
    ['Time [us],motor 1,motor 2\n0,1,0\n10,0,0\n20,1,x\n30,1,0\n', 1e-6],
    ['time_ms;motor 1;motor 2\r\n0;1;0\r\n10,0;0;0\r\n20;1;z\r\n30;1;0', 1e-3],
    ['"Time (s)"\t"motor 1"\t"motor 2"\n0\tHigh\tLow\n10\tLow\tLow\n20\tHigh\t-\n30\tHigh\tLow', 1],
  ])('%j', (text, unit) => {
    const {wires, faults, to} = read(text);
    expect(faults).toEqual([]);
    expect(wires.map((w) => w.name)).toEqual(['motor 1', 'motor 2']);
    expect([...wires[0]!.edges].map((t) => Math.round(t / unit))).toEqual([10, 20]);
    expect([...wires[1]!.unknown].map((t) => Math.round(t / unit))).toEqual([20, 30]);
    expect(to / unit).toBeCloseTo(30, 9);
  });

  it('without a header wires are numbered; rows that do not read are told and left out', () => {
    const {wires, faults} = read('0,1\n1,0\nx,1\n2,5\n3,1,1\n0.5,1\n4,1\n');
    expect(wires[0]).toMatchObject({name: 'wire 1', first: 1});
    expect([...wires[0]!.edges]).toEqual([1, 4]);
    expect(faults.map((f) => f.line)).toEqual([3, 4, 5, 6]);
  });

  it('which reader a file asks for is seen at its first word', () => {
    expect(readerFor(bytesOf('  \n$date'))).toBeInstanceOf(VcdReader);
    expect(readerFor(bytesOf('Time,a'))).toBeInstanceOf(CsvEdgesReader);
  });

  it('the edges of a dump as CSV decode as the dump does', () => {
    const {wires, ...rest} = readVcd(gunzipSync(fixture('capture-7.vcd.gz')).toString('utf8'));
    const [wire] = wires;
    const rows = [...wire!.edges].map((t, i) => `${t.toFixed(9)},${(wire!.first! + i + 1) % 2}`);
    const capture = read(`Time [s],motor\n0,${wire!.first}\n${rows.join('\n')}\n${rest.to},${1}`);
    const again = decodeWire(capture.wires[0]!, capture);
    expect(again.commands).toHaveLength(30);
    expect(again.replies.map((r) => r.status)).toEqual(
      decodeWire(wire!, {from: 0, to: rest.to}).replies.map((r) => r.status),
    );
  });
});

describe('glitches', () => {
  const clean = (ns: readonly number[]) => {
    const {edges, glitches} = withoutGlitches(Float64Array.from(ns, (t) => t * 1e-9));
    return [[...edges].map((t) => Math.round(t * 1e9)), glitches];
  };
  it.each([
    ['alone', [1000, 1100], [[], 1]],
    ['in a pulse', [1000, 1400, 1500, 2000], [[1000, 2000], 1]],
    ['in a pulse so short that all four crowd', [1000, 1030, 1180, 1217], [[1000, 1217], 1]],
    ['beside an edge, nobody can tell which is which', [1000, 1050, 1150], [[1075], 1]],
    ['a pulse of 200 ns is none', [1000, 1200], [[1000, 1200], 0]],
    ['a crowd', Array.from({length: 14}, (_, i) => 1000 + 20 * i), [[], 7]],
  ])('%s', (_, ns, expected) => expect(clean(ns)).toEqual(expected));
});

describe('replies that tell more than speeds', () => {
  it('60 °C is a temperature where the ESC was told to tell it, and only there', () => {
    expect(replyMeaning(0x23c, true)).toEqual({kind: 'temperature', value: 60});
    expect(replyMeaning(0x23c, false)).toEqual({kind: 'speed', period: 0x3c << 1});
    expect(replyMeaning(0x461, true)).toEqual({kind: 'voltage', value: 24.25});
    expect(replyMeaning(0x60f, true)).toEqual({kind: 'current', value: 15});
    expect(replyMeaning(0xfff, true)).toEqual({kind: 'speed', period: 'stopped'});
  });

  it('no speed that is written with its highest bit set, and none below 512 µs, is ever taken for another', () => {
    for (let period = 1; period < 65_000; period += 7)
      expect(replyMeaning((decodeReplyBody(encodeReply(period)) as {value: number}).value, true).kind).toBe('speed');
  });

  it('a wire is told by six equal commands, and told off again', () => {
    const vcd = (commands: readonly number[]) => {
      const bit = 3.333;
      const edges = commands.flatMap((value, k) =>
        [...encodeCommand({value, telemetryRequest: false}, true).toString(2).padStart(16, '0')].flatMap((one, i) => {
          const t = 100 + 500 * k + i * bit;
          return [`#${Math.round(t * 1000)} 0!`, `#${Math.round((t + bit * (one === '1' ? 0.75 : 0.375)) * 1000)} 1!`];
        }),
      );
      return readVcd(
        `$timescale 1 ns $end $var wire 1 ! m $end $enddefinitions $end #0 1! ${edges.join(' ')} #9000000`,
      );
    };
    const capture = vcd([
      ...Array<number>(5).fill(13),
      0,
      ...Array<number>(6).fill(13),
      0,
      ...Array<number>(6).fill(14),
    ]);
    expect(decodeWire(capture.wires[0]!, capture).extended.map(Number).join('')).toBe('0000000000011111110');
  });
});
