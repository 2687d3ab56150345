/** What a carry-over does, in one line. */
import type {CarryOver} from './carry-over';
import {definitionOf, formatValue, type LayoutRevision, type ParameterKey} from './definitions';

export function describeCarryOver(from: LayoutRevision, to: LayoutRevision, carried: CarryOver): string {
  if (from === to && !carried.outOfRange.length) return `Layout ${to} stays; nothing moves.`;
  const name = (key: ParameterKey) => definitionOf(key).name.toLowerCase();
  const names = (keys: readonly ParameterKey[]) => keys.map(name).join(', ');
  const {moved, added, dropped, outOfRange} = carried;
  const parts = [
    moved.length && `${names(moved)} ${moved.length > 1 ? 'move' : 'moves'}`,
    added.length && `${names(added)} ${added.length > 1 ? 'are new and start' : 'is new and starts'} at its default`,
    dropped.length &&
      `dropped, with its last value: ${dropped.map((d) => `${name(d.key)} ${formatValue(definitionOf(d.key), d.last)}`).join(', ')}`,
    outOfRange.length && `out of range and back at its default: ${names(outOfRange.map((o) => o.key))}`,
  ].filter(Boolean);
  return `Layout ${from} → ${to}: ${parts.join('; ') || 'nothing moves'}. Values are carried over.`;
}
