/** One connection to an adapter without any of the client's care: every byte as it is, every answer kept. */
import {decodeMessage, encodeMessage, type Message} from '../link/message';
import {reportSchema, type Report} from '../link/operations';
import {sleep, type BytePort, type ByteReader, type ByteWriter, type Clock} from '../link/port';
import {SlipDecoder} from '../link/slip';

/** An answer, or that none came in time. `afterMs`: from sending to hearing. */
export interface Heard {
  readonly kind: 'done' | 'refused' | 'silence' | 'other';
  readonly value: unknown;
  readonly afterMs: number;
}

/** Time an answer is waited for, ms: longer than any time-out of the link but those of a restart. */
const patienceMs = 2_600;

/** A turn that took longer is time in which this program itself was held up: an answer may lie unread. */
const mostTurnMs = 20;

export class RawLink {
  readonly reports: {readonly report: Report; readonly atMs: number}[] = [];
  /** Answers in the order they came. */
  readonly answers: {readonly message: Message; readonly atMs: number}[] = [];
  /** Frames that fail SLIP, CRC, CBOR or shape. */
  badFrames = 0;
  private readonly decoder = new SlipDecoder();
  private readonly reader: ByteReader;
  private readonly writer: ByteWriter;
  private sequence = 100;
  private ended = false;

  constructor(
    port: BytePort,
    readonly clock: Clock,
  ) {
    this.reader = port.readable.getReader();
    this.writer = port.writable.getWriter();
    void this.listen();
  }

  get isEnded(): boolean {
    return this.ended;
  }

  /** Begins anew on an adapter whose cable has stayed in since the connection before. */
  async greet(): Promise<void> {
    await this.ask('hello', {speaks: [1], client: `check ${this.clock.now()} ${++RawLink.named}`});
    // What came before is of the connection before.
    this.answers.length = 0;
    this.reports.length = 0;
  }

  private static named = 0;

  /** The next number, apart from those a rule chooses itself below 100. */
  next(): number {
    return ++this.sequence;
  }

  /** Sends bytes as they are. */
  async send(bytes: Uint8Array): Promise<void> {
    try {
      await this.writer.write(bytes);
    } catch {
      this.ended = true;
    }
  }

  /** Sends one request and waits for the first answer with its number. */
  async ask(operation: string, argument: unknown, sequence = this.next(), forMs = patienceMs): Promise<Heard> {
    const from = this.answers.length;
    const began = this.clock.now();
    await this.send(encodeMessage({sequence, operation, argument}));
    return this.answerTo(sequence, {from, began, forMs});
  }

  /** Waits for an answer that came after the `from`th. */
  async answerTo(
    sequence: number,
    {from = 0, began = this.clock.now(), forMs = patienceMs}: {from?: number; began?: number; forMs?: number} = {},
  ): Promise<Heard> {
    let waited = this.clock.now() - began;
    while (waited < forMs && !this.ended) {
      const heard = this.answers.slice(from).find(({message}) => message.sequence === sequence);
      if (heard) return {...sorted(heard.message), afterMs: heard.atMs - began};
      waited += await this.turn();
    }
    return {kind: 'silence', value: undefined, afterMs: this.clock.now() - began};
  }

  /** A moment in which what has come is heard; resolves with how much of it counts as waited, ms. */
  private async turn(): Promise<number> {
    const before = this.clock.now();
    await sleep(this.clock, 2);
    return Math.min(this.clock.now() - before, mostTurnMs);
  }

  /** Hears what comes for so long, ms; time in which this program itself was held up does not count, as in an answer's wait. */
  async hearFor(ms: number): Promise<void> {
    let waited = 0;
    while (waited < ms && !this.ended) waited += await this.turn();
  }

  async close(): Promise<void> {
    this.ended = true;
    await Promise.allSettled([this.reader.cancel(), this.writer.close()]);
  }

  private async listen(): Promise<void> {
    try {
      for (;;) {
        const {done, value} = await this.reader.read();
        if (done) break;
        for (const frame of this.decoder.push(value ?? new Uint8Array(0))) this.hear(frame);
      }
    } catch {
      // A port that fails has ended.
    }
    this.ended = true;
  }

  private hear(frame: Uint8Array): void {
    const message = decodeMessage(frame);
    const atMs = this.clock.now();
    if (typeof message === 'string') this.badFrames++;
    else if (message.operation !== 'report') this.answers.push({message, atMs});
    else {
      const report = reportSchema.safeParse(message.argument);
      if (report.success) this.reports.push({report: report.data, atMs});
      else this.badFrames++;
    }
  }
}

function sorted({operation, argument}: Message): Pick<Heard, 'kind' | 'value'> {
  const kind = operation === 'done' || operation === 'refused' ? operation : 'other';
  return {kind, value: argument};
}
