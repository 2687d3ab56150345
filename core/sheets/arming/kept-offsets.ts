/** What the flight controller takes off its accelerometer: as found, and as it will be. */
import {sameJson} from '../../canonical-json';
import {offsetsIn, type Offsets} from '../../controller/settings/level-offsets';
import type {JudgedCraft} from '../craft-question';
import {heldAndPlanned} from '../held-and-planned';

interface KeptOffsets {
  readonly found: Offsets;
  readonly planned: Offsets;
}

/** Undefined where its firmware does not tell it, or it was not read. */
export function offsetsOf(q: JudgedCraft): KeptOffsets | undefined {
  const held = heldAndPlanned(q);
  const [found, planned] = held ? [offsetsIn(held.entries, held.found), offsetsIn(held.entries, held.planned)] : [];
  return found && planned && {found, planned};
}

/** What is taken off is what is planned, as far as that is told. */
export function areOffsetsSet(q: JudgedCraft): boolean {
  const kept = offsetsOf(q);
  return !kept || sameJson(kept.found, kept.planned);
}
