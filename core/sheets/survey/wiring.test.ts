/** The cards of the connections: lines that tick themselves, drawings whose wires meet their parts, signs of the catalogue. */
import {describe, expect, it} from 'vitest';
import {alder} from '@demo/craft/alder';
import {juniper} from '@demo/craft/juniper';
import {boards, publishedReleases} from '@simulator/firmware/releases';
import {controllerBoards} from '@simulator/firmware/plumb';
import {looseEsc} from '../../craft/presets';
import type {Catalogue, Release} from '../../firmware/releases';
import {foundAsPlanned} from '../../testing/found-as-planned';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {wiringSheet, type WiringKind} from './wiring';

const releases = publishedReleases().map(({release}) => ({...release, sizeBytes: 1, sha256: ''})) as Release[];
const catalogue: Catalogue = {
  ...{issued: '', boards: [...boards], releases},
  controllers: {boards: [...controllerBoards], releases: []},
};
const states = (q: Parameters<typeof wiringSheet>[0], kind?: WiringKind) =>
  wiringSheet(q, kind, catalogue).lines.map((l) => l.state);

describe('the card of a connection', () => {
  it('is that of the flight controller, of the adapter where the craft was read on one, and has no USB for a loose ESC', () => {
    expect(wiringSheet(emptyQuestion(juniper), undefined).kind).toBe('usb');
    const round = {found: {...foundAsPlanned(alder), road: 'single-wire' as const}};
    expect(wiringSheet(questionOf(alder, {record: round}), undefined).kind).toBe('adapter');
    const loose = wiringSheet(emptyQuestion(looseEsc({id: 'x', name: 'X'})), undefined);
    expect([loose.kind, loose.kinds.map((k) => k.value)]).toEqual(['adapter', ['adapter', 'pads']]);
    expect(wiringSheet(emptyQuestion(juniper), 'pads').kind).toBe('pads');
  });

  it('ticks what the link sees, leaves to a hand what nothing sees, and says what is next', () => {
    expect(states(emptyQuestion(juniper))).toEqual(['next', 'yours', 'open', 'yours', 'open', 'open']);
    const noBattery = {bench: {isPowered: false, isPropsOff: true}, record: {found: undefined}};
    expect(states(questionOf(juniper, noBattery))).toEqual(['seen', 'yours', 'seen', 'next', 'open', 'open']);
    expect(states(questionOf(juniper))).toEqual(['seen', 'yours', 'seen', 'yours', 'seen', 'seen']);
    // Found before the battery was off: nobody answers now.
    const before = questionOf(juniper, {bench: {cycles: 9}});
    expect(states(before).at(-1)).toBe('next');
  });

  it('on an adapter has ground first, the middle wire free, and the battery off before the next arm', () => {
    const q = questionOf(alder, {bench: {isOnAdapter: true, isPowered: false}, record: {found: undefined}});
    const {lines} = wiringSheet(q, undefined);
    const at = (word: RegExp) => lines.findIndex((l) => word.test(l.text));
    expect(at(/^Ground first/)).toBeLessThan(at(/signal wire/));
    expect(lines[at(/signal wire/)]!.text).toContain('middle wire stays free');
    expect(at(/before the clip/)).toBe(lines.length - 1);
    expect(lines.map((l) => l.state)).toEqual(['yours', 'seen', 'next', 'yours', 'yours', 'open', 'open', 'yours']);
  });

  it.each(['usb', 'adapter', 'pads'] as const)('of %s draws wires that end at its parts', (kind) => {
    const {parts, wires, spoken} = wiringSheet(emptyQuestion(juniper), kind);
    const touches = ([x, y]: readonly [number, number]) =>
      parts.some((p) => x >= p.x && x <= p.x + p.width && y >= p.y && y <= p.y + p.height);
    for (const wire of wires) {
      expect(touches(wire.to), `${wire.name} ends`).toBe(true);
      // A free wire begins nowhere.
      expect(touches(wire.from), `${wire.name} begins`).toBe(wire.kind !== 'free');
    }
    expect(spoken).toContain('current limiter');
  });

  it('says what lights and tones mean, and how the firmware is set by stick', () => {
    const q = questionOf(juniper, {releases});
    const {signs} = wiringSheet(q, undefined, catalogue);
    const byStick = 'Meridian 4.2 by stick and tones, without a computer';
    expect(signs.map((s) => s.of)).toEqual(['Slate F', 'Tones after power-up', byStick]);
    expect(signs[0]!.lines.map((l) => l.shows)).toContain('blue alone');
    expect(signs[2]!.lines[0]!.shows).toContain('Propellers off');
    const onAdapter = questionOf(alder, {bench: {isOnAdapter: true}, record: {found: undefined}, releases});
    expect(wiringSheet(onAdapter, undefined, catalogue).signs[0]!.of).toBe('Basalt 30');
    expect(wiringSheet(q, undefined).signs.map((s) => s.of)).toEqual(['Tones after power-up', byStick]);
  });
});
