/** ESCs whose chips were copied with their serial number: reading it does not tell them apart. */
import type {Found} from './found';

/** Outputs that share a serial, each group once. */
export function equalSerials({escs}: Pick<Found, 'escs'>): number[][] {
  const groups = new Map<string, number[]>();
  for (const {output, boot} of escs) groups.set(boot.serial, [...(groups.get(boot.serial) ?? []), output]);
  return [...groups.values()].filter((outputs) => outputs.length > 1);
}
