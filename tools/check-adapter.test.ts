/** The stand-in over TCP, as a program sees it: every rule that can be tried is kept, on all four craft. */
import type {AddressInfo} from 'node:net';
import {afterAll, describe, expect, it} from 'vitest';
import {checkAdapter} from '@core/conformance/check-adapter';
import {clockOf} from '@core/link/clock';
import {demoFleet} from '@demo/craft/fleet';
import {serveBench} from './serve-bench';
import {openTcpPort} from './tcp-port';

const servers: Awaited<ReturnType<typeof serveBench>>[] = [];
afterAll(() => servers.forEach((server) => server.close()));

async function overTcp(craft: string, fault?: string) {
  const server = await serveBench({craft, port: 0, fault});
  servers.push(server);
  const {port} = server.address() as AddressInfo;
  const open = () => openTcpPort('127.0.0.1', port);
  return checkAdapter({open, clock: clockOf(globalThis), propsOff: false});
}

describe.concurrent('over TCP', () => {
  it.each(demoFleet.map((c) => c.id))(
    '%s keeps to the list',
    async (craft) => {
      const {rules, hello} = await overTcp(craft);
      expect(hello?.standIn).toBe(true);
      expect(rules.filter((r) => r.result === 'broken')).toEqual([]);
      expect(rules.filter((r) => r.result === 'kept').length).toBeGreaterThan(20);
    },
    30_000,
  );

  it('a lost lease is found', async () => {
    const {rules} = await overTcp('juniper', 'loses-the-lease');
    expect(rules.filter((r) => r.result === 'broken').map((r) => r.id)).toContain('spin-lease');
  }, 120_000);

  it('nobody there is an error, not a report', async () => {
    const closed = await serveBench({craft: 'juniper', port: 0});
    const {port} = closed.address() as AddressInfo;
    await new Promise((resolve) => closed.close(resolve));
    await expect(openTcpPort('127.0.0.1', port)).rejects.toThrow('ECONNREFUSED');
  });
});
