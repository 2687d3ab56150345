/**
 * Nothing moves by itself on a view that was opened: what comes late has its room, so that a hand that is on its way to
 * a button still meets it. Measured as the browser does (Layout Instability API, W3C incubator WICG/layout-instability).
 */
import {expect, test} from './test';

/** Of the window times the way: a row of 40 px that pushes a station down is 0.016. */
const mostMoved = 0.01;

declare global {
  interface Window {
    moved?: {by: number; what: string[]};
  }
}

test('nothing moves by itself on a view that was opened', async ({page}) => {
  await page.addInitScript(watchMoves);
  for (const path of ['/', ...['craft', 'parameters', 'noise', 'logbook'].map((name) => `/craft/juniper/${name}`)]) {
    await page.goto(path);
    await expect(page.getByRole('heading', {level: 1})).toBeVisible();
    await page.evaluate(async () => {
      for (let turn = 0; turn < 4; turn++) await new Promise((then) => requestIdleCallback(then, {timeout: 1000}));
    });
    const moved = await page.evaluate(() => window.moved!);
    expect(moved.by, `${path}: ${moved.what.join('; ')}`).toBeLessThan(mostMoved);
  }
});

/** Runs in the page. The entry type is not in TypeScript's own list yet. */
function watchMoves(): void {
  const moved = (window.moved = {by: 0, what: [] as string[]});
  type Shift = PerformanceEntry & {value: number; hadRecentInput: boolean; sources: {node: Node | null}[]};
  new PerformanceObserver((list) => {
    for (const shift of list.getEntries() as Shift[]) {
      if (shift.hadRecentInput) continue;
      moved.by += shift.value;
      moved.what.push(...shift.sources.map(({node}) => `${node?.nodeName} ${node?.textContent?.slice(0, 20)}`));
    }
  }).observe({type: 'layout-shift', buffered: true});
}
