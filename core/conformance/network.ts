/** Over a network: whatever is no bench link gets no bench, and one client at a time has it. */
import {encodeMessage} from '../link/message';
import {Broken, expectDone, type ConformanceRule} from './adapter-rule';

const hello = () => encodeMessage({sequence: 1, operation: 'hello', argument: {speaks: [1]}});
/** How a web page of anybody begins what it sends to this computer (RFC 9112, RFC 6455 and RFC 8446 begin otherwise than a frame). */
const beginnings: readonly (readonly [string, Uint8Array])[] = [
  ['an HTTP request', new TextEncoder().encode('POST / HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 64\r\n\r\n')],
  ['a single space', new TextEncoder().encode(' ')],
];

export const network: readonly ConformanceRule[] = [
  {
    id: 'first-byte',
    text: 'Over a network, a connection whose first byte is not C0 is closed, and no frame in it is answered.',
    needs: ['network'],
    async try(trial) {
      for (const [name, begin] of beginnings) {
        const link = await trial.again();
        const frame = hello();
        const bytes = new Uint8Array(begin.length + frame.length);
        bytes.set(begin);
        bytes.set(frame, begin.length);
        await link.send(bytes);
        const {kind} = await link.answerTo(1, {forMs: 600});
        if (kind !== 'silence') throw new Broken(`A frame behind ${name} was answered.`);
        if (!link.isEnded) throw new Broken(`A connection that began with ${name} stayed open.`);
      }
      expectDone(await (await trial.again()).ask('power', null), 'power on the connection after it');
    },
  },
  {
    id: 'one-client',
    text: 'Over a network, a second client is refused while one is there, and the first one goes on.',
    needs: ['network'],
    async try(trial) {
      expectDone(await trial.link.ask('power', null), 'power');
      const second = await trial.second();
      await second.send(hello());
      const {kind} = await second.answerTo(1, {forMs: 600});
      const stayedOpen = !second.isEnded;
      await second.close();
      if (kind !== 'silence') throw new Broken('A second client was answered while the first was there.');
      if (stayedOpen) throw new Broken('The connection of a second client stayed open.');
      expectDone(await trial.link.ask('power', null), 'power on the first connection, after a second one tried');
    },
  },
];
