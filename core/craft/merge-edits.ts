/**
 * Two people, or two tabs, changed the same thing from the same beginning. What only one of them touched is taken over;
 * where both changed the same value, this side's is kept and the other's is named.
 */
import {canonicalJson} from '../canonical-json';

export interface MergedEdits<T> {
  readonly value: T;
  /** Paths at which both sides hold different values and this side's was kept: "plan parameters timing". */
  readonly conflicts: readonly string[];
  /** Whether anything of the other side came in. */
  readonly tookOver: boolean;
}

/** Merges `mine` and `theirs`, both made from `base`. Lists are one value: they are never mixed. */
export function mergeEdits<T>(base: T, mine: T, theirs: T): MergedEdits<T> {
  const conflicts: string[] = [];
  const value = merge([base, mine, theirs], '', conflicts) as T;
  return {value, conflicts, tookOver: canonicalJson(value) !== canonicalJson(mine)};
}

function merge([base, mine, theirs]: readonly [unknown, unknown, unknown], path: string, conflicts: string[]): unknown {
  const same = (a: unknown, b: unknown) => canonicalJson(a ?? null) === canonicalJson(b ?? null);
  if (same(mine, theirs) || same(theirs, base)) return mine;
  if (same(mine, base)) return theirs;
  if (!isRecord(mine) || !isRecord(theirs)) {
    conflicts.push(path);
    return mine;
  }
  const from = isRecord(base) ? base : {};
  const keys = [...new Set([...Object.keys(mine), ...Object.keys(theirs)])];
  return Object.fromEntries(
    keys.flatMap((key) => {
      const value = merge([from[key], mine[key], theirs[key]], path ? `${path} ${key}` : key, conflicts);
      return value === undefined ? [] : [[key, value]];
    }),
  );
}

const isRecord = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
