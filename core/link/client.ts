/** The client side of the bench link: requests with sequence numbers, time-outs and repeats over any byte port. */
import {ProblemError, type Problem} from '../problem';
import {decodeMessage, encodeMessage, type Message} from './message';
import {
  abilityOf,
  operations,
  refusalSchema,
  reportSchema,
  spokenVersions,
  type Answer,
  type Argument,
  type Hello,
  type Operation,
  type Report,
  highestHold,
} from './operations';
import type {BytePort, ByteReader, ByteWriter, Clock} from './port';
import {placeOfRequest} from './place-words';
import {SlipDecoder} from './slip';

interface Pending {
  readonly operation: Operation;
  /** What it is about, as a person calls it. */
  readonly place: string;
  readonly resolve: (value: unknown) => void;
  readonly reject: (error: ProblemError) => void;
  readonly frame: Uint8Array;
  attempts: number;
  /** When it was sent first, ms. */
  sentAt: number;
  stopTimer: () => void;
}

interface LinkCounters {
  /** Frames that failed CRC, CBOR or shape, or broke SLIP. */
  readonly badFrames: number;
  readonly repeats: number;
  /** Bytes that came, and frames among them that read. */
  readonly bytes: number;
  readonly frames: number;
}

/** Requests after which hardware is not as before; those that go on with one of them are not among them. */
const beginsChange: ReadonlySet<Operation> = new Set([
  'esc.erase',
  'controller.set',
  'controller.save',
  'loader.download',
]);

/** Requests that are answered at once: their time is that of the road. */
const tellsTheRoad: ReadonlySet<Operation> = new Set([
  'hello',
  'power',
  'spin',
  'spin.stop',
  'reports',
  'attitude.read',
  'receiver.frames',
  'arming.state',
  'controller.read',
  'settings.read',
]);
const tripsKept = 500;

/** A link on which nothing at all was heard for this long, while an answer is waited for without end, is dead, ms. */
const deadAfterMs = 3_000;

export class BenchClient {
  private readonly pending = new Map<number, Pending>();
  private readonly decoder = new SlipDecoder();
  private readonly reader: ByteReader;
  private readonly writer: ByteWriter;
  private readonly reportListeners = new Set<(report: Report) => void>();
  private readonly closeListeners = new Set<(problem: Problem) => void>();
  private sequence = 0;
  /** Undefined until the adapter said in its `hello` where hold numbers stand. */
  private holds: number | undefined;
  private greeted: Hello | undefined;
  private heardAt: number;
  private badFrames = 0;
  private heardBytes = 0;
  private heardFrames = 0;
  private readonly trips: number[] = [];
  private repeats = 0;
  private closedBy: Problem | undefined;
  private refusing: Problem | undefined;

  /**
   * `name` is of this connection: a serial line does not tell the adapter that another one has begun. Who repeats a run
   * by its seed gives it, because every byte on the wire takes its time.
   */
  constructor(
    port: BytePort,
    private readonly clock: Clock,
    private readonly name = newName(),
  ) {
    this.reader = port.readable.getReader();
    this.writer = port.writable.getWriter();
    this.heardAt = clock.now();
    void this.listen();
  }

  get counters(): LinkCounters {
    const {heardBytes: bytes, heardFrames: frames} = this;
    return {badFrames: this.badFrames + this.decoder.dropped, repeats: this.repeats, bytes, frames};
  }

  /** Round trips of the last requests that were answered at the first try, ms, the newest last. */
  get roundTrips(): readonly number[] {
    return this.trips;
  }

  /** Why the link has ended; undefined while it has not. */
  get ended(): Problem | undefined {
    return this.closedBy;
  }

  get isClosed(): boolean {
    return this.closedBy !== undefined;
  }

  /** Highest number of a hold that this client or, by its `hello`, the adapter knows of. */
  get lastHold(): number {
    return this.holds ?? 0;
  }

  /** A number for a new hold, above every one before, of other tabs and programs too. Ask `hello` first. */
  takeHold(): number {
    if (this.holds === undefined) throw new Error('No hello yet: where hold numbers stand is not known');
    if (this.holds >= highestHold) throw new ProblemError(noHoldLeft);
    return ++this.holds;
  }

  /**
   * Greets the adapter: which version both speak, what it can do, where hold numbers stand. Rejects with "link-version"
   * when they have none in common.
   */
  async hello(): Promise<Hello> {
    const hello = await this.request('hello', {speaks: [...spokenVersions], client: this.name});
    if (!spokenVersions.includes(hello.link)) throw new ProblemError(otherVersion(hello.link));
    this.greeted = hello;
    return hello;
  }

  /** Whether the adapter said that it can do what an operation needs; true before it was greeted. */
  can(operation: Operation): boolean {
    const ability = abilityOf(operation);
    return !ability || !this.greeted || this.greeted.abilities.includes(ability);
  }

