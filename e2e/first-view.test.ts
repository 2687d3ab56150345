/** The cold first view, with the machine to itself: playwright.config.ts runs it before everything else. */
import {expect, test} from './test';

/** Best of a few: a machine that is busy elsewhere says nothing about us, a slow page is slow every time. */
const maxTries = 8;

test('a cold first view shows the fleet within 1.5 s', async ({browser}) => {
  const measured: number[] = [];
  while (measured.length < maxTries && !measured.some((ms) => ms < 1500)) {
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
    await context.close();
  }
  expect(Math.min(...measured)).toBeLessThan(1500);
});
