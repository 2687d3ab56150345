/** Frames: what is whole is heard, what is not is dropped. */
import {encodeMessage} from '../link/message';
import {SlipDecoder, slipEncode} from '../link/slip';
import {Broken, expectDone, type ConformanceRule} from './adapter-rule';

/** A frame whose checksum is wrong by one bit. */
export function withWrongCrc(frame: Uint8Array): Uint8Array {
  const [body] = new SlipDecoder().push(frame);
  body![body!.length - 1]! ^= 1;
  return slipEncode(body!);
}

export const framing: readonly ConformanceRule[] = [
  {
    id: 'frame-crc',
    text: 'A frame whose CRC fails is dropped and gets no answer.',
    async try({link}) {
      const request = {sequence: 1, operation: 'power', argument: null};
      await link.send(withWrongCrc(encodeMessage(request)));
      const {kind} = await link.answerTo(1, {forMs: 300});
      if (kind !== 'silence') throw new Broken('A request with a wrong CRC was answered.');
      expectDone(await link.ask('power', null), 'power after a bad frame');
    },
  },
  {
    id: 'frame-noise',
    text: 'Noise before a frame, a wrong escape and a frame that comes byte by byte do no harm.',
    async try({link}) {
      expectDone(await link.ask('power', null), 'power');
      await link.send(Uint8Array.of(0x55, 0xdb, 0x00, 0xaa));
      expectDone(await link.ask('power', null), 'power after noise');
      for (const byte of encodeMessage({sequence: 2, operation: 'power', argument: null}))
        await link.send(Uint8Array.of(byte));
      expectDone(await link.answerTo(2), 'power byte by byte');
    },
  },
  {
    id: 'frame-too-long',
    text: 'A frame of more than 4,096 bytes is dropped, and the next one is answered.',
    async try({link}) {
      await link.send(slipEncode(new Uint8Array(5_000).fill(0x41)));
      expectDone(await link.ask('power', null), 'power after a frame that is too long');
    },
  },
  {
    id: 'answer-frames',
    text: 'Every answer and report is a whole frame with its CRC, in the shape of the link.',
    async try({link}) {
      for (let i = 0; i < 5; i++) await link.ask('power', null);
      if (link.badFrames) throw new Broken(`${link.badFrames} frames came that do not read.`);
      if (!link.answers.length) throw new Broken('Nothing came that reads.');
    },
  },
];
