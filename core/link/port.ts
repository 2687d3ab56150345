/**
 * A byte port: what Web Serial's SerialPort, a pair of message ports or a test offers.
 * Only the parts of the WHATWG streams that the client uses, so that core needs no DOM types.
 */
export interface BytePort {
  readonly readable: {getReader(): ByteReader};
  readonly writable: {getWriter(): ByteWriter};
}

export interface ByteReader {
  read(): Promise<{done: boolean; value?: Uint8Array | undefined}>;
  cancel(reason?: unknown): Promise<void>;
}

export interface ByteWriter {
  write(bytes: Uint8Array): Promise<void>;
  close(): Promise<void>;
}

/** Hands over each piece that comes; resolves at the end of them. */
export async function readPieces(reader: Pick<ByteReader, 'read'>, take: (bytes: Uint8Array) => void): Promise<void> {
  for (;;) {
    const {done, value} = await reader.read();
    if (done) return;
    if (value) take(value);
  }
}

/** Time as it is passed in: real in the application, virtual in tests. */
export interface Clock {
  /** Milliseconds; only differences mean anything. */
  now(): number;
  /** Calls back once after `ms`; the returned function takes it back and may be called twice. */
  after(ms: number, callback: () => void): () => void;
}

export const sleep = (clock: Clock, ms: number): Promise<void> => new Promise((resolve) => clock.after(ms, resolve));

/** Calls back every `ms` until the returned function is called. */
export function every(clock: Clock, ms: number, callback: () => void): () => void {
  let cancel = clock.after(ms, function again() {
    cancel = clock.after(ms, again);
    callback();
  });
  return () => cancel();
}
