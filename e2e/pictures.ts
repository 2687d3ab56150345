/** Takes the pictures in docs/screenshots from demo data: `npm run pictures`. Not a test; look at what it makes. */
import {expect, test, type Page} from './test';
import {
  beginOrder,
  armingView,
  connectAndSurvey,
  docketOf,
  finishOrder,
  holdUntil,
  lookAtEveryOutput,
  moveTheSticks,
  pickMishap,
  setMishap,
  station,
} from './support';

const shoot = async (page: Page, name: string) => {
  await page.mouse.move(1, 799);
  await page.waitForTimeout(400);
  await page.screenshot({path: `docs/screenshots/${name}.png`});
};

/** Several views on one sheet, two in a row, so that there are not too many files. */
async function shootSheet(page: Page, name: string, views: readonly Buffer[]): Promise<void> {
  const sheet = await page.context().newPage();
  await sheet.setViewportSize({width: 2564, height: 804 * Math.ceil(views.length / 2) - 4});
  const images = views.map((v) => `<img src="data:image/png;base64,${v.toString('base64')}">`).join('');
  await sheet.setContent(
    `<body style="margin:0;display:grid;grid-template-columns:1280px 1280px;gap:4px;background:#000">${images}</body>`,
  );
  await sheet.screenshot({path: `docs/screenshots/${name}.png`});
  await sheet.close();
}
const still = async (page: Page): Promise<Buffer> => {
  await page.mouse.move(1, 799);
  await page.waitForTimeout(400);
  return page.screenshot();
};

/** Bramble's flight controller being written, its text held against a snapshot, and the four views of Arming. */
test('pictures of the flight controller', async ({page}) => {
  test.setTimeout(180_000);
  await connectAndSurvey(page, 'Bramble');
  await station(page, 'Firmware').click();
  await page.getByRole('radio', {name: /^2\.2/}).waitFor();
  await pickMishap(page, '×1, as real');
  await beginOrder(page);
  await page
    .getByText(/Flight controller: block \d+ of/)
    .first()
    .waitFor({timeout: 60_000});
  await shoot(page, 'controller-writing');
  await pickMishap(page, 'As fast as possible');
  await docketOf(page).getByText('carried out').waitFor({timeout: 60_000});
  await station(page, 'Parameters').click();
  await page.getByRole('group', {name: 'Parameters of'}).getByText('Flight controller').click();
  await page.locator('bx-controller-text').getByRole('combobox', {name: 'Held against'}).click();
  await page.getByRole('option', {name: /before Plumb/}).click();
  await shoot(page, 'controller-text');
  await station(page, 'Arming').click();
  await page.getByRole('button', {name: 'Begin', exact: true}).click();
  await page.getByText('✓ taken').first().waitFor();
  await page.getByRole('button', {name: 'Nose down'}).click();
  await page.waitForTimeout(450);
  const views = [await page.screenshot()];
  await page.getByText('✓ taken').nth(1).waitFor();
  await page.getByRole('button', {name: 'Right side down'}).click();
  await page.getByText('Not as set').waitFor();
  await armingView(page, 'Receiver').click();
  await moveTheSticks(page);
  views.push(await still(page));
  await armingView(page, 'Switches').click();
  await page.getByRole('button', {name: 'Begin, then move the switch'}).click();
  await page.getByRole('button', {name: 'Channel 5 up'}).click();
  await page.locator('.switch').getByText('channel 5').waitFor();
  views.push(await still(page));
  await armingView(page, 'Fail-safe').click();
  views.push(await still(page));
  await armingView(page, 'Loop').click();
  await page.getByText('Measured now, task by task').waitFor();
  views.push(await still(page));
  await page.getByRole('region', {name: 'Sheet'}).evaluate((sheet) => sheet.scrollTo(0, sheet.scrollHeight));
  views.push(await still(page));
  await shootSheet(page, 'arming', views);
});

test('pictures', async ({page}) => {
  test.setTimeout(240_000);
  await page.goto('/');
  await page.getByRole('link', {name: 'Juniper'}).waitFor();
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
  await station(page, 'Firmware').click();
  const docket = page.getByRole('complementary', {name: 'Work order'});
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await pickMishap(page, '×1, as real');
  await beginOrder(page);
  await docket.getByText(/Motor 3: page 1\d of 33/).waitFor({timeout: 60_000});
  await shoot(page, 'writing');
  await pickMishap(page, 'As fast as possible');
  await finishOrder(page);
  await page.getByRole('link', {name: 'Logbook'}).click();
  await page.getByRole('button', {name: 'Journal'}).click();
  await page.getByText(/^before /).waitFor();
  await shoot(page, 'logbook');
  await lookAtEveryOutput(page, async () => shoot(page, 'spin'));
  await stepsAndSounds(page);
  await station(page, 'Signal').click();
  await signalViews(page);
  await noise(page);
  await station(page, 'Sign-off').click();
  await shoot(page, 'sign-off');
});