  /**
   * Until it is called without a problem, nothing that begins a change of hardware is sent, also not a second time: it is
   * rejected with `problem`. What finishes a page that is being written still goes.
   */
  refuseChanges(problem: Problem | undefined): void {
    this.refusing = problem;
  }

  /**
   * Sends one request. Rejects with a {@link ProblemError} when refused, unanswered or closed, and without sending when it
   * is out of range or the adapter cannot do it.
   */
  request<O extends Operation>(operation: O, argument: Argument<O>): Promise<Answer<O>> {
    if (this.closedBy) return Promise.reject(new ProblemError(this.closedBy));
    if (!this.can(operation)) return Promise.reject(new ProblemError(notAble(operation)));
    const asked = operations[operation].argument.safeParse(argument);
    if (!asked.success) return Promise.reject(new ProblemError(outOfRange(operation, asked.error.issues[0])));
    this.sequence = (this.sequence % 0xffff) + 1;
    const sequence = this.sequence;
    const frame = encodeMessage({sequence, operation, argument});
    return new Promise<unknown>((resolve, reject) => {
      this.pending.set(sequence, {
        operation,
        place: placeOfRequest(operation, argument),
        resolve,
        reject,
        frame,
        attempts: 0,
        sentAt: this.clock.now(),
        stopTimer: () => undefined,
      });
      this.send(sequence);
    }) as Promise<Answer<O>>;
  }

  /** Registers for reports; the returned function takes it back. */
  onReport(listener: (report: Report) => void): () => void {
    this.reportListeners.add(listener);
    return () => this.reportListeners.delete(listener);
  }

  /** Called once when the port ends; at once if it already has. */
  onClose(listener: (problem: Problem) => void): () => void {
    if (this.closedBy) listener(this.closedBy);
    else this.closeListeners.add(listener);
    return () => this.closeListeners.delete(listener);
  }

  /** Ends the connection. Open requests are rejected; closing twice is harmless. */
  async close(): Promise<void> {
    this.end({
      code: 'closed',
      place: 'bench link',
      meaning: 'The connection was closed.',
      remedy: 'Connect again.',
    });
    await Promise.allSettled([this.reader.cancel(), this.writer.close()]);
  }

  private send(sequence: number): void {
    const request = this.pending.get(sequence);
    if (!request) return;
    if (this.refusing && beginsChange.has(request.operation)) return this.settle(sequence, this.refusing);
    const {attempts, timeoutMs} = operations[request.operation];
    request.attempts++;
    if (request.attempts > 1) this.repeats++;
    this.writer.write(request.frame).catch(() => this.end(cableOut));
    request.stopTimer = this.clock.after(timeoutMs, () => {
      if (attempts === Infinity && this.clock.now() - this.heardAt > deadAfterMs && request.attempts > 1)
        this.end(silent);
      else if (request.attempts < attempts) this.send(sequence);
      else this.settle(sequence, unanswered(request.place, request.attempts, timeoutMs));
    });
  }

  private settle(sequence: number, outcome: Problem | {value: unknown}): void {
    const request = this.pending.get(sequence);
    if (!request) return;
    this.pending.delete(sequence);
    request.stopTimer();
    if ('value' in outcome) request.resolve(outcome.value);
    else request.reject(new ProblemError(outcome));
  }

  /** Takes bytes from the bench, cut anywhere. The port's reader calls it with everything that comes. */
  take(bytes: Uint8Array): void {
    this.heardBytes += bytes.length;
    for (const frame of this.decoder.push(bytes)) this.receive(frame);
  }

  private async listen(): Promise<void> {
    try {
      for (;;) {
        const {done, value} = await this.reader.read();
        if (done) break;
        if (value) this.take(value);
      }
    } catch {
      // A port that fails and a port that ends mean the same to the bench: the cable is out.
    }
    this.end(cableOut);
  }

  private receive(frame: Uint8Array): void {
    const message = decodeMessage(frame);
    if (typeof message === 'string') {
      this.badFrames++;
      return;
    }
    this.heardAt = this.clock.now();
    this.heardFrames++;
    if (message.operation === 'report') this.report(message);
    else this.answer(message);
  }

  private report({argument}: Message): void {
    const report = reportSchema.safeParse(argument);
    if (report.success) for (const listener of this.reportListeners) listener(report.data);
    else this.badFrames++;
  }

