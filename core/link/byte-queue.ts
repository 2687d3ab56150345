/** Bytes that have come and were not read yet, and the end of them: the reading side of a byte port. */
import type {ByteReader} from './port';

type Read = Awaited<ReturnType<ByteReader['read']>>;

export class ByteQueue {
  /** Nothing more comes, or is let in. */
  ended = false;
  /** Bytes that wait to be read. */
  waitingBytes = 0;
  private readonly queue: Uint8Array[] = [];
  private waiting: ((read: Read) => void) | undefined;

  /** @param onRead called with the bytes of each piece as it is handed over. */
  constructor(private readonly onRead: (bytes: number) => void = () => undefined) {}

  push(bytes: Uint8Array): void {
    if (this.ended) return;
    if (this.answer({done: false, value: bytes})) return this.onRead(bytes.length);
    this.queue.push(bytes);
    this.waitingBytes += bytes.length;
  }

  end(): void {
    this.ended = true;
    this.answer({done: true});
  }

  read(): Promise<Read> {
    const value = this.queue.shift();
    if (value) {
      this.waitingBytes -= value.length;
      this.onRead(value.length);
      return Promise.resolve({done: false, value});
    }
    if (this.ended) return Promise.resolve({done: true});
    return new Promise((resolve) => (this.waiting = resolve));
  }

  /** Gives a read that waits what it waits for; false when none does. */
  private answer(read: Read): boolean {
    const {waiting} = this;
    this.waiting = undefined;
    waiting?.(read);
    return waiting !== undefined;
  }
}
