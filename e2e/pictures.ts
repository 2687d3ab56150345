/** Takes the pictures in docs/screenshots from demo data: `npm run pictures`. Not a test; look at what it makes. */
import {test, type Page} from '@playwright/test';
import {connectAndSurvey, finishOrder, lookAtEveryOutput, pickMishap, station} from './support';

const shoot = async (page: Page, name: string) => {
  await page.mouse.move(1, 799);
  await page.waitForTimeout(400);
  await page.screenshot({path: `docs/screenshots/${name}.png`});
};

test('pictures', async ({page}) => {
  test.setTimeout(180_000);
  await page.goto('/');
  await page.getByRole('link', {name: 'Juniper'}).waitFor();
  await connectAndSurvey(page);
  await shoot(page, 'survey');
  await page.getByRole('link', {name: 'Bidex, fleet'}).click();
  await shoot(page, 'fleet');
  await page.getByRole('link', {name: 'Juniper'}).click();
  for (const name of ['Craft', 'Firmware', 'Parameters']) {
    await station(page, name).click();
    await shoot(page, name.toLowerCase());
  }
  await station(page, 'Firmware').click();
  const docket = page.getByRole('complementary', {name: 'Work order'});
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await docket.getByRole('button', {name: 'Carry out work order'}).click();
  await docket.getByText(/Motor 3: page 1\d of 33/).waitFor({timeout: 60_000});
  await shoot(page, 'writing');
  await pickMishap(page, 'As fast as possible');
  await finishOrder(page);
  await lookAtEveryOutput(page, async () => shoot(page, 'spin'));
  await station(page, 'Signal').click();
  await shoot(page, 'signal');
  await station(page, 'Noise').click();
  await page.getByText('14 poles fits this flight').waitFor({timeout: 20_000});
  await shoot(page, 'noise');
  await station(page, 'Sign-off').click();
  await shoot(page, 'sign-off');
  await page.getByRole('button', {name: 'Dark sheet'}).click();
  await station(page, 'Parameters').click();
  await shoot(page, 'parameters-dark');
});
