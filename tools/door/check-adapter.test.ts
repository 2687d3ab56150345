/** The stand-in over TCP, as a program sees it: every rule that can be tried is kept, on all four craft. */
import type {AddressInfo} from 'node:net';
import {afterAll, describe, expect, it} from 'vitest';
import {checkAdapter} from '@core/conformance/check-adapter';
import {RawLink} from '@core/conformance/raw-link';
import {clockOf} from '@core/link/clock';
import {encodeMessage} from '@core/link/message';
import {faults} from '@simulator/testing/faulty-adapter';
import {demoFleet} from '@demo/craft/fleet';
import {firmwareFrom} from './controller-image';
import {serveBench} from './serve-bench';
import {openTcpPort} from './tcp-port';

const servers: Awaited<ReturnType<typeof serveBench>>[] = [];
afterAll(() => servers.forEach((server) => server.close()));

async function overTcp(craft: string, fault?: string, only?: readonly string[]) {
  const server = await serveBench({craft, port: 0, fault});
  servers.push(server);
  const {port} = server.address() as AddressInfo;
  const open = () => openTcpPort('127.0.0.1', port);
  return checkAdapter({
    ...{open, clock: clockOf(globalThis), propsOff: false, overNetwork: true},
    firmwareFor: firmwareFrom(undefined),
    only,
  });
}

describe.concurrent('over TCP', () => {
  it('juniper keeps to the list', async () => {
    const {rules, hello} = await overTcp('juniper');
    expect(hello?.standIn).toBe(true);
    expect(rules.filter((r) => r.result === 'broken')).toEqual([]);
    expect(rules.filter((r) => r.result === 'kept').length).toBeGreaterThan(40);
  });

  // The whole list of these is tried without a clock, in core/conformance/check-adapter.test.ts.
  it.each(demoFleet.map((c) => c.id).filter((id) => id !== 'juniper'))(
    '%s keeps to the rules of a network',
    async (craft) => {
      const only = ['hello', 'numbers', 'several', 'first-byte', 'one-client'];
      const {rules} = await overTcp(craft, undefined, only);
      expect(rules.map((r) => r.result)).toEqual(only.map(() => 'kept'));
    },
  );

  it('a lost lease is found', async () => {
    const {rules} = await overTcp('juniper', 'loses-the-lease', ['spin-lease']);
    expect(rules.filter((r) => r.result === 'broken').map((r) => r.id)).toContain('spin-lease');
  });

  it.each(['takes-any-stream', 'lets-a-second-in'])('"%s" is found at the door', async (fault) => {
    const {foundBy} = faults[fault]!();
    const {rules} = await overTcp('juniper', fault, [foundBy]);
    expect(rules).toMatchObject([{id: foundBy, result: 'broken'}]);
  });

  it('a web page that sends frames as the body of a request gets nowhere', async () => {
    const server = await serveBench({craft: 'juniper', port: 0});
    servers.push(server);
    const {port} = server.address() as AddressInfo;
    const frames = [encodeMessage({sequence: 1, operation: 'controller.set', argument: {poles: 22}})];
    const asked = fetch(`http://127.0.0.1:${port}/`, {method: 'POST', mode: 'no-cors', body: frames[0] as BodyInit});
    await expect(asked).rejects.toThrow();
    const link = new RawLink(await openTcpPort('127.0.0.1', port), clockOf(globalThis));
    expect((await link.ask('controller.read', null)).value).toMatchObject({poles: 14});
    await link.close();
  });

  it('nobody there is an error, not a report', async () => {
    const closed = await serveBench({craft: 'juniper', port: 0});
    const {port} = closed.address() as AddressInfo;
    await new Promise((resolve) => closed.close(resolve));
    await expect(openTcpPort('127.0.0.1', port)).rejects.toThrow('ECONNREFUSED');
  });
});
