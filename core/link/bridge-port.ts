/** A byte port over the WebSocket of a bridge: see docs/bench-link.md, "Over a bridge". */
import {ProblemError, type Problem} from '../problem';
import {
  bridgeProblem,
  bridgeWindow,
  fromBridge,
  plainCode,
  type FromBridge,
  type ListedPort,
  type ToBridge,
} from './bridge';
import {ByteQueue} from './byte-queue';
import type {BytePort} from './port';

/** What is used of a WebSocket, whose `binaryType` is "arraybuffer". */
export interface BridgeSocket {
  onopen: (() => void) | null;
  onmessage: ((event: {data: unknown}) => void) | null;
  onclose: ((event: {code: number}) => void) | null;
  send(data: string | Uint8Array): void;
  close(): void;
}

/** A bridge that let this page in. */
export interface BridgeDesk {
  /** The port that it serves; undefined where the page chooses. */
  readonly serves: string | undefined;
  /** Ports of its computer, those with a maker's number first. */
  list(): Promise<readonly ListedPort[]>;
  /** Opens what it serves, or the port of this path. After that the desk lists nothing more. */
  open(path?: string): Promise<BytePort>;
  close(): void;
}

const silentFor = 5_000;

/**
 * Says the code to a bridge.
 *
 * @param after calls back in so many ms; the returned function takes it back.
 * @throws ProblemError with code "bridge-absent" where none answers, "wrong-code", "taken".
 */
export async function enterBridge(
  socket: BridgeSocket,
  code: string,
  after: (ms: number, callback: () => void) => () => void,
): Promise<BridgeDesk> {
  const line = new Line(socket);
  const giveUp = after(silentFor, () => line.fail(absent));
  try {
    await line.opened;
    line.say({code: plainCode(code)});
    const {welcome} = await line.answer('welcome');
    return deskOf(line, welcome.serves ?? undefined);
  } finally {
    giveUp();
  }
}

function deskOf(line: Line, serves: string | undefined): BridgeDesk {
  return {
    serves,
    async list() {
      line.say({list: true});
      return (await line.answer('ports')).ports;
    },
    async open(path) {
      line.say({open: path ?? null});
      await line.answer('opened');
      return line.port;
    },
    close: () => line.close(),
  };
}

type Named = FromBridge extends infer M ? (M extends object ? keyof M : never) : never;
type AnswerOf<N extends Named> = Extract<FromBridge, Record<N, unknown>>;

class Line {
  readonly opened: Promise<void>;
  private ended: Problem | undefined;
  private readonly queue = new ByteQueue((bytes) => this.tookHere(bytes));
  private readonly answers: FromBridge[] = [];
  private wake: (() => void)[] = [];
  private sent = 0;
  private takenThere = 0;
  private takenHere = 0;

  constructor(private readonly socket: BridgeSocket) {
    let open: () => void = () => undefined;
    this.opened = new Promise<void>((resolve, reject) => {
      open = resolve;
      this.wake.push(() => this.ended && reject(new ProblemError(this.ended)));
    });
    socket.onopen = () => open();
    socket.onmessage = ({data}) => (typeof data === 'string' ? this.hear(data) : this.queue.push(bytesOf(data)));
    socket.onclose = ({code}) => this.fail(bridgeProblem(code) ?? (this.hasBegun ? gone : absent));
  }

  private hasBegun = false;

  say(message: ToBridge): void {
    this.socket.send(JSON.stringify(message));
  }

  async answer<N extends Named>(name: N): Promise<AnswerOf<N>> {
    for (;;) {
      const at = this.answers.findIndex((message) => name in message);
      if (at >= 0) return this.answers.splice(at, 1)[0] as AnswerOf<N>;
      if (this.ended) throw new ProblemError(this.ended);
      await new Promise<void>((resolve) => this.wake.push(resolve));
    }
  }

  fail(problem: Problem): void {
    if (this.ended) return;
    this.ended = problem;
    this.queue.end();
    this.wakeAll();
    this.socket.close();
  }

  close(): void {
    this.fail(gone);
  }

  get port(): BytePort {
    const close = () => Promise.resolve(this.close());
    return {
      readable: {getReader: () => ({read: () => this.queue.read(), cancel: close})},
      writable: {getWriter: () => ({write: (bytes) => this.write(bytes), close})},
    };
  }

  private hear(text: string): void {
    const read = fromBridge.safeParse(jsonOf(text));
    if (!read.success) return this.fail(bridgeProblem(4400)!);
    this.hasBegun = true;
    if ('taken' in read.data) this.takenThere = read.data.taken;
    else this.answers.push(read.data);
    this.wakeAll();
  }

  /** Resolves when the bytes are on their way, which they are once the port is not far behind. */
  private async write(bytes: Uint8Array): Promise<void> {
    while (!this.ended && this.sent - this.takenThere >= bridgeWindow)
      await new Promise<void>((resolve) => this.wake.push(resolve));
    if (this.ended) throw new ProblemError(this.ended);
    this.sent += bytes.length;
    this.socket.send(bytes);
  }

  private tookHere(bytes: number): void {
    this.takenHere += bytes;
    if (!this.ended) this.say({taken: this.takenHere});
  }

  private wakeAll(): void {
    const {wake} = this;
    this.wake = [];
    for (const go of wake) go();
  }
}

const bytesOf = (data: unknown): Uint8Array =>
  data instanceof Uint8Array ? data : new Uint8Array(data as ArrayBuffer);

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

const absent: Problem = {
  code: 'bridge-absent',
  place: 'bridge',
  meaning: 'No bridge answers at this address, or it serves pages of another address than this one.',
  remedy: 'Start it in a terminal in the folder of Bidex: npm run -s bidex -- bridge. Then connect again.',
};
const gone: Problem = {
  code: 'cable-out',
  place: 'bridge',
  meaning: 'The bridge ended the connection: it was stopped, or its port has gone.',
  remedy: 'Look at its terminal, start it again if it has ended, and connect again.',
};
