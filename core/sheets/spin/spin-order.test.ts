/** What Spin's motor order says in the states that a craft can be in. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {sorrel} from '@demo/craft/sorrel';
import {foundAsPlanned} from '../../testing/found-as-planned';
import {sightingOf} from '../../testing/proof-of';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {spinAsks} from './spin';
import {holdButton, spinOrderSheet, type SpinHold} from './spin-order';

const still: SpinHold = {output: 0, isHeld: false, isAsking: false};
const found = foundAsPlanned(juniper);

describe('the motor order', () => {
  it('of a craft that nobody connected can hold nothing, and has seen nothing', () => {
    const sheet = spinOrderSheet(emptyQuestion(juniper), still);
    expect([sheet.canHold, sheet.isComplete, sheet.isBlind]).toEqual([false, false, true]);
    expect(sheet.lines.map((l) => l.state)).toEqual(['next', 'to come', 'to come', 'to come']);
    expect(sheet.sides).toMatchObject({state: 'open', text: expect.stringContaining('has not been read yet')});
  });

  it('with everything seen as planned is complete, and both sides agree', () => {
    const sheet = spinOrderSheet(questionOf(juniper), still);
    expect(sheet.isComplete).toBe(true);
    expect(sheet.sides.title).toBe('✓ two sides agree');
    expect(sheet.wrongs).toEqual([]);
    expect(sheet.drawn.map((d) => d.state)).toEqual(['ok', 'ok', 'ok', 'ok']);
  });

  it('of eight motors has eight lines', () => {
    const eight = withEightMotors(juniper);
    const sheet = spinOrderSheet(questionOf(eight, {record: {sightings: []}}), {...still, output: 7});
    expect(sheet.lines.map((l) => l.state)).toEqual([...Array<string>(7).fill('to come'), 'next']);
    expect(sheet.isComplete).toBe(false);
  });

  it('marks what was seen on another arm and the wrong way, and says where each is changed', () => {
    const [first, ...rest] = juniper.arms.map((_, output) => sightingOf(output, juniper));
    const other = {...first!, arm: 2, sense: first!.sense === 'clockwise' ? 'counter-clockwise' : 'clockwise'} as const;
    const sheet = spinOrderSheet(questionOf(juniper, {record: {sightings: [other, ...rest]}}), still);
    expect(sheet.lines[0]!.seen?.arm).toEqual({text: juniper.arms[2]!.name, isOff: true});
    expect(sheet.wrongs[0]).toMatchObject({output: 0, side: 'output map of the flight controller'});
    expect(sheet.drawn[2]!.state).toBe('diff');
  });

  it('says what changed since a motor was seen, and then not what was wrong with it', () => {
    const replaced = {...found, escs: found.escs.map((e, i) => (i ? e : {...e, boot: {...e.boot, serial: 'other'}}))};
    const sheet = spinOrderSheet(questionOf(juniper, {record: {found: replaced, foundPlace: 30}}), still);
    expect(sheet.lines[0]!.seen!.changed).not.toBe('');
    expect(sheet.isComplete).toBe(false);
    expect(sheet.wrongs).toEqual([]);
  });

  it.each([
    ['one start', [1040], 'once'],
    ['three starts', [1040, 1042, 1044], '3 times, ± 2.0'],
    ['none', [], ''],
  ])('counts %s', (_, startsUs, starts) => {
    const sightings = [{...sightingOf(0, juniper), startsUs, startsAtUs: startsUs[0]}];
    expect(spinOrderSheet(questionOf(juniper, {record: {sightings}}), still).lines[0]!.seen!.starts).toBe(starts);
  });

  it.each([
    [undefined, '–', false],
    [0.03, 'under 0.05 s', false],
    [1.24, '1.24 s', true],
  ])('tells a coast-down of %s s as %s', (coastDownS, text, isOff) => {
    const usual = juniper.arms.map((__, output) => ({...sightingOf(output, juniper), coastDownS: 0.4}));
    const sightings = [{...usual[0]!, coastDownS}, ...usual.slice(1)];
    const {lines} = spinOrderSheet(questionOf(juniper, {record: {sightings}}), still);
    expect(lines[0]!.seen!.coastsDown).toEqual({text, isOff});
  });
});

describe('the hold', () => {
  const ask = (hold: Partial<SpinHold>, bench = {}) =>
    spinOrderSheet(questionOf(juniper, {bench}), {...still, ...hold});

  it('tells throttle and pulse while it turns, a rest between pulses, and the arm that is asked', () => {
    const held = {...still, isHeld: true};
    const note = (throttle: number) => holdButton(questionOf(juniper), held, {throttle, top: 0.06}).note;
    expect(note(0.043)).toBe('4.3 % throttle, 1043 µs');
    expect(note(0)).toBe('rests for a moment, then again');
    expect(ask({isAsking: true, isHeld: true}).heading).toContain('Output 1 is turning');
    expect(ask({isAsking: true}).heading).toContain('Output 1 has turned');
    expect(ask({isAsking: true}).drawn.every((d) => d.state === 'asked')).toBe(true);
  });

  it.each([
    ['the propellers are not confirmed', {isPropsOff: false}],
    ['an order has the wires', {isOccupied: true}],
    ['a motor still turns', {isRunningOut: true}],
  ])('cannot be begun while %s', (_, bench) => expect(ask({}, bench).canHold).toBe(false));

  it('reaches further with pulses, whose low end lies above 1000 µs', () => {
    const {controller, ...rest} = found;
    const analog = {...rest, controller: {...controller!, config: {...controller!.config, protocol: 'oneshot125'}}};
    const sheet = spinOrderSheet(questionOf(juniper, {record: {found: analog as typeof found}}), still);
    expect(sheet.top).toBeGreaterThan(ask({}).top);
  });
});

describe('what stands before a view', () => {
  it('is the other cable where motors are to turn, and nothing for the mixer', () => {
    const q = questionOf(sorrel, {bench: {isOnAdapter: true}});
    expect([spinAsks(q, 'order'), spinAsks(q, 'sounds'), spinAsks(q, 'mixer')]).toEqual([
      'other cable',
      undefined,
      undefined,
    ]);
    expect(spinAsks(emptyQuestion(sorrel), 'steps')).toBe('connection');
  });
});
