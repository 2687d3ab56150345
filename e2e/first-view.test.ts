/** The cold first view: what is asked of the network before the fleet is readable. How long it takes: `npm run bench`. */
import {againstReference, slowness} from './support';
import {expect, test} from './test';

/** Code, styles, fonts, catalogue: what the first view asks for today, and room for one file more. */
const maxRequests = 12;
/** Their size, kB. */
const maxKilobytes = 1100;

test('a cold first view asks for few files and little of them before the fleet is readable', async ({browser}) => {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.addInitScript(markWhenReadable);
  await page.goto('/');
  await page.getByRole('link', {name: 'Juniper'}).waitFor();
  const asked = await page.evaluate(() => {
    const ms = performance.getEntriesByName('readable')[0]!.startTime;
    // What arrives later serves what comes later: it is asked for when the fleet is there.
    const all = performance
      .getEntries()
      .filter((e): e is PerformanceResourceTiming => e instanceof PerformanceResourceTiming && e.responseEnd <= ms);
    return {
      ms,
      requests: all.length,
      kilobytes: all.reduce((sum, e) => sum + e.encodedBodySize, 0) / 1000,
      paint: performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? NaN,
    };
  });
  const slow = await slowness(page);
  console.log(
    `Cold first view: readable after ${againstReference(asked.ms, slow)}, first paint at ${asked.paint.toFixed(0)} ms; ${asked.requests} requests, ${asked.kilobytes.toFixed(0)} kB.`,
  );
  await context.close();
  expect(asked.requests).toBeLessThanOrEqual(maxRequests);
  expect(asked.kilobytes).toBeLessThanOrEqual(maxKilobytes);
});

/** Runs in the page: marks the moment at which the first craft stands. */
function markWhenReadable(): void {
  const watch = new MutationObserver(() => {
    if (!document.querySelector('main a[href*="/craft/"]')) return;
    performance.mark('readable');
    watch.disconnect();
  });
  watch.observe(document, {subtree: true, childList: true});
}
