/** The cold first view, with the machine to itself: playwright.config.ts runs it before everything else. */
import {slowness} from './support';
import {expect, test} from './test';

/** Best of a few: a machine that is busy elsewhere says nothing about us, a slow page is slow every time. */
const maxTries = 8;

test('a cold first view shows the fleet within 1.5 s', async ({browser}) => {
  const measured: number[] = [];
  let limit = 1500;
  while (measured.length < maxTries && !measured.some((ms) => ms < limit)) {
    const context = await browser.newContext();
    const page = await context.newPage();
    const start = Date.now();
    await page.goto('/');
    await page.getByRole('link', {name: 'Juniper'}).waitFor();
    measured.push(Date.now() - start);
    const paint = await page.evaluate(
      () => performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? NaN,
    );
    console.log(
      `Cold first view: fleet readable ${measured.at(-1)} ms after navigation, first paint at ${paint.toFixed(0)} ms.`,
    );
    limit = 1500 * (await slowness(page));
    await context.close();
  }
  expect(Math.min(...measured)).toBeLessThan(limit);
});
