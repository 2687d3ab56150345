/** Narrow, usual and wide screens: nothing scrolls sideways, and the docket is at hand on each. */
import {expect, test} from '@playwright/test';
import {connectAndSurvey, docketOf, station} from './support';

const stations = ['Craft', 'Survey', 'Firmware', 'Parameters', 'Spin', 'Signal', 'Noise', 'Sign-off'];

// 960 px is a screen of 1920 px at 200 % zoom.
for (const width of [960, 1024, 1280, 1920])
  test(`${width} px wide: nothing scrolls sideways`, async ({page}) => {
    await page.setViewportSize({width, height: 800});
    await connectAndSurvey(page);
    for (const name of stations) {
      await station(page, name).click();
      await expect(page.getByRole('heading', {level: 1})).toHaveText(name);
      if (name === 'Noise') await expect(page.getByText('14 poles fits this flight')).toBeVisible({timeout: 20_000});
      const over = await page.evaluate(() => {
        const sheet = document.querySelector('.sheet')!;
        return [document.documentElement, sheet].map((e) => e.scrollWidth - e.clientWidth);
      });
      expect(over, name).toEqual([0, 0]);
    }
    const isFolded = width < 1150;
    await expect(docketOf(page)).toBeVisible({visible: !isFolded});
    if (!isFolded) return;
    await page.getByRole('button', {name: 'Open work order'}).click();
    await expect(docketOf(page).getByText('Write Meridian 4.2').first()).toBeVisible();
    await docketOf(page).getByRole('button', {name: 'fold'}).click();
    await expect(docketOf(page)).toBeHidden();
  });
