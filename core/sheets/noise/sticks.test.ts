/** What Noise says of the way from the stick to the loop. */
import {expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import {proofOf} from '../../testing/proof-of';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {sticksSheet} from './sticks';

it('a move of the stick takes its frame, its smoothing and its turn of the loop', async () => {
  const before = sticksSheet(emptyQuestion(juniper));
  expect(before.parts.map(({text}) => text)).toEqual(['–', '–', '0.13 ms']);
  expect(before.total).toBe('≥ 0.13 ms');
  const settings = {'sticks.smoothing': 'set', 'sticks.smoothing_hz': 50};
  const read = await new Harness({setup: (b) => ({...b, controller: {...b.controller, settings}})}).survey();
  const proofs = [{...proofOf('receiver', juniper, {found: read}), frameHz: 100}];
  const {parts, total} = sticksSheet(questionOf(juniper, {record: {found: read, proofs}}));
  // 1/(2π · 50 Hz) = 3.18 ms.
  expect(parts.map(({part, text}) => [part, text])).toEqual([
    ['receiver frame', '5.00 ms'],
    ['smoothing', '3.18 ms'],
    ['control loop', '0.13 ms'],
  ]);
  expect(total).toBe('8.31 ms');
  // Frames that were counted before the receiver was changed are not of now.
  const {config} = read.controller!;
  const {roll, pitch} = config.receiver!;
  const receiver = {...config.receiver!, roll: pitch, pitch: roll};
  const other = {...read, controller: {...read.controller!, config: {...config, receiver}}};
  const changed = questionOf(juniper, {record: {found: other, foundPlace: 9, proofs}});
  expect(sticksSheet(changed).parts[0]!.text).toBe('–');
});
