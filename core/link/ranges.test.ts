/** Answers have ranges and loops have ends, whatever an adapter says. */
import {describe, expect, it} from 'vitest';
import {VirtualTime, runInVirtualTime} from './virtual-time';
import {breathe, Harness} from '@simulator/testing/bench-harness';
import type {BenchSetup} from '@simulator/hardware/bench-setup';
import {findDifferences} from '../compare/difference';
import {surveyFindings} from '../compare/survey-findings';
import {ProblemError} from '../problem';
import {readFlash} from '../bench/esc-access';
import {survey} from '../bench/survey';
import {BenchClient} from './client';
import {decodeMessage, encodeMessage} from './message';
import type {Operation} from './operations';
import {SlipDecoder} from './slip';

const sound: Partial<Record<Operation, unknown>> = {
  hello: {
    link: 1,
    adapter: 'a',
    abilities: ['esc', 'controller', 'spin', 'reports'],
    outputs: 4,
    startId: 's',
    road: 'controller',
    lastHold: 0,
  },
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

describe('what the client is asked to send', () => {
  it.each([
    ['spin', {hold: 1, sentMs: 0, leaseMs: 200, commands: [{output: 0, value: 20}]}, 'spin commands 0 value'],
    ['spin', {hold: 1, sentMs: 0, leaseMs: 200, commands: [{output: 0, value: 47}]}, 'spin commands 0 value'],
    ['spin', {hold: 1, sentMs: 0, leaseMs: 501, commands: []}, 'spin leaseMs'],
    ['esc.write', {output: 0, address: 0x1000, bytes: new Uint8Array(257)}, 'esc.write bytes'],
    ['esc.write', {output: 0, address: 0x1000, bytes: new Uint8Array(0)}, 'esc.write bytes'],
    ['esc.read', {output: 0, address: 0x1000, length: 257}, 'esc.read length'],
    ['esc.checksum', {output: 0, address: 0, length: 1 << 21}, 'esc.checksum length'],
    ['controller.set', {poles: 1}, 'controller.set poles'],
  ] as const)('%s %j does not leave it', async (operation, argument, place) => {
    const {client, asked} = before({});
    await expect(client.request(operation, argument as never)).rejects.toMatchObject({
      problem: {code: 'out-of-range', place},
    });
    expect(asked).toEqual([]);
  });

  it.each([0, 48, 2047])('a throttle value of %i does', async (value) => {
    const {client, asked, run} = before({spin: null});
    expect(await run(client.request('spin', {hold: 1, sentMs: 0, leaseMs: 200, commands: [{output: 0, value}]}))).toBe(
      'done',
    );
    expect(asked).toEqual(['spin']);
  });
});

describe('versions', () => {
  const hello = sound.hello as object;

  it.each([
    [2, 'Update Bidex.'],
    [65535, 'Update Bidex.'],
  ])('an adapter that answers in version %i is refused with the remedy', async (link, remedy) => {
    const {client, asked, run} = before({hello: {...hello, link}});
    const greeted = client.hello();
    expect(await run(greeted)).toBe('link-version');
    await expect(greeted).rejects.toMatchObject({problem: {remedy}});
    expect(asked).toEqual(['hello']);
  });

  it('a client that speaks newer ones only is refused by the stand-in', async () => {
    const h = new Harness();
    await expect(h.run(h.client.request('hello', {speaks: [2, 3]}))).rejects.toMatchObject({
      problem: {code: 'link-version'},
    });
    expect((await h.run(h.client.request('hello', {speaks: [3, 1]}))).link).toBe(1);
    expect((await h.run(h.client.request('hello', null))).link).toBe(1);
  });
});

describe('abilities', () => {
  it('what the adapter cannot do is not asked of it', async () => {
    const {client, asked, run} = before({hello: {...(sound.hello as object), abilities: ['esc', 'juggling']}});
    expect(await run(client.hello())).toBe('done');
    expect(await run(client.request('controller.read', null))).toBe('no-controller');
    expect(await run(client.request('reports', {on: true}))).toBe('not-able');
    expect(await run(client.request('power', null))).toBe('done');
    expect(asked).toEqual(['hello', 'power']);
  });
});

describe('fields', () => {
  it('that nobody knows are passed over, on both sides', async () => {
    const {client, run} = before({power: {volts: 24, amps: 1, cycles: 1, celsius: 30}});
    expect(await run(client.request('power', null))).toBe('done');
    const h = new Harness();
    const more = {on: false, colour: 'green'} as {on: boolean};
    expect(await h.run(h.client.request('reports', more))).toBeNull();
  });

  it('that a flight controller does not have are told, differ from nothing, and are written to nobody', async () => {
    const setup = (first: BenchSetup): BenchSetup => {
      const saved = {...first.controller.saved};
      delete saved.movingNotches;
      return {...first, controller: {...first.controller, saved}};
    };
    const h = new Harness({setup});
    const found = await h.survey();
    expect(found.controller!.config).not.toHaveProperty('movingNotches');
    expect(findDifferences(h.craft.plan, found).controller.map((d) => d.field)).not.toContain('movingNotches');
    const told = surveyFindings(h.craft, found).map((r) => r.text);
    expect(told.join()).toContain('does not have: Moving notches');
  });

  it('that every flight controller has make a protocol error when they are missing', async () => {
    const {client, run} = before({'controller.read': {protocol: 'dshot300', replies: true}});
    expect(await run(client.request('controller.read', null))).toBe('protocol-error');
  });
});