  private answer({sequence, operation, argument}: Message): void {
    const request = this.pending.get(sequence);
    if (!request) return; // A late answer to a request that was repeated and settled.
    if (operation === 'refused') {
      const refusal = refusalSchema.safeParse(argument);
      const {code, text} = refusal.success ? refusal.data : {code: 'unknown', text: 'no reason given'};
      this.settle(sequence, {code, place: request.place, meaning: text, remedy: remedyOf(code)});
      return;
    }
    this.noteTrip(request);
    const result = operations[request.operation].result.safeParse(argument);
    if (result.success) {
      if (request.operation === 'hello')
        this.holds = Math.max(this.lastHold, (result.data as Answer<'hello'>).lastHold);
      this.settle(sequence, {value: result.data});
    } else {
      this.badFrames++;
      this.settle(sequence, {
        code: 'protocol-error',
        place: request.place,
        meaning: `The bench answered in a shape that is not in the bench link (${result.error.issues[0]?.message ?? ''}).`,
        remedy: 'Update the adapter.',
      });
    }
  }

  /** Flash takes its time to be written: what is quick tells about the road. */
  private noteTrip({operation, attempts, sentAt}: Pending): void {
    if (attempts !== 1 || !tellsTheRoad.has(operation)) return;
    this.trips.push(this.clock.now() - sentAt);
    if (this.trips.length > tripsKept) this.trips.shift();
  }

  private end(problem: Problem): void {
    if (this.closedBy) return;
    this.closedBy = problem;
    for (const sequence of [...this.pending.keys()]) this.settle(sequence, problem);
    for (const listener of this.closeListeners) listener(problem);
    this.closeListeners.clear();
    this.reportListeners.clear();
  }
}

let named = 0;
/** A name that no other connection has, of this program or another. */
const newName = (): string => `${Math.random().toString(36).slice(2)}-${++named}`;

const cableOut: Problem = {
  code: 'cable-out',
  place: 'bench link',
  meaning: 'The connection to the bench ended. The cable is out or the adapter lost power.',
  remedy: 'Plug the cable in and connect again.',
};

const silent: Problem = {
  code: 'link-silent',
  place: 'bench link',
  meaning: `The bench has not answered for ${deadAfterMs / 1000} s although it was asked repeatedly.`,
  remedy: 'Look at the motors; take the battery off if one still turns. Then check the cable and connect again.',
};

function unanswered(place: string, attempts: number, timeoutMs: number): Problem {
  return {
    code: 'unanswered',
    place,
    meaning: `No answer in ${attempts} ${attempts === 1 ? 'attempt' : 'attempts'} of ${timeoutMs} ms.`,
    remedy: 'Check the cable, then connect again.',
  };
}

const otherVersion = (spoken: number): Problem => ({
  code: 'link-version',
  place: 'bench link',
  meaning: `The adapter speaks version ${spoken} of the bench link; this Bidex speaks version ${spokenVersions.join(' and ')}.`,
  remedy: spoken > Math.max(...spokenVersions) ? 'Update Bidex.' : 'Update the adapter.',
});

function notAble(operation: Operation): Problem {
  const ability = abilityOf(operation)!;
  const hasNoController = ability === 'controller' || ability === 'spin';
  return {
    code: hasNoController ? 'no-controller' : 'not-able',
    place: placeOfRequest(operation, null),
    meaning: hasNoController
      ? 'This adapter has no flight controller behind it.'
      : `This adapter cannot do "${ability}".`,
    remedy: hasNoController ? remedyOf('no-controller') : 'Use another adapter for this.',
  };
}

const noHoldLeft: Problem = {
  code: 'no-hold-left',
  place: 'adapter',
  meaning: 'The adapter has used up its hold numbers, so no motor can be turned.',
  remedy: 'Restart the flight controller: unplug battery and USB, then connect again.',
};

const outOfRange = (
  operation: string,
  issue: {readonly path: PropertyKey[]; readonly message: string} | undefined,
): Problem => ({
  code: 'out-of-range',
  place: [operation, ...(issue?.path ?? [])].map(String).join(' '),
  meaning: `Bidex was about to send a request outside the bench link (${issue?.message ?? 'not understood'}).`,
  remedy: 'Nothing was sent. Report it: Bidex should not have asked.',
});

function remedyOf(code: string): string {
  switch (code) {
    case 'no-power':
      return 'USB does not power the ESCs. Connect the battery.';
    case 'not-in-bootloader':
      return 'Carry on: Bidex enters the bootloader again.';
    case 'no-answer':
      return 'Check the signal wire. If it is sound, this ESC has no bootloader and cannot be written over the wire.';
    case 'no-pass-through':
      return 'Update the flight controller, or reach the ESCs one at a time with a single-wire adapter.';
    case 'link-version':
      return 'Update Bidex or the adapter, whichever is older.';
    case 'no-controller':
      return 'Plug the cable into the flight controller for this; the adapter only reaches ESCs.';
    case 'hold-too-high':
    case 'hold-ended':
      return 'Let go and hold again.';
    case 'locked':
      return 'Bring it out of that state, then try again; the work order waits for it by itself.';
    case 'protected':
      return 'This range is never written. Report it: Bidex should not have asked.';
    default:
      return 'Read the reason, then try again.';
  }
}
