/** Answers have ranges and loops have ends, whatever an adapter says. */
import {describe, expect, it} from 'vitest';
import {VirtualTime, runInVirtualTime} from '@simulator/hardware/virtual-time';
import {breathe} from '@simulator/testing/bench-harness';
import {ProblemError} from '../problem';
import {readFlash} from '../bench/esc-access';
import {survey} from '../bench/survey';
import {BenchClient} from './client';
import {decodeMessage, encodeMessage} from './message';
import type {Operation} from './operations';
import {SlipDecoder} from './slip';

const sound: Partial<Record<Operation, unknown>> = {
  hello: {link: 1, adapter: 'a', outputs: 4, startId: 's', road: 'controller', lastHold: 0},
  power: {volts: 24, amps: 1, cycles: 1},
  'esc.enter': {chip: 'M32', serial: 'S', bootRevision: 3, dialect: 'A', applicationValid: true},
};

/** A client before an adapter that answers as it is told; counts what it was asked. */
function before(answers: Partial<Record<Operation, unknown>>) {
  const time = new VirtualTime();
  const asked: string[] = [];
  const decoder = new SlipDecoder();
  const client: BenchClient = new BenchClient(
    {
      readable: {getReader: () => ({read: () => new Promise(() => undefined), cancel: () => Promise.resolve()})},
      writable: {
        getWriter: () => ({
          close: () => Promise.resolve(),
          write: (bytes) => {
            for (const frame of decoder.push(bytes)) {
              const message = decodeMessage(frame);
              if (typeof message === 'string') continue;
              asked.push(message.operation);
              const argument = {...sound, ...answers}[message.operation as Operation];
              time.after(1, () =>
                client.take(encodeMessage({sequence: message.sequence, operation: 'done', argument})),
              );
            }
            return Promise.resolve();
          },
        }),
      },
    },
    time,
  );
  const run = <T>(work: Promise<T>) =>
    runInVirtualTime(time, breathe, work).then(
      () => 'done',
      (e: ProblemError) => e.problem.code,
    );
  return {client, asked, run};
}
const wire = (client: BenchClient) => ({client, wire: 0, name: 'motor 1'});

describe('esc.read', () => {
  it.each([
    ['no byte', 0],
    ['one byte too few', 63],
    ['one byte too many', 65],
    ['more than a piece can have', 300],
  ])('that answers %s ends with a protocol error, not a loop or an exception', async (_, length) => {
    const {client, asked, run} = before({'esc.read': new Uint8Array(length)});
    expect(await run(readFlash(wire(client), 0x1000, 64))).toBe('protocol-error');
    expect(asked.length).toBeLessThan(3);
  });

  it('that answers what was asked for is taken', async () => {
    const {client, run} = before({'esc.read': new Uint8Array(64)});
    expect(await run(readFlash(wire(client), 0x1000, 64))).toBe('done');
  });
});

describe('answers out of range are protocol errors', () => {
  it.each([
    ['hello', {...(sound.hello as object), outputs: 1e6}],
    ['hello', {...(sound.hello as object), outputs: 0}],
    ['hello', {...(sound.hello as object), adapter: 'x'.repeat(1_000)}],
    ['power', {volts: -1, amps: 0, cycles: 1}],
    ['power', {volts: Infinity, amps: 0, cycles: 1}],
    ['power', {volts: 24, amps: 0, cycles: -1}],
    ['controller.identify', {board: '', chip: '', clockMhz: -5, firmware: '', version: ''}],
  ] as [Operation, unknown][])('%s %j', async (operation, answer) => {
    const {client, run} = before({[operation]: answer});
    expect(await run(client.request(operation, null))).toBe('protocol-error');
  });

  it('a survey of a bench with a million outputs asks for none of them', async () => {
    const {client, asked, run} = before({hello: {...(sound.hello as object), outputs: 1_000_000}});
    expect(await run(survey(client, {at: 1}))).toBe('protocol-error');
    expect(asked).toEqual(['hello']);
  });
});
