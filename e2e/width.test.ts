/** Narrow, usual and wide screens: nothing scrolls sideways, and the docket is at hand on each. */
import {expect, test} from './test';
import {connectAndSurvey, docketOf, station} from './support';

const stations = ['Craft', 'Survey', 'Firmware', 'Parameters', 'Spin', 'Signal', 'Arming', 'Noise', 'Sign-off'];

// 960 px is a screen of 1920 px at 200 % zoom.
const widths = [1920, 1280, 1024, 960];

test('nothing scrolls sideways at any width', async ({page}) => {
  await connectAndSurvey(page);
  for (const name of stations) {
    await station(page, name).click();
    await expect(page.getByRole('heading', {level: 1})).toHaveText(name);
    if (name === 'Noise') await expect(page.getByText('14 poles fit this flight')).toBeVisible();
    for (const width of widths) {
      await page.setViewportSize({width, height: 800});
      await expect(docketOf(page)).toBeVisible({visible: width > 1150});
      const over = () =>
        page.evaluate(() => {
          const sheet = document.querySelector('.sheet')!;
          return [document.documentElement, sheet].map((e) => e.scrollWidth - e.clientWidth);
        });
      await expect.poll(over, `${name} at ${width} px`).toEqual([0, 0]);
    }
  }
});

test('on a narrow screen the docket folds to a bar and lies open when asked', async ({page}) => {
  await page.setViewportSize({width: 1024, height: 800});
  await connectAndSurvey(page);
  await expect(docketOf(page)).toBeHidden();
  await page.getByRole('button', {name: 'Open work order'}).click();
  await expect(docketOf(page).getByText('Write Meridian 4.2').first()).toBeVisible();
  await docketOf(page).getByRole('button', {name: 'fold'}).click();
  await expect(docketOf(page)).toBeHidden();
});

test('headings of long lists stay while the list scrolls', async ({page}) => {
  await connectAndSurvey(page);
  await station(page, 'Parameters').click();
  await expect(page.locator('.row').nth(20)).toBeAttached();
  await page.locator('.sheet').evaluate((e) => e.scrollTo(0, e.scrollHeight));
  await expect(page.getByText('Found, motors 1–4')).toBeInViewport();
  await page.getByRole('link', {name: 'Shelf'}).click();
  await expect(page.locator('p-table tbody tr').nth(20)).toBeAttached();
  await page.locator('section.list').evaluate((e) => e.scrollTo(0, e.scrollHeight));
  await expect(page.getByText('Releases, 26 of 26')).not.toBeInViewport();
  await expect(page.getByRole('columnheader', {name: 'Standing'})).toBeInViewport();
});

test('the keyboard stays where it was when a button goes away with what it did', async ({page}) => {
  await connectAndSurvey(page);
  const docket = docketOf(page);
  const focused = () => page.evaluate(() => document.activeElement?.tagName ?? 'none');
  await docket.getByRole('button', {name: 'Propellers are off'}).focus();
  await page.keyboard.press('Enter');
  await expect(docket.getByRole('button', {name: 'Propellers are off'})).toHaveCount(0);
  await expect.poll(focused).not.toBe('BODY');
  expect(await page.evaluate(() => !!document.activeElement?.closest('aside'))).toBe(true);
});
