/** The bytes of a log in pieces, from a file or from our server; packed ones (gzip) are unpacked on the way. */
import type {Problem} from '@core/problem';

interface LogPieces {
  readonly stream: AsyncIterable<Uint8Array>;
  /** Of the unpacked table; of the packed file where nothing else is known. */
  readonly sizeBytes: number;
}

/** Never handed over whole, so that a file of 200 MB passes neither the screen's thread nor memory twice. */
export async function piecesOf(source: Blob | string): Promise<LogPieces | Problem> {
  if (typeof source !== 'string') return ofBlob(source);
  const response = await fetch(source).catch(() => undefined);
  if (response?.ok && response.body)
    return {
      stream: iterated(response.body),
      sizeBytes: Number(response.headers.get('content-length') ?? 0) * usualPacking,
    };
  const meaning = response ? `The server answered with status ${response.status}.` : 'The server cannot be reached.';
  return {code: 'log-fetch', place: source, meaning, remedy: 'Check that the server runs, then try again.'};
}

/** The first bytes of a log, unpacked: enough to know its head. */
export async function firstBytes(blob: Blob, most: number): Promise<Uint8Array> {
  const bytes = new Uint8Array(most);
  let filled = 0;
  for await (const piece of (await ofBlob(blob)).stream) {
    const part = piece.subarray(0, most - filled);
    bytes.set(part, filled);
    filled += part.length;
    if (filled === most) break;
  }
  return bytes.subarray(0, filled);
}

/** A table of numbers shrinks to about a fifth. */
const usualPacking = 5;

async function ofBlob(blob: Blob): Promise<LogPieces> {
  const mark = new Uint8Array(await blob.slice(0, 2).arrayBuffer());
  const isPacked = mark[0] === 0x1f && mark[1] === 0x8b;
  if (!isPacked) return {stream: iterated(blob.stream()), sizeBytes: blob.size};
  const unpacked = blob.stream().pipeThrough(new DecompressionStream('gzip'));
  return {stream: iterated(unpacked), sizeBytes: blob.size * usualPacking};
}

/** Streams are iterable by themselves in some browsers only. */
async function* iterated(stream: ReadableStream<Uint8Array>): AsyncGenerator<Uint8Array> {
  const reader = stream.getReader();
  try {
    for (;;) {
      const {done, value} = await reader.read();
      if (done) return;
      yield value;
    }
  } finally {
    reader.releaseLock();
  }
}
