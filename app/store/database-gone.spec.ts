import Dexie from 'dexie';
import {demoFleet} from '@demo/craft/fleet';
import {Database, stored} from './database';
import {refusalText} from './refusal-text';

/** A database of its own name, so that no other test loses what it keeps. */
const name = 'bidex-gone';
afterEach(() => Dexie.delete(name));

describe('a store that is deleted while a page has it open', () => {
  it('takes nothing more from that page, and no empty one is made in its place', async () => {
    const page = new Database(name);
    await page.craft.put(demoFleet[0]!);
    await Dexie.delete(name);
    const entry = {orderId: 'o', at: 1, stepId: 's', event: 'begin' as const, text: 'writes'};
    await expect(stored(page.journal.add(entry))).rejects.toMatchObject({problem: {code: 'store-failed'}});
    await expect(stored(page.journal.add(entry))).rejects.toMatchObject({problem: {code: 'store-failed'}});
    expect(await Dexie.exists(name)).toBe(false);
    const why: unknown = await page.craft.toArray().catch((error: unknown) => error);
    expect(refusalText(why, 'the plan')).toContain('What this browser kept for Bidex was deleted.');
    page.close();
  });

  it('is made by a page that opens it the first time', async () => {
    const page = new Database(name);
    await page.craft.put(demoFleet[0]!);
    expect(await page.craft.count()).toBe(1);
    page.close();
  });
});
