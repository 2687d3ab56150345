/** The cable as a client holds it, with an ear on every request that leaves. */
import {decodeMessage} from '@core/link/message';
import type {BytePort} from '@core/link/port';
import {SlipDecoder} from '@core/link/slip';

/** Requests that change hardware. */
export const changing: ReadonlySet<string> = new Set([
  'esc.erase',
  'esc.write',
  'controller.set',
  'controller.save',
  'loader.download',
]);

/** Of those, the ones that begin something: what follows them finishes it. */
export const beginning: ReadonlySet<string> = new Set([...changing].filter((operation) => operation !== 'esc.write'));

/** `port`, with `onRequest` told of each request that is sent while `isWatched`, repeats too. */
export function watchedPort(
  port: BytePort,
  isWatched: () => boolean,
  onRequest: (operation: string) => void,
): BytePort {
  return {
    readable: port.readable,
    writable: {
      getWriter: () => {
        const writer = port.writable.getWriter();
        const decoder = new SlipDecoder();
        return {
          close: () => writer.close(),
          write: (bytes) => {
            for (const frame of isWatched() ? decoder.push(bytes) : []) {
              const message = decodeMessage(frame);
              if (typeof message !== 'string') onRequest(message.operation);
            }
            return writer.write(bytes);
          },
        };
      },
    },
  };
}
