/** What a carry-over does, in one line. */
import type {CarryOver} from './carry-over';
import {definitionOf, formatValue, type LayoutRevision, type ParameterKey} from './definitions';

export function describeCarryOver(from: LayoutRevision, to: LayoutRevision, carried: CarryOver): string {
  if (from === to && !carried.outOfRange.length) return `Layout ${to} stays; nothing moves.`;
  const names = (keys: readonly ParameterKey[]) => keys.map(nameInSentence).join(', ');
  const {moved, added, dropped, outOfRange} = carried;
  const parts = [
    moved.length && `${names(moved)} ${moved.length > 1 ? 'move' : 'moves'}`,
    added.length &&
      `${names(added)} ${added.length > 1 ? 'are new and start at their defaults' : 'is new and starts at its default'}`,
    dropped.length && describeDropped(dropped),
    outOfRange.length && `out of range and back at its default: ${names(outOfRange.map((o) => o.key))}`,
  ].filter(Boolean);
  return `Layout ${from} → ${to}: ${parts.join('; ') || 'nothing moves'}. Values are carried over.`;
}

/** Values that someone chose, one by one; those that stood at their default are only named. */
function describeDropped(dropped: CarryOver['dropped']): string {
  const own = dropped.filter(({key, last}) => last !== definitionOf(key).default);
  const rest = dropped.filter((d) => !own.includes(d)).map(({key}) => nameInSentence(key));
  const last = own.map((d) => `${nameInSentence(d.key)} ${formatValue(definitionOf(d.key), d.last)}`);
  return [
    last.length && `dropped, with its last value: ${last.join(', ')}`,
    rest.length && `dropped at ${rest.length > 1 ? 'their defaults' : 'its default'}: ${rest.join(', ')}`,
  ]
    .filter(Boolean)
    .join('; ');
}

/** "PWM frequency" stays, "Brake strength" loses its capital. */
export function nameInSentence(key: ParameterKey): string {
  const {name} = definitionOf(key);
  return /^[A-Z]{2}/.test(name) ? name : name[0]!.toLowerCase() + name.slice(1);
}
