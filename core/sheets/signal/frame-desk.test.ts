/** One frame laid out; the worked example is 1046, telemetry not asked: 0x82C6 (facts of the trade, from memory). */
import {describe, expect, it} from 'vitest';
import {deskCommands, deskProtocol, deskValue, frameFile, frameSheet, readTyped, type DeskFrame} from './frame-desk';

const frame = (over: Partial<DeskFrame> = {}): DeskFrame => ({
  ...{value: 1046, telemetry: false, protocol: 'dshot300', isBidirectional: false, rpm: 12_000, poles: 14},
  ...over,
});

describe('a command', () => {
  it('has its value, its request and its checksum', () => {
    const {hex, command, named} = frameSheet(frame());
    expect([hex, command, named]).toEqual(['0x82C6', {value: '10000010110', telemetry: '0', checksum: '0110'}, -1]);
  });
  it('of a bidirectional wire has its checksum turned over', () => {
    const plain = parseInt(frameSheet(frame()).command.checksum, 2);
    const turned = parseInt(frameSheet(frame({isBidirectional: true})).command.checksum, 2);
    expect(turned).toBe(~plain & 0xf);
  });
  it('below 48 is named where it has a name; throttle never is', () => {
    const {value} = deskCommands[1]!;
    expect(frameSheet(frame({value})).named).toBe(value);
    expect(frameSheet(frame({value: 48})).named).toBe(-1);
  });
  it('that is typed is brought to what a frame carries', () =>
    expect([-3, 46.6, 5000].map(deskValue)).toEqual([0, 47, 2047]));
});

describe('a reply', () => {
  // 12,000 rpm of 14 poles are 84,000 electrical turns a minute: 714 µs each.
  it('tells the period of an electrical turn as exponent and mantissa', () => {
    const {reply} = frameSheet(frame({isBidirectional: true}));
    expect(reply.periodUs).toBeCloseTo(714.3, 1);
    expect(parseInt(reply.mantissa, 2) << parseInt(reply.exponent, 2)).toBeCloseTo(714, -1);
    expect([reply.groups.length, reply.line.length]).toEqual([4, 21]);
  });
  it('of a motor that stands has no period', () => expect(frameSheet(frame({rpm: 0})).reply.periodUs).toBeUndefined());
  it('takes its time on the wire only where it comes', () => {
    expect(frameSheet(frame()).times).toBe('command 53.3 µs, in all 53.3 µs');
    expect(frameSheet(frame({isBidirectional: true})).times).toMatch(
      /^command 53\.3 µs, pause about 30 µs, reply 56\.0 µs, in all 139\.3 µs$/,
    );
    expect(frameSheet(frame({isBidirectional: true})).edges.length).toBeGreaterThan(frameSheet(frame()).edges.length);
  });
});

it('begins with the planned protocol where that has frames', () =>
  expect([deskProtocol('dshot600'), deskProtocol('analog')]).toEqual(['dshot600', 'dshot300']));

it('is saved as a dump that names its wire and both levels (IEEE 1364)', () => {
  const own = frame();
  const {name, text} = frameFile(own, frameSheet(own));
  expect(name).toBe('dshot300-1046.vcd');
  expect(text).toMatch(/\$var wire 1 \S+ motor \$end/);
});

it('typed bits are read back, or told what is wrong; nothing typed says nothing', () => {
  expect(readTyped('  ', 14)).toBeUndefined();
  expect(readTyped('0x82C6', 14)).toMatchObject({ok: true});
  expect(readTyped('0x82C7', 14)).toMatchObject({ok: false});
});
