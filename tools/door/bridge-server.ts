/**
 * The bridge: one port of this computer for one page of Bidex, over a WebSocket on loopback. A page of another origin, a
 * name that points here from elsewhere, a second page and a wrong code get nothing. Bytes are taken no faster than the other
 * side takes them.
 */
import {randomInt, timingSafeEqual} from 'node:crypto';
import {createServer, type IncomingMessage, type Server} from 'node:http';
import type {AddressInfo} from 'node:net';
import {WebSocketServer, type RawData, type WebSocket} from 'ws';
import {
  bridgeCloses,
  bridgeWindow,
  codeLength,
  codeLetters,
  plainCode,
  toBridge,
  type FromBridge,
  type ListedPort,
  type ToBridge,
} from '@core/link/bridge';
import type {BytePort, ByteWriter} from '@core/link/port';
import {PortRefused} from './open-port';

export interface BridgeQuestion {
  /** TCP port on 127.0.0.1; 0 takes a free one. */
  readonly listen: number;
  /** Origins of the pages that may use it, as "http://127.0.0.1:4310". */
  readonly pages: readonly string[];
  /** The one port that it serves, in words; undefined where the page chooses. */
  readonly serves: string | undefined;
  readonly list: () => Promise<readonly ListedPort[]>;
  /** Opens the port that it serves, or the one that a page chose. */
  readonly open: (path: string | null) => Promise<BytePort>;
  /** Goes on when a port has gone, instead of ending. */
  readonly stays: boolean;
}

export interface Bridge {
  /** TCP port that it listens on. */
  readonly port: number;
  readonly code: string;
  /** Why it has ended. */
  readonly ended: Promise<string>;
  close(why: string): void;
}

/** So many wrong codes end it; each is answered after so long, ms. */
const [wrongCodes, wrongMs] = [10, 700];
const loopback = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/i;

/** Rejects when it cannot listen. */
export async function startBridge(q: BridgeQuestion): Promise<Bridge> {
  const code = Array.from({length: codeLength}, () => codeLetters[randomInt(codeLetters.length)]!).join('');
  // Whoever asks for a page gets none: there is nothing here but the socket.
  const server = createServer((_, response) => void response.writeHead(426).end());
  let end: (why: string) => void = () => undefined;
  const ended = new Promise<string>((resolve) => (end = resolve));
  const sockets = new WebSocketServer({
    server,
    maxPayload: bridgeWindow,
    verifyClient: ({origin, req}: {origin: string; req: IncomingMessage}) =>
      q.pages.includes(origin) && loopback.test(req.headers.host ?? ''),
  });
  const close = (why: string) => {
    for (const client of sockets.clients) client.terminate();
    sockets.close();
    server.close();
    end(why);
  };
  const desk = new Desk(q, code, close);
  sockets.on('connection', (socket) => desk.receive(socket));
  await listening(server, q.listen);
  return {port: (server.address() as AddressInfo).port, code, ended, close};
}

function listening(server: Server, port: number): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
}

/** Lets one page in. */
class Desk {
  private inside: WebSocket | undefined;
  private wrong = 0;

  constructor(
    private readonly q: BridgeQuestion,
    private readonly code: string,
    private readonly close: (why: string) => void,
  ) {}

  receive(socket: WebSocket): void {
    const turnAway = (why: keyof typeof bridgeCloses) => socket.close(bridgeCloses[why]);
    socket.on('error', () => socket.terminate());
    socket.once('message', (data: RawData, isBinary: boolean) => {
      const said = isBinary ? undefined : messageIn(data);
      if (!said || !('code' in said)) return turnAway('nonsense');
      if (!isSame(plainCode(said.code), this.code)) return this.wrongCode(socket);
      if (this.inside) return turnAway('taken');
      this.inside = socket;
      socket.once('close', () => (this.inside = undefined));
      new Session(this.q, socket, (why) => this.q.stays || this.close(why)).begin();
    });
  }

  private wrongCode(socket: WebSocket): void {
    setTimeout(() => socket.close(bridgeCloses['wrong-code']), wrongMs);
    if (++this.wrong >= wrongCodes) setTimeout(() => this.close(`${wrongCodes} wrong codes were tried`), 2 * wrongMs);
  }
}

const isSame = (a: string, b: string): boolean =>
  a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b));

function messageIn(data: RawData): ToBridge | undefined {
  try {
    const read = toBridge.safeParse(JSON.parse((data as Buffer).toString('utf8')));
    return read.success ? read.data : undefined;
  } catch {
    return undefined;
  }
}

/** One page that is let in: bytes between its socket and the port, until one of them ends. */
class Session {
  private port: BytePort | undefined;
  private writer: ByteWriter | undefined;
  /** Bytes sent to the page, and those of them that it has taken; bytes that the port has taken. */
  private sent = 0;
  private takenThere = 0;
  private takenHere = 0;
  private wake: (() => void) | undefined;
  private writing: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly q: BridgeQuestion,
    private readonly socket: WebSocket,
    private readonly portGone: (why: string) => void,
  ) {}

  begin(): void {
    this.socket.on('message', (data: RawData, isBinary: boolean) => {
      if (isBinary) return void this.toPort(data as Buffer);
      const said = messageIn(data);
      if (!said) return this.socket.close(bridgeCloses.nonsense);
      void this.hear(said);
    });
    // Closed with the page: the adapter sees its cable go, and its leases end.
    this.socket.once('close', () => {
      this.wake?.();
      void this.writer?.close();
    });
    this.say({welcome: {serves: this.q.serves ?? null}});
  }

  private say(message: FromBridge): void {
    this.socket.send(JSON.stringify(message));
  }

  private async hear(said: ToBridge): Promise<void> {
    if ('taken' in said) {
      this.takenThere = said.taken;
      this.wake?.();
    } else if ('list' in said) this.say({ports: [...(await this.q.list())]});
    else if ('open' in said && !this.port) await this.open(said.open);
    else this.socket.close(bridgeCloses.nonsense);
  }

  private async open(path: string | null): Promise<void> {
    try {
      this.port = await this.q.open(this.q.serves === undefined ? path : null);
    } catch (error) {
      const isHeld = error instanceof PortRefused && error.why === 'held';
      return this.socket.close(bridgeCloses[isHeld ? 'port-held' : 'port-missing']);
    }
    this.writer = this.port.writable.getWriter();
    if (this.socket.readyState !== this.socket.OPEN) return void this.writer.close();
    this.say({opened: this.q.serves ?? path ?? ''});
    void this.fromPort(this.port);
  }

  /** In their order, each once the port has taken the one before. */
  private toPort(bytes: Buffer): void {
    const {writer} = this;
    if (!writer) return this.socket.close(bridgeCloses.nonsense);
    this.writing = this.writing
      .then(() => writer.write(new Uint8Array(bytes)))
      .then(() => this.say({taken: (this.takenHere += bytes.length)}))
      // A port that takes nothing has gone; its reading side says so.
      .catch(() => undefined);
  }

  private async fromPort(port: BytePort): Promise<void> {
    const reader = port.readable.getReader();
    for (;;) {
      while (this.sent - this.takenThere >= bridgeWindow && this.isOpen)
        await new Promise<void>((resolve) => (this.wake = resolve));
      const {done, value} = await reader.read();
      if (done || !this.isOpen) break;
      this.sent += value!.length;
      this.socket.send(value!);
    }
    if (!this.isOpen) return;
    this.socket.close(bridgeCloses['port-gone']);
    this.portGone('the port has gone');
  }

  private get isOpen(): boolean {
    return this.socket.readyState === this.socket.OPEN;
  }
}
