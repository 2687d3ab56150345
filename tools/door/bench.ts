/** A stand-in bench on a TCP port or a serial device, until it is told to stop: `bidex bench`. */
import type {AddressInfo} from 'node:net';
import {createInterface} from 'node:readline';
import {benches} from '@simulator/benches/benches';
import {faults} from '@simulator/testing/faulty-adapter';
import {fail, outcome, UsageError, wholeNumber, type Run} from './command';
import {benchOnSerial} from './serial-bench';
import {usualBaud} from './serial-port';
import {serveBench, type RunningBench} from './serve-bench';
import {isPort} from './tcp-port';

const untilTold = () => new Promise<void>((resolve) => process.once('SIGINT', resolve).once('SIGTERM', resolve));

/** What a hand does beside the cable, a line each: "battery off", "battery on". */
function obeyHands({bench, drive}: RunningBench): void {
  createInterface({input: process.stdin}).on('line', (line) => {
    const asked = /^battery (on|off)$/.exec(line.trim());
    if (!asked) return console.log('A hand can do: battery on, battery off.');
    drive();
    bench.setBattery(asked[1] === 'on');
    console.log(`The battery is ${asked[1]!}.`);
  });
}

export const run: Run = async ({options}) => {
  const [craft, path, fault] = [options.get('--craft') ?? '', options.get('--serial'), options.get('--fault')];
  const port = wholeNumber(options, '--listen');
  const baud = Number(options.get('--baud') ?? usualBaud);
  const isSomewhere = path === undefined ? isPort(port) : Number.isInteger(baud) && baud >= 1200;
  if (!(craft in benches) || !isSomewhere || (fault !== undefined && !(fault in faults)))
    throw new UsageError(`Faults: ${Object.keys(faults).join(', ')}.`);
  if (path !== undefined) {
    const onDevice = (state: 'open' | 'gone') =>
      console.log(state === 'open' ? `The stand-in bench of ${craft} is on ${path}.` : `${path} has gone.`);
    await Promise.race([benchOnSerial({craft, path, fault, baud, onBench: obeyHands, onDevice}), untilTold()]);
    process.exit(0);
  }
  try {
    const server = await serveBench({craft, port, fault});
    console.log(`The stand-in bench of ${craft} listens on 127.0.0.1:${(server.address() as AddressInfo).port}.`);
    await untilTold();
    process.exit(0);
  } catch (error) {
    return outcome(fail('listen', `Port ${port} cannot be had: ${(error as Error).message}`));
  }
};
