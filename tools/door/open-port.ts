/** A port of this computer as a byte port. */
import type {Duplex} from 'node:stream';
import {ByteQueue} from '@core/link/byte-queue';
import type {BytePort} from '@core/link/port';

/** Why a port did not open. */
export class PortRefused extends Error {
  constructor(
    readonly why: 'held' | 'missing',
    message: string,
  ) {
    super(message);
  }
}

/** Bytes that may wait unread before the other side is told to stop. */
const mostWaiting = 64 * 1024;

interface Hands {
  /** Ends it at once, and once what was written has gone. */
  readonly destroy: () => void;
  readonly finish: () => void;
  /** Resolves once the system has taken the bytes: who waits for it sends no faster than the port. */
  readonly write: (bytes: Uint8Array) => Promise<void>;
}

/** A byte port over a stream of Node, which is read no faster than its bytes are taken. */
export function portOver(stream: Duplex, {destroy, finish, write}: Hands): BytePort {
  const queue = new ByteQueue(() => {
    if (stream.isPaused() && queue.waitingBytes < mostWaiting / 2) stream.resume();
  });
  stream.on('data', (bytes: Buffer) => {
    queue.push(new Uint8Array(bytes));
    if (queue.waitingBytes > mostWaiting) stream.pause();
  });
  // What fails on it ends it; the close that follows is what counts.
  stream.on('error', () => undefined);
  stream.once('end', () => queue.end());
  stream.once('close', () => queue.end());
  const cancel = () => Promise.resolve(destroy());
  const close = () => Promise.resolve(finish());
  return {
    readable: {getReader: () => ({read: () => queue.read(), cancel})},
    writable: {getWriter: () => ({write, close})},
  };
}
