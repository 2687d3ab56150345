/** A stand-in bench on a TCP port, until it is told to stop: `bidex bench`. */
import type {AddressInfo} from 'node:net';
import {benches} from '@simulator/benches/benches';
import {faults} from '@simulator/testing/faulty-adapter';
import {fail, outcome, UsageError, wholeNumber, type Run} from './command';
import {serveBench} from './serve-bench';
import {isPort} from './tcp-port';

export const run: Run = async ({options}) => {
  const [craft, port, fault] = [options.get('--craft') ?? '', wholeNumber(options, '--listen'), options.get('--fault')];
  if (!(craft in benches) || !isPort(port) || (fault !== undefined && !(fault in faults)))
    throw new UsageError(`Faults: ${Object.keys(faults).join(', ')}.`);
  try {
    const server = await serveBench({craft, port, fault});
    console.log(`The stand-in bench of ${craft} listens on 127.0.0.1:${(server.address() as AddressInfo).port}.`);
    await new Promise<void>((resolve) => process.once('SIGINT', resolve).once('SIGTERM', resolve));
    process.exit(0);
  } catch (error) {
    return outcome(fail('listen', `Port ${port} cannot be had: ${(error as Error).message}`));
  }
};