/** Signal: budget; replies under load with one wire that sits loose, and why; the wires recorded, far and near; poles; one frame. */
async function signalViews(page: Page): Promise<void> {
  const pictures = [await still(page)];
  await setMishap(page, 'Signal wire of motor 2 sits loose', true);
  await armingView(page, 'Replies').click();
  await page.getByRole('group', {name: 'Record its wires'}).getByText('yes').click();
  await holdUntil(page, /^Hold to load the replies/, () =>
    page.getByText('does not pass', {exact: true}).waitFor({timeout: 30_000}),
  );
  await page.getByRole('heading', {name: 'Why'}).scrollIntoViewIfNeeded();
  pictures.push(await still(page));
  await setMishap(page, 'Signal wire of motor 2 sits loose', false);
  await armingView(page, 'Captures').click();
  await page.getByRole('heading', {name: 'Over time'}).waitFor();
  const timeline = page.getByRole('img', {name: /^Timeline of/});
  await timeline.scrollIntoViewIfNeeded();
  pictures.push(await still(page));
  await page
    .getByRole('button', {name: /faulty: wrong group code/})
    .first()
    .click();
  await timeline.scrollIntoViewIfNeeded();
  pictures.push(await still(page));
  await armingView(page, 'Poles').click();
  pictures.push(await still(page));
  await armingView(page, 'Frame desk').click();
  await page.getByLabel('Bits or a hex word').fill('0x82C5');
  pictures.push(await still(page));
  await shootSheet(page, 'signal', pictures);
  // The wire is sound again: what the loose one took back is measured anew.
  await armingView(page, 'Replies').click();
  await holdUntil(page, /^Hold to measure/, () =>
    expect(station(page, 'Signal')).toContainText('none lost', {timeout: 30_000}),
  );
}

/** Rises and falls again; our own. */
const melody = 'orchard:d=8,o=5,b=180:c,e,g,4c6,p,a,g,16e,16f,4g,p,4c';

/** One run of all motors, and a melody. */
async function stepsAndSounds(page: Page): Promise<void> {
  const view = (name: string) => page.getByRole('group', {name: 'What to look at'}).getByText(name, {exact: true});
  await view('Steps and cuts').click();
  const button = page.getByRole('button', {name: /^Hold for \d s/});
  await expect(button).toBeEnabled({timeout: 40_000});
  await button.hover();
  await page.mouse.down();
  await expect(button).toContainText('% throttle');
  await expect(button).not.toContainText(/% throttle| alone: |reading the burst/, {timeout: 20_000});
  await page.mouse.up();
  await page.getByRole('heading', {name: 'What stands out'}).waitFor();
  await shoot(page, 'steps');
  await view('Sounds').click();
  await page.getByRole('button', {name: 'Write a melody'}).click();
  await page.getByLabel('RTTTL: name, defaults, notes').fill(melody);
  await shoot(page, 'sounds');
  await page.getByRole('button', {name: 'Plan no melody'}).click();
  await view('Throttle range').click();
  await view('Motor order').click();
}

/** Maps and lines, filters with their ledger, trade-off, flights compared, and a log that asks. */
async function noise(page: Page): Promise<void> {
  const view = (name: string) => page.locator('.views').getByText(name, {exact: true});
  await station(page, 'Noise').click();
  await page.getByText('14 poles fit this flight').waitFor({timeout: 20_000});
  await page.waitForTimeout(1500);
  await shoot(page, 'noise');
  await page.locator('.choose').getByText('orders', {exact: true}).click();
  await page.waitForTimeout(1500);
  const more = [await still(page)];
  await view('Filters and delay').click();
  await shoot(page, 'noise-filters');
  await view('Best chain').click();
  await page.getByRole('button', {name: 'Search the best chain'}).click();
  await page.getByRole('heading', {name: 'Proposed'}).waitFor({timeout: 90_000});
  more.push(await still(page));
  await page.getByRole('combobox', {name: 'Flight'}).click();
  await page.getByRole('option', {name: 'flight 12'}).click();
  await page.getByText('flight 12 (computed for the demo)').waitFor({timeout: 20_000});
  await view('Flights compared').click();
  await page.getByRole('combobox', {name: 'against'}).click();
  await page.getByRole('option', {name: 'flight 11'}).click();
  await page.getByText('No proof yet').waitFor({timeout: 30_000});
  more.push(await still(page));
  const rows = Array.from(
    {length: 2000},
    (_, i) => `${i * 250};${i % 7};${-(i % 5)};${i % 3};0,3;${9000 + (i % 40)}`,
  ).join('\n');
  const buffer = Buffer.from(`clock;alpha;beta;gamma;lever;turns a\n${rows}`);
  await page
    .locator('bx-noise input[type=file]')
    .setInputFiles({name: 'another-layout.csv', mimeType: 'text/csv', buffer});
  await page.getByText('What the columns of another-layout.csv hold').waitFor();
  more.push(await still(page));
  await shootSheet(page, 'noise-more', more);
  await page.getByRole('button', {name: 'Leave this file'}).click();
}

/** A release laid open and held against the one before. */
async function shelf(page: Page): Promise<void> {
  await page.getByRole('link', {name: 'Shelf'}).click();
  await page.getByText('26 images kept and checked here').waitFor();
  await page.getByLabel('Search releases').fill('meridian basalt');
  await page.getByRole('button', {name: 'Meridian 4.2'}).first().click();
  await shoot(page, 'shelf');
}
