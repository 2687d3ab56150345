/** A byte port straight into a bench in the same thread. */
import {ByteQueue} from '@core/link/byte-queue';
import type {BytePort} from '@core/link/port';
import type {SimulatedBench} from '../bench';

/** Plugs the cable of `bench` in and returns its near end. */
export function openPort(bench: SimulatedBench): BytePort {
  const near = new ByteQueue();
  bench.attach(
    (bytes) => near.push(bytes),
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
