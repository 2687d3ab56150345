/**
 * A craft is proven whole, goes off the cable, and someone changes it: fields, plugs, an ESC, a motor, its flight controller.
 * Whatever still stands after it was read again must be true.
 */
import type {SimulatedBench} from '@simulator/hardware/bench';
import type {Random} from '@simulator/random';
import type {ProvenCraft} from './proven-craft';
import {changeCraft} from './someone';

/** Share of reads and writes of its record that fail, of changes after which the page is loaded again, and of measuring again. */
const [faultShare, reloadShare, againShare] = [0.15, 0.3, 0.5];

export interface Life {
  readonly bench: SimulatedBench;
  readonly random: Random;
  readonly page: ProvenCraft;
  /** Reads the bench, and notes what was found. */
  readonly survey: () => Promise<void>;
  /** The cable out and in again. */
  readonly reconnect: () => Promise<void>;
}

/** Returns how often something was changed. */
export async function live({bench, random, page, survey, reconnect}: Life): Promise<number> {
  const check = () => page.check(page.record.found?.power.cycles);
  page.table.chance = faultShare;
  await survey();
  page.measureAll();
  check();
  let meddlings = 0;
  for (let i = 1 + random.below(4); i > 0; i--) {
    page.note();
    const changed = changeCraft(bench, random);
    if (!changed) continue;
    meddlings++;
    if (changed.part) page.replaced(changed.part);
    await reconnect();
    if (random.next() < reloadShare) await page.reload();
    check();
    await survey();
    check();
    if (random.next() < againShare) page.measureAll();
  }
  return meddlings;
}
