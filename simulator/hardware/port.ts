/** A byte port straight into a bench in the same thread. */
import type {BytePort} from '@core/link/port';
import type {SimulatedBench} from './bench';

/** Plugs the cable of `bench` in and returns its near end. */
export function openPort(bench: SimulatedBench): BytePort {
  const queue: Uint8Array[] = [];
  let waiting: ((result: {done: boolean; value?: Uint8Array}) => void) | undefined;
  let ended = false;
  const end = () => {
    ended = true;
    waiting?.({done: true});
    waiting = undefined;
  };
  bench.attach((bytes) => {
    if (waiting) {
      const resolve = waiting;
      waiting = undefined;
      resolve({done: false, value: bytes});
    } else queue.push(bytes);
  }, end);
  return {
    readable: {
      getReader: () => ({
        read: () => {
          const value = queue.shift();
          if (value) return Promise.resolve({done: false, value});
          if (ended) return Promise.resolve({done: true});
          return new Promise((resolve) => (waiting = resolve));
        },
        cancel: () => {
          if (!ended) bench.detach();
          return Promise.resolve();
        },
      }),
    },
    writable: {
      getWriter: () => ({
        write: (bytes) => {
          if (ended) return Promise.reject(new Error('The port is closed'));
          bench.receive(bytes);
          return Promise.resolve();
        },
        close: () => Promise.resolve(),
      }),
    },
  };
}
