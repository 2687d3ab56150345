/** The bridge over real sockets: whom it lets in, bytes both ways no faster than they are taken, and its end. */
import type {AddressInfo, Server} from 'node:net';
import {afterEach, describe, expect, it} from 'vitest';
import {WebSocket} from 'ws';
import {bridgeWindow} from '@core/link/bridge';
import {enterBridge, type BridgeSocket} from '@core/link/bridge-port';
import {ByteQueue} from '@core/link/byte-queue';
import {BenchClient} from '@core/link/client';
import {clockOf} from '@core/link/clock';
import {ProblemError} from '@core/problem';
import {startBridge, type Bridge, type BridgeQuestion} from './bridge-server';
import type {BytePort} from '@core/link/port';
import {PortRefused} from './open-port';
import {serveBench} from './serve-bench';
import {openTcpPort} from './tcp-port';

const page = 'http://127.0.0.1:4310';
const clock = clockOf(globalThis);
const after = (ms: number, callback: () => void) => clock.after(ms, callback);
const ends: (() => void)[] = [];
afterEach(() => ends.splice(0).forEach((end) => end()));

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** A port that takes nothing until it is told to, and has no end of bytes. */
function slowPort() {
  const queue = new ByteQueue();
  let let1: () => void = () => undefined;
  const free = new Promise<void>((resolve) => (let1 = resolve));
  const taken: number[] = [];
  const port: BytePort = {
    readable: {getReader: () => ({read: () => queue.read(), cancel: () => Promise.resolve(queue.end())})},
    writable: {
      getWriter: () => ({
        write: async (bytes) => {
          await free;
          taken.push(bytes.length);
        },
        close: () => Promise.resolve(queue.end()),
      }),
    },
  };
  return {port, queue, taken, free: () => let1()};
}

async function bridge(over: Partial<BridgeQuestion> = {}): Promise<Bridge> {
  const started = await startBridge({
    ...{listen: 0, pages: [page], serves: 'the port', stays: true},
    ...{list: () => Promise.resolve([]), open: () => Promise.resolve(slowPort().port)},
    ...over,
  });
  ends.push(() => started.close('the test is over'));
  return started;
}

function socketTo({port}: Bridge, {origin = page, host}: {origin?: string; host?: string} = {}): BridgeSocket {
  const socket = new WebSocket(`ws://127.0.0.1:${port}/`, {origin, ...(host && {headers: {host}})});
  socket.binaryType = 'arraybuffer';
  socket.on('error', () => undefined);
  ends.push(() => socket.terminate());
  return socket as unknown as BridgeSocket;
}
const enter = (b: Bridge, code = b.code, from = {}) => enterBridge(socketTo(b, from), code, after);
const codeOf = (work: Promise<unknown>) =>
  work.then(
    () => 'let in',
    (error: unknown) => (error instanceof ProblemError ? error.problem.code : String(error)),
  );

describe('the bridge', () => {
  it('lets in the page of its origin with its code, however it is typed, and nobody else', async () => {
    const b = await bridge();
    expect(await codeOf(enter(b, b.code, {origin: 'http://127.0.0.1:9999'}))).toBe('bridge-absent');
    expect(await codeOf(enter(b, b.code, {origin: 'https://elsewhere.example'}))).toBe('bridge-absent');
    // A name of anybody's that points to this computer.
    expect(await codeOf(enter(b, b.code, {host: 'elsewhere.example'}))).toBe('bridge-absent');
    expect(await codeOf(enter(b, 'AAAA-AAAA'))).toBe('wrong-code');
    const typed = `${b.code.slice(0, 4)} ${b.code.slice(4)}`.toLowerCase();
    expect(await codeOf(enter(b, typed))).toBe('let in');
    expect(await codeOf(enter(b))).toBe('taken');
  });
  it('is free again when its page has gone, and ends after ten wrong codes', async () => {
    const b = await bridge();
    (await enter(b)).close();
    await wait(100);
    (await enter(b)).close();
    const tries = Array.from({length: 10}, () => codeOf(enter(b, 'BBBB-BBBB')));
    expect(new Set(await Promise.all(tries))).toEqual(new Set(['wrong-code']));
    expect(await b.ended).toContain('wrong codes');
  });
  it('says what a port is that does not open: held, or not there', async () => {
    const refusing = (why: 'held' | 'missing') => bridge({open: () => Promise.reject(new PortRefused(why, 'no'))});
    expect(await codeOf((await enter(await refusing('held'))).open())).toBe('port-held');
    expect(await codeOf((await enter(await refusing('missing'))).open())).toBe('port-missing');
  });
  it('opens of the ports that it lists the one that the page chooses', async () => {
    const asked: (string | null)[] = [];
    const open = (path: string | null) => {
      asked.push(path);
      return Promise.resolve(slowPort().port);
    };
    const listed = [{path: '/dev/ttyX1', vendor: '1209'}];
    const desk = await enter(await bridge({serves: undefined, list: () => Promise.resolve(listed), open}));
    expect([desk.serves, await desk.list()]).toEqual([undefined, listed]);
    await desk.open('/dev/ttyX1');
    expect(asked).toEqual(['/dev/ttyX1']);
  });
  it('takes bytes no faster than the port does, and gives them no faster than the page reads', async () => {
    const slow = slowPort();
    const port = await (await enter(await bridge({open: () => Promise.resolve(slow.port)}))).open();
    const piece = new Uint8Array(bridgeWindow / 4);
    const writer = port.writable.getWriter();
    let written = 0;
    const writing = (async () => {
      for (let i = 0; i < 12; i++) {
        await writer.write(piece);
        written++;
      }
    })();
    await wait(200);
    expect(written).toBe(4);
    slow.free();
    await writing;
    await wait(100);
    expect(slow.taken.reduce((sum, n) => sum + n, 0)).toBe(12 * piece.length);
    for (let i = 0; i < 12; i++) slow.queue.push(piece);
    await wait(200);
    // What is not read here stays there, but for a window of it.
    expect(slow.queue.waitingBytes).toBe(8 * piece.length);
    const reader = port.readable.getReader();
    for (let i = 0; i < 12; i++) expect((await reader.read()).value).toHaveLength(piece.length);
    expect(slow.queue.waitingBytes).toBe(0);
  });
  it('carries a bench: greeted, read, and its motors stop with the page', async () => {
    const server: Server = await serveBench({craft: 'juniper', port: 0});
    ends.push(() => server.close());
    const at = (server.address() as AddressInfo).port;
    const b = await bridge({stays: false, open: () => openTcpPort('127.0.0.1', at)});
    const client = new BenchClient(await (await enter(b)).open(), clock);
    expect((await client.hello()).standIn).toBe(true);
    expect((await client.request('controller.identify', null)).board).toBe('Slate F');
    await client.close();
    await wait(100);
    const again = new BenchClient(await (await enter(b)).open(), clock);
    await again.hello();
    const ended = new Promise<string>((resolve) => again.onClose((problem) => resolve(problem.code)));
    server.close();
    ends.push(() => undefined);
    // The adapter goes: the page hears why, and the bridge ends.
    (b as {close: (why: string) => void}).close('the port has gone');
    expect([await ended, await b.ended]).toEqual(['cable-out', 'the port has gone']);
  });
});
