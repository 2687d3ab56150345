/**
 * The door of an adapter on a network, where anybody may knock, a web page of anybody's among them: only a connection that
 * begins as a frame does gets the cable, and one at a time has it (docs/bench-link.md, "Over a network").
 */
import type {BytePort, ByteReader, ByteWriter} from '@core/link/port';
import {slipEnd} from '@core/link/slip';

/** What a door does wrong that the conformance check has to find. */
export interface LaxDoor {
  readonly takesAnything?: boolean;
  readonly takesSeveral?: boolean;
}

export class NetworkDoor {
  private inside: Visitor | undefined;

  /** @param open plugs the cable in; called when a connection has begun as it must. */
  constructor(
    private readonly open: () => BytePort,
    private readonly lax: LaxDoor = {},
  ) {}

  /** The near end of a new connection. */
  connect(): BytePort {
    const visitor: Visitor = new Visitor(
      (first) => this.admit(visitor, first),
      () => this.left(visitor),
    );
    return {
      readable: {getReader: () => ({read: () => visitor.read(), cancel: () => visitor.end()})},
      writable: {getWriter: () => ({write: (bytes) => visitor.write(bytes), close: () => Promise.resolve()})},
    };
  }

  private admit(visitor: Visitor, first: number): BytePort | undefined {
    if (first !== slipEnd && !this.lax.takesAnything) return undefined;
    if (this.inside && !this.lax.takesSeveral) return undefined;
    this.inside = visitor;
    return this.open();
  }

  private left(visitor: Visitor): void {
    if (this.inside === visitor) this.inside = undefined;
  }
}

class Visitor {
  private ended = false;
  private reader: ByteReader | undefined;
  private writer: ByteWriter | undefined;
  private wake: (() => void) | undefined;

  constructor(
    private readonly admit: (first: number) => BytePort | undefined,
    private readonly left: () => void,
  ) {}

  async write(bytes: Uint8Array): Promise<void> {
    if (this.ended) throw new Error('The connection is closed');
    if (!this.writer && bytes.length) this.enter(bytes[0]!);
    await this.writer?.write(bytes);
  }

  async read(): Promise<{done: boolean; value?: Uint8Array | undefined}> {
    while (!this.reader && !this.ended) await new Promise<void>((resolve) => (this.wake = resolve));
    if (!this.reader) return {done: true};
    const read = await this.reader.read();
    if (read.done) await this.end();
    return read;
  }

  async end(): Promise<void> {
    if (this.ended) return;
    this.ended = true;
    this.left();
    this.wake?.();
    await this.reader?.cancel();
  }

  private enter(first: number): void {
    const port = this.admit(first);
    if (!port) return void this.end();
    this.reader = port.readable.getReader();
    this.writer = port.writable.getWriter();
    this.wake?.();
  }
}
