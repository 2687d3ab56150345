/** JSON of a value in pieces: a list of a million frames is never one text, nor a million objects at once. */

/** A list whose entries are made as they are printed, and forgotten then. */
export class Listed<T, U = unknown> {
  /** @param isFlat its entries are printed in one line each. */
  constructor(
    private readonly entries: readonly T[],
    private readonly entry: (value: T, index: number) => U,
    readonly isFlat = false,
  ) {}

  get length(): number {
    return this.entries.length;
  }

  at(index: number): U {
    return this.entry(this.entries[index]!, index);
  }

  toJSON(): U[] {
    return this.entries.map((_, i) => this.at(i));
  }
}

/** Letters that are gathered before they are handed on. */
const pieceLetters = 1 << 16;

/** The text of `value`, indented, in pieces of that size or a little more. */
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
  if (value instanceof Listed) yield* value.isFlat ? linesOf(value, indent) : entriesOf(value, indent);
  else if (Array.isArray(value)) yield* entriesOf(new Listed<unknown>(value, (entry) => entry), indent);
  else if (isPlain(value)) yield* fieldsOf(value, indent);
  else yield JSON.stringify(value) ?? 'null';
}

function* fieldsOf(value: object, indent: string): Generator<string> {
  let before = '{';
  for (const [key, entry] of Object.entries(value)) {
    if (entry === undefined) continue;
    yield `${before}\n${indent}  ${JSON.stringify(key)}: `;
    yield* partsOf(entry, `${indent}  `);
    before = ',';
  }
  yield before === '{' ? '{}' : `\n${indent}}`;
}

function* entriesOf(list: Listed<unknown>, indent: string): Generator<string> {
  for (let i = 0; i < list.length; i++) {
    yield `${i ? ',' : '['}\n${indent}  `;
    yield* partsOf(list.at(i), `${indent}  `);
  }
  yield list.length ? `\n${indent}]` : '[]';
}

/** Without a step per entry: there may be a million. */
function* linesOf(list: Listed<unknown>, indent: string): Generator<string> {
  let text = '';
  for (let i = 0; i < list.length; i++) {
    text += `${i ? ',' : '['}\n${indent}  ${JSON.stringify(list.at(i))}`;
    if (text.length < pieceLetters) continue;
    yield text;
    text = '';
  }
  yield list.length ? `${text}\n${indent}]` : '[]';
}

const isPlain = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;
