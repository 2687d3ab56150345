/** Where each key of a TOML text stands, so that a fault can name its line. */

interface KeyLine {
  /** Names of its tables and itself, joined by dots; the number of a table in a list too: switches.0.use. */
  readonly path: string;
  /** Counted from 1. */
  readonly line: number;
}

/** Of a text that parses. Keys inside a value that spans lines have the line of that value. */
export function keyLines(text: string): KeyLine[] {
  const found: KeyLine[] = [];
  const counts = new Map<string, number>();
  let table: string[] = [];
  let open: OpenValue = closed;
  text.split('\n').forEach((line, i) => {
    if (isOpen(open)) {
      open = scanValue(line, open);
      return;
    }
    const head = /^\s*(\[\[?)\s*((?:"(?:[^"\\]|\\.)*"|'[^']*'|[^\]"'])+?)\s*\]/.exec(line);
    if (head) {
      table = namesOf(head[2]!);
      if (head[1] === '[[') {
        const name = table.join('.');
        const count = counts.get(name) ?? 0;
        counts.set(name, count + 1);
        table = [...table, String(count)];
      }
      found.push({path: table.join('.'), line: i + 1});
      return;
    }
    const cut = equalsAt(line);
    if (cut < 0) return;
    found.push({path: [...table, ...namesOf(line.slice(0, cut))].join('.'), line: i + 1});
    open = scanValue(line.slice(cut + 1), closed);
  });
  return found;
}

/** Prefixes of a path are kept down to so many names: paths that are asked for have no more. */
const maxNames = 8;

/** Finds the line of a path; built once for a text, so that each line costs one look. */
export class LineIndex {
  private readonly exact = new Map<string, number>();
  /** Line of the first thing inside a path. */
  private readonly inside = new Map<string, number>();

  constructor(lines: readonly KeyLine[]) {
    for (const {path, line} of lines) {
      if (!this.exact.has(path)) this.exact.set(path, line);
      for (
        let at = path.indexOf('.'), names = 1;
        at >= 0 && names <= maxNames;
        at = path.indexOf('.', at + 1), names++
      ) {
        const prefix = path.slice(0, at);
        if (!this.inside.has(prefix)) this.inside.set(prefix, line);
      }
    }
  }

  /** Line of a path, of the first thing inside it, or of the nearest table around it; 1 where nothing of it stands there. */
  lineOf(path: string): number {
    const own = this.exact.get(path) ?? this.inside.get(path);
    if (own !== undefined) return own;
    for (let at = path.lastIndexOf('.'); at > 0; at = path.lastIndexOf('.', at - 1)) {
      const hit = this.exact.get(path.slice(0, at));
      if (hit !== undefined) return hit;
    }
    return 1;
  }
}

/** Names of a dotted key; quotes fall away. */
function namesOf(dotted: string): string[] {
  const names = dotted.match(/"(?:[^"\\]|\\.)*"|'[^']*'|[^.\s]+/g) ?? [];
  return names.map((name) => {
    if (name.startsWith('"')) {
      try {
        return JSON.parse(name) as string;
      } catch {
        return name.slice(1, -1);
      }
    }
    return name.startsWith("'") ? name.slice(1, -1) : name;
  });
}

/** The equals sign behind a key, outside quotes; −1 where a line has none. */
function equalsAt(line: string): number {
  let quote = '';
  for (let i = 0; i < line.length; i++) {
    const c = line[i]!;
    if (quote) {
      if (c === '\\' && quote === '"') i++;
      else if (c === quote) quote = '';
    } else if (c === '"' || c === "'") quote = c;
    else if (c === '#') return -1;
    else if (c === '=') return i;
  }
  return -1;
}

interface OpenValue {
  /** Quotes that a text over lines ends with; empty outside of one. */
  readonly quotes: string;
  /** Brackets of lists that are open. */
  readonly depth: number;
}
const closed: OpenValue = {quotes: '', depth: 0};
const isOpen = ({quotes, depth}: OpenValue) => quotes !== '' || depth > 0;

/** What is still open at the end of a line of a value. */
function scanValue(line: string, {quotes, depth}: OpenValue): OpenValue {
  for (let i = 0; i < line.length; i++) {
    const rest = line.slice(i);
    if (quotes) {
      if (line[i] === '\\' && quotes.startsWith('"')) i++;
      else if (rest.startsWith(quotes)) {
        i += quotes.length - 1;
        quotes = '';
      }
    } else if (rest.startsWith('"""') || rest.startsWith("'''")) {
      quotes = rest.slice(0, 3);
      i += 2;
    } else if (line[i] === '"' || line[i] === "'") quotes = line[i]!;
    else if (line[i] === '#') break;
    else if (line[i] === '[') depth++;
    else if (line[i] === ']') depth--;
  }
  // A text in single quotes ends with its line.
  return {quotes: quotes.length === 3 ? quotes : '', depth: Math.max(0, depth)};
}
