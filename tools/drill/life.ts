/**
 * A craft is measured and proven, goes off the cable, and someone changes it: fields, plugs, an ESC, a motor, its flight
 * controller. Whatever stands after it was read again must be true; and what was proven of a fault that nobody knew is false.
 */
import {sleep} from '@core/link/port';
import type {VirtualTime} from '@core/link/virtual-time';
import type {SimulatedBench} from '@simulator/hardware/bench';
import type {Random} from '@simulator/random';
import type {ProvenCraft} from './proven-craft';
import {hideFaults} from './reality';
import {changeCraft} from './someone';
import {spinTrouble} from './spin-episode';
import type {Tab} from './tab';

/** Share of reads and writes of its record that fail. */
const faultShare = 0.15;
/** Shares of changes after which the page is loaded again, its store emptied, and everything measured again. */
const [reloadShare, emptyShare, againShare] = [0.3, 0.15, 0.4];
/** Shares of measurements in which the page stalls, and in which cable and power fail. */
const [stallShare, troubleShare] = [0.4, 0.2];
/** Labels scatter by so much, relative: makers state them to 5 % (common practice). */
const labelScatter = 0.05;

interface Life {
  readonly bench: SimulatedBench;
  readonly time: VirtualTime;
  readonly random: Random;
  readonly page: ProvenCraft;
  readonly tab: Tab;
  readonly run: <T>(work: Promise<T>) => Promise<T>;
  /** What a person does when something went wrong: waits, connects again. */
  readonly recover: () => Promise<void>;
  /** Reads the bench, and notes what was found. */
  readonly survey: () => Promise<void>;
  /** The cable out and in again. */
  readonly reconnect: () => Promise<void>;
}

/** Returns how often something was changed. */
export async function live(life: Life): Promise<number> {
  const {bench, random, page, survey, reconnect} = life;
  const check = () => page.check(page.record.found?.power.cycles);
  page.table.chance = faultShare;
  const {motor} = page.craft;
  const kv = Math.round(motor.kv * (1 + (random.next() * 2 - 1) * labelScatter));
  page.craft = {...page.craft, motor: {...motor, kv}};
  hideFaults(bench, random);
  await survey();
  await measureAll(life);
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
    if (random.next() < emptyShare) page.emptied();
    if (random.next() < againShare) await measureAll(life);
  }
  return meddlings;
}

/** A person measures; meanwhile the page stalls, or the bench fails. What survived is held against a bench that was read again. */
async function measureAll({bench, time, random, page, tab, run, recover, survey}: Life): Promise<void> {
  const trouble = {bench, time, random, tab};
  let isOver = false;
  const stalls = async () => {
    while (!isOver) {
      await sleep(time, random.next() * 9_000);
      if (!isOver && random.next() < stallShare) tab.stall();
    }
  };
  void stalls();
  if (random.next() < troubleShare) spinTrouble(trouble);
  await run(page.measureAll({client: tab.client, clock: tab.clock, world: time, random}));
  isOver = true;
  await recover();
  await survey();
}
