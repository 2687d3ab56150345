/** Another craft of the fleet, as its bench was found last: what a plan can take values and lines from. */
import type {Found} from '../bench/found';
import {snapshotOfFound, type Snapshot} from '../snapshot/snapshot';

export interface OtherCraft {
  readonly id: string;
  readonly name: string;
  readonly found: Found;
}

/** What was found last on it, as a snapshot that is not kept. */
export const snapshotOfOther = ({id, name, found}: OtherCraft): Snapshot =>
  snapshotOfFound(found, {id, craft: name, name: `${name}, as it was found`, at: new Date(found.at).toISOString()});
