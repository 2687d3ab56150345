/** Takes the pictures in docs/screenshots from demo data: `npm run pictures`. Not a test; look at what it makes. */
import {expect, test, type Page} from '@playwright/test';
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
  await alderRound(page);
  await shelf(page);
  await connectAndSurvey(page);
  await shoot(page, 'survey');
  await page.getByRole('link', {name: 'Bidex, fleet'}).click();
  await page.getByText('Meridian 3.7 ×1, odd one out').waitFor();
  await shoot(page, 'fleet');
  await page.getByRole('link', {name: 'Juniper'}).click();
  for (const name of ['Craft', 'Firmware', 'Parameters']) {
    await station(page, name).click();
    await shoot(page, name.toLowerCase());
  }
  await page.locator('[data-parameter=timing] .name').click();
  await shoot(page, 'parameters-open');
  await station(page, 'Firmware').click();
  const docket = page.getByRole('complementary', {name: 'Work order'});
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await pickMishap(page, '×1, as real');
  await docket.getByRole('button', {name: 'Carry out work order'}).click();
  await docket.getByText(/Motor 3: page 1\d of 33/).waitFor({timeout: 60_000});
  await shoot(page, 'writing');
  await pickMishap(page, 'As fast as possible');
  await finishOrder(page);
  await page.getByRole('link', {name: 'Logbook'}).click();
  await page.getByRole('button', {name: 'Journal'}).click();
  await page.getByText('before a work order').waitFor();
  await shoot(page, 'logbook');
  await page.getByRole('button', {name: 'Hide the journal'}).click();
  await page.getByRole('button', {name: 'Compare before a work order'}).click();
  await shoot(page, 'snapshots');
  await lookAtEveryOutput(page, async () => shoot(page, 'spin'));
  await stepsAndMixer(page);
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

/** Rises and falls again; our own. */
const melody = 'orchard:d=8,o=5,b=180:c,e,g,4c6,p,a,g,16e,16f,4g,p,4c';

/** One run of all motors, the mixer, and a melody. */
async function stepsAndMixer(page: Page): Promise<void> {
  const view = (name: string) => page.getByRole('group', {name: 'What to look at'}).getByText(name, {exact: true});
  await view('Steps and cuts').click();
  const button = page.getByRole('button', {name: /^Hold for \d s/});
  await expect(button).toBeEnabled({timeout: 40_000});
  await button.hover();
  await page.mouse.down();
  await expect(button).toContainText('% throttle');
  await expect(button).not.toContainText(/% throttle|reading the burst/, {timeout: 20_000});
  await page.mouse.up();
  await page.getByRole('heading', {name: 'What stands out'}).waitFor();
  await shoot(page, 'steps');
  await view('Mixer').click();
  await shoot(page, 'mixer');
  await view('Sounds').click();
  await page.getByRole('button', {name: 'Write a melody'}).click();
  await page.getByLabel('RTTTL: name, defaults, notes').fill(melody);
  await shoot(page, 'sounds');
  await page.getByRole('button', {name: 'Plan no melody'}).click();
  await view('Throttle range').click();
  await view('Order and sense').click();
}

/** Alder half round. */
async function alderRound(page: Page): Promise<void> {
  await page.getByRole('button', {name: 'Connect the simulated bench of Alder'}).click();
  for (let arm = 1; arm <= 4; arm++) {
    await page.getByRole('button', {name: `Clip the simulated adapter to arm ${arm}`}).click();
    await page.getByText(`${arm} of 6 arms read`).waitFor();
  }
  await shoot(page, 'round');
}

/** A release laid open and held against the one before. */
async function shelf(page: Page): Promise<void> {
  await page.getByRole('link', {name: 'Shelf'}).click();
  await page.getByText('26 images kept and checked here').waitFor();
  await page.getByLabel('Search releases').fill('meridian basalt');
  await page.getByRole('button', {name: 'Meridian 4.2'}).first().click();
  await shoot(page, 'shelf');
}
