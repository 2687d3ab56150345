/** By which road a craft is reached: kept for it alone, through the browser's serial interface, with what each refusal is. */
import {TestBed} from '@angular/core/testing';
import {afterEach, beforeEach, describe, expect, it, vi} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {ProblemError} from '@core/problem';
import {ChosenPort} from './chosen-port';

interface FakePort {
  readonly info: SerialPortInfo;
  opens: number;
  isHeld: boolean;
}

function portOf({info}: {info: SerialPortInfo}) {
  const state: FakePort = {info, opens: 0, isHeld: false};
  const port = {
    getInfo: () => info,
    open: () => {
      if (state.isHeld) return Promise.reject(new DOMException('Failed to open serial port.', 'NetworkError'));
      state.opens++;
      return Promise.resolve();
    },
    readable: {
      getReader: () => ({
        read: () => Promise.resolve({done: true}),
        cancel: () => Promise.resolve(),
        releaseLock: () => undefined,
      }),
    },
    writable: {
      getWriter: () => ({write: () => Promise.resolve(), abort: () => Promise.resolve(), releaseLock: () => undefined}),
    },
    close: () => Promise.resolve(),
  };
  return {state, port: port as unknown as SerialPort};
}

/** A browser with these ports allowed, and one that a person would choose. */
function browserWith({allowed = [], chooses}: {allowed?: readonly SerialPort[]; chooses?: SerialPort} = {}) {
  const asked = {times: 0};
  const serial = {
    getPorts: () => Promise.resolve(allowed),
    requestPort: () => {
      asked.times++;
      return chooses ? Promise.resolve(chooses) : Promise.reject(new DOMException('None.', 'NotFoundError'));
    },
  };
  vi.stubGlobal('navigator', {...navigator, serial});
  return asked;
}

const codeOf = (work: Promise<unknown>) =>
  work.then(
    () => 'opened',
    (error: unknown) => (error instanceof ProblemError ? error.problem.code : String(error)),
  );
const own = {usbVendorId: 0x1209, usbProductId: 0x5741};
const chosen = () => TestBed.inject(ChosenPort);

beforeEach(() => localStorage.clear());
afterEach(() => {
  vi.unstubAllGlobals();
  TestBed.resetTestingModule();
});

describe('the road to a bench', () => {
  it('is the simulated one until another is chosen, for that craft alone, and is kept', () => {
    expect(chosen().of('juniper').kind).toBe('simulated');
    chosen().choose('juniper', {kind: 'bridge', at: 4320});
    chosen().noteHelped('juniper', 'another cable');
    TestBed.resetTestingModule();
    expect([chosen().of('juniper').kind, chosen().of('sorrel').kind]).toEqual(['bridge', 'simulated']);
    expect([chosen().helped('juniper'), chosen().helped('sorrel')]).toEqual(['another cable', '']);
  });
  it('begins with the simulated one where what was kept does not read', () => {
    for (const text of ['{', '[]', '{"juniper":{"choice":{"kind":"radio"}}}']) {
      localStorage.setItem('bidex-ports', text);
      expect(chosen().of('juniper').kind).toBe('simulated');
      TestBed.resetTestingModule();
    }
  });
  it('asks for a serial port once, and opens it again by the numbers of its maker', async () => {
    const {port, state} = portOf({info: own});
    const first = browserWith({chooses: port});
    chosen().choose('juniper', {kind: 'serial'});
    await chosen().open(juniper);
    expect([first.times, chosen().of('juniper')]).toEqual([
      1,
      {kind: 'serial', known: {vendor: own.usbVendorId, product: own.usbProductId}},
    ]);
    const again = browserWith({allowed: [portOf({info: {usbVendorId: 1}}).port, port]});
    await chosen().open(juniper);
    expect([again.times, state.opens]).toEqual([0, 2]);
    expect([chosen().isOf('juniper', port), chosen().isOf('sorrel', port)]).toEqual([true, false]);
  });
  it('lets a person choose where two are the same', async () => {
    const [a, b] = [portOf({info: own}), portOf({info: own})];
    chosen().choose('juniper', {kind: 'serial', known: {vendor: own.usbVendorId, product: own.usbProductId}});
    const asked = browserWith({allowed: [a.port, b.port], chooses: b.port});
    await chosen().open(juniper);
    expect([asked.times, a.state.opens, b.state.opens]).toEqual([1, 0, 1]);
  });
  it('says what was refused: none chosen, held by another, no such interface', async () => {
    chosen().choose('juniper', {kind: 'serial'});
    browserWith();
    expect(await codeOf(chosen().open(juniper))).toBe('no-port-chosen');
    const {port, state} = portOf({info: own});
    state.isHeld = true;
    browserWith({chooses: port});
    expect(await codeOf(chosen().open(juniper))).toBe('port-held');
    vi.stubGlobal('navigator', {});
    expect(await codeOf(chosen().open(juniper))).toBe('no-serial');
  });
});

describe('a bridge whose port is chosen in the page', () => {
  /** A bridge that answers as docs/bench-link.md says; what it was told is kept. */
  class FakeSocket {
    static readonly told: unknown[] = [];
    static made = 0;
    onopen: (() => void) | null = null;
    onmessage: ((event: {data: unknown}) => void) | null = null;
    onclose: ((event: {code: number}) => void) | null = null;
    binaryType = '';

    constructor(readonly url: string) {
      FakeSocket.made++;
      queueMicrotask(() => this.onopen?.());
    }

    send(data: string): void {
      const said = JSON.parse(data) as Record<string, unknown>;
      FakeSocket.told.push(said);
      const answer = (message: object) => queueMicrotask(() => this.onmessage?.({data: JSON.stringify(message)}));
      if (said['code'] === 'WRONG') queueMicrotask(() => this.onclose?.({code: 4401}));
      else if ('code' in said) answer({welcome: {serves: null}});
      else if ('list' in said)
        answer({ports: [{path: '/dev/ttyACM7', vendor: '1209', product: '5741', maker: 'Example works'}]});
      else if ('open' in said) answer({opened: said['open']});
    }

    close(): void {
      return undefined;
    }
  }

  it('is asked for its ports, and opens the chosen one over the same connection', async () => {
    vi.stubGlobal('WebSocket', FakeSocket);
    const port = chosen();
    port.setCode('abcd-efgh');
    expect(await port.bridgePorts(4321)).toMatchObject({ok: true, value: [{path: '/dev/ttyACM7'}]});
    port.choose(juniper.id, {kind: 'bridge', at: 4321, path: '/dev/ttyACM7'});
    await port.open(juniper);
    expect(FakeSocket.made).toBe(1);
    expect(FakeSocket.told).toEqual([{code: 'ABCDEFGH'}, {list: true}, {open: '/dev/ttyACM7'}]);
    port.setCode('wrong');
    expect(await port.bridgePorts(4321)).toMatchObject({ok: false, problem: {code: 'wrong-code'}});
  });
});
