/** A byte port straight into a bench in the same thread. */
import type {BytePort} from '@core/link/port';
import type {SimulatedBench} from '../bench';

/** Plugs the cable of `bench` in and returns its near end. */
export function openPort(bench: SimulatedBench): BytePort {
  const near = new NearEnd();
  bench.attach(
    (bytes) => near.hear(bytes),
    () => near.end(),
  );
  const cancel = () => {
    if (!near.ended) bench.detach();
    return Promise.resolve();
  };
  const write = (bytes: Uint8Array) => {
    if (near.ended) return Promise.reject(new Error('The port is closed'));
    bench.receive(bytes);
    return Promise.resolve();
  };
  return {
    readable: {getReader: () => ({read: () => near.read(), cancel})},
    writable: {getWriter: () => ({write, close: () => Promise.resolve()})},
  };
}

interface Read {
  readonly done: boolean;
  readonly value?: Uint8Array;
}

/** What has come and was not read yet. */
class NearEnd {
  ended = false;
  private readonly queue: Uint8Array[] = [];
  private waiting: ((read: Read) => void) | undefined;

  hear(bytes: Uint8Array): void {
    if (!this.answer({done: false, value: bytes})) this.queue.push(bytes);
  }

  end(): void {
    this.ended = true;
    this.answer({done: true});
  }

  read(): Promise<Read> {
    const value = this.queue.shift();
    if (value) return Promise.resolve({done: false, value});
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
