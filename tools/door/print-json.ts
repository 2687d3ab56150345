/** JSON of a value in pieces: a list of a million frames is never one text, nor a million objects at once. */

/** A list whose entries are made as they are printed. */
export class Listed<T, U = unknown> implements Iterable<U> {
  constructor(
    private readonly entries: readonly T[],
    private readonly entry: (value: T, index: number) => U,
  ) {}

  *[Symbol.iterator](): Generator<U> {
    for (const [i, value] of this.entries.entries()) yield this.entry(value, i);
  }

  toJSON(): U[] {
    return [...this];
  }
}

/** Letters that are gathered before they are handed on. */
const pieceLetters = 1 << 16;

/** The text of `value`, indented; the entries of a {@link Listed} stand in one line each. */
export function* jsonPieces(value: unknown): Generator<string> {
  let text = '';
  for (const part of partsOf(value, '')) {
    text += part;
    if (text.length < pieceLetters) continue;
    yield text;
    text = '';
  }
  yield text;
}

function* partsOf(value: unknown, indent: string): Generator<string> {
  const inner = `${indent}  `;
  if (value instanceof Listed) yield* listOf(value, (entry) => [JSON.stringify(entry)], indent);
  else if (Array.isArray(value)) yield* listOf(value, (entry) => partsOf(entry, inner), indent);
  else if (isPlain(value)) {
    let before = '{';
    for (const [key, entry] of Object.entries(value)) {
      if (entry === undefined) continue;
      yield `${before}\n${inner}${JSON.stringify(key)}: `;
      yield* partsOf(entry, inner);
      before = ',';
    }
    yield before === '{' ? '{}' : `\n${indent}}`;
  } else yield JSON.stringify(value) ?? 'null';
}

function* listOf<T>(entries: Iterable<T>, parts: (entry: T) => Iterable<string>, indent: string): Generator<string> {
  let before = '[';
  for (const entry of entries) {
    yield `${before}\n${indent}  `;
    yield* parts(entry);
    before = ',';
  }
  yield before === '[' ? '[]' : `\n${indent}]`;
}

const isPlain = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;
