/** What is said of what comes from the transmitter: silent, moved, swept, judged. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {sticks, type FoundChannels} from '../../arming/channels';
import {adviseEnds, type ChannelEnds} from '../../arming/ends';
import type {StickEnds} from '../../arming/sweep-watch';
import type {Receiver} from '../../controller/arming-fields';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {foundWith} from '../../testing/with-config';
import {receiverSheet, receiverVerdict, stickChannels, type ReceiverNow} from './receiver';

const usual: Receiver = {kind: 'serial', port: 1, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 5};
const q = questionOf(juniper, {record: {found: foundWith(juniper, {receiver: usual})}});
const us = [1500, 1500, 1000, 1500, 1000];
const still: ReceiverNow = {
  ...{us, silentMs: 7, moved: undefined, order: undefined, isSweeping: false, ends: [], timing: undefined},
};
const order = (
  over: Partial<FoundChannels['channel']> = {},
  reversed: FoundChannels['reversed'] = [],
): FoundChannels => ({
  ...{kind: 'found', channel: {roll: 1, pitch: 2, throttle: 3, yaw: 4, ...over}, reversed, clarity: 20},
});
/** Every stick swept four times between these, then let go. */
const swept = (over: Partial<ChannelEnds> = {}): StickEnds[] =>
  sticks.map((stick, i) => {
    const centre = stick === 'throttle' ? 1000 : 1500;
    const ends: ChannelEnds = {low: 1000, centre, high: 2000, sweeps: 8, noiseUs: 1, restFrames: 200, ...over};
    return {...ends, stick, channel: i + 1, advice: adviseEnds(ends, {hasCentre: stick !== 'throttle'})};
  });
const whole: ReceiverNow = {...still, order: order(), ends: swept()};

describe('frames', () => {
  it('before the first nothing can begin', () => {
    const sheet = receiverSheet(emptyQuestion(juniper), {...still, us: [], silentMs: undefined});
    expect([sheet.channels, sheet.silence, sheet.beginMoves.isOpen, sheet.beginSweeps.isOpen]).toEqual([
      [],
      '',
      false,
      false,
    ]);
  });
  it('are named by the stick that is set', () =>
    expect(receiverSheet(q, still).channels.map((c) => c.stick)).toEqual(['roll', 'pitch', 'throttle', 'yaw', '']));
  it('that stay away are told with how long', () =>
    expect(receiverSheet(q, {...still, silentMs: 1240}).silence).toBe('No frame for 1.2 s'));
  it('are counted with their gaps', () => {
    const timing = {rateHz: 150, usualMs: 6.67, longestMs: 20, missing: 3, expected: 900};
    expect(receiverSheet(q, {...still, timing}).frames).toBe(
      '150 frames a second; 3 of 900 did not come, the longest gap was 20 ms.',
    );
  });
});

describe('the order of the channels', () => {
  it('is asked stick by stick', () => {
    const {moves, asked, beginSweeps} = receiverSheet(q, {...still, moved: 2});
    expect(moves.map((m) => m.state)).toEqual(['seen', 'seen', 'now', 'to come']);
    expect([asked.startsWith('Now move the throttle'), beginSweeps.isOpen]).toEqual([true, false]);
  });
  it('that was found is held against the one that is set, and the right one offered', () => {
    const {moves, offer, beginMoves} = receiverSheet(q, {...whole, order: order({roll: 2, pitch: 1})});
    expect(moves.map((m) => [m.channel, m.isAsSet])).toEqual([
      [2, false],
      [1, false],
      [3, true],
      [4, true],
    ]);
    expect(offer!.receiver).toMatchObject({roll: 2, pitch: 1});
    expect(offer!.text).toBe('Plan roll 2, pitch 1, throttle 3, yaw 4, dead band 5 µs');
    expect(beginMoves).toMatchObject({title: 'Move them again', isNext: false});
  });
  it('that is unclear or the wrong way round is told with what to do', () => {
    const unclear = {kind: 'unclear', stick: 'roll', why: 'Nothing moved far enough.'} as const;
    expect(receiverSheet(q, {...still, order: unclear}).orderFault).toEqual({
      title: 'Not clear',
      text: 'Nothing moved far enough.',
    });
    expect(receiverSheet(q, {...still, order: order({}, ['yaw'])}).orderFault!.text).toBe(
      'Turn it over on the transmitter.',
    );
  });
  it('before the moves is the one that is set', () => {
    expect(stickChannels(q, undefined).throttle).toBe(3);
    expect(stickChannels(q, order({throttle: 1, roll: 3})).throttle).toBe(1);
  });
});

describe('ends and centre', () => {
  it('that are right with the right order are as set', () => {
    expect(receiverSheet(q, whole).verdict).toMatchObject({holds: true, title: 'As set'});
    expect(receiverSheet(q, whole).ends[2]).toMatchObject({stick: 'throttle', centre: 'none', jitter: '± 1 µs'});
  });
  it('say nothing before the moves, while they are swept, or where too little was seen', () => {
    expect(receiverVerdict(q, {...whole, order: undefined})).toBeUndefined();
    expect(receiverVerdict(q, {...whole, isSweeping: true})).toBeUndefined();
    const few = {...whole, ends: swept({sweeps: 1})};
    expect([receiverVerdict(q, few), receiverSheet(q, few).remarks[0]!.word]).toEqual([undefined, 'not seen']);
  });
  it('that are not reached are told of each stick, and nothing is asked of the controller for them', () => {
    const {remarks, verdict, offer} = receiverSheet(q, {...whole, ends: swept({low: 1012})});
    expect(remarks.map((r) => r.word)).toEqual(Array(4).fill('on the transmitter'));
    expect(remarks[0]!.text).toMatch(/^roll: Set its low end to 1000 µs/);
    expect([verdict!.holds, offer]).toEqual([false, undefined]);
  });
  it('with noise at rest ask for a dead band', () => {
    const {offer} = receiverSheet(q, {...whole, ends: swept({noiseUs: 9})});
    expect(offer!.receiver.deadBandUs).toBeGreaterThan(9);
  });
});
