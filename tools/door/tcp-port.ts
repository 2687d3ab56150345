/** A byte port over TCP, and the stand-in bench behind one. */
import {connect, type Socket} from 'node:net';
import type {BytePort} from '@core/link/port';

/** Connects to `host`:`port`. Rejects when nobody listens there. */
export function openTcpPort(host: string, port: number): Promise<BytePort> {
  return new Promise((resolve, reject) => {
    const socket = connect({host, port, noDelay: true});
    socket.once('error', reject);
    socket.once('connect', () => {
      socket.off('error', reject);
      resolve(portOf(socket));
    });
  });
}

function portOf(socket: Socket): BytePort {
  const chunks = (socket as AsyncIterable<Buffer>)[Symbol.asyncIterator]() as AsyncIterator<Buffer, undefined>;
  // What ends the socket ends the reads; nothing else is to be told.
  socket.on('error', () => undefined);
  return {
    readable: {
      getReader: () => ({
        read: async () => {
          const next: IteratorResult<Buffer, undefined> = await chunks.next();
          return next.done ? {done: true} : {done: false, value: new Uint8Array(next.value)};
        },
        cancel: () => {
          socket.destroy();
          return Promise.resolve();
        },
      }),
    },
    writable: {
      getWriter: () => ({
        write: (bytes) =>
          new Promise((resolve, reject) => socket.write(bytes, (error) => (error ? reject(error) : resolve()))),
        close: () => {
          socket.end();
          return Promise.resolve();
        },
      }),
    },
  };
}

export const isPort = (port: number): boolean => Number.isInteger(port) && port >= 0 && port <= 0xffff;
