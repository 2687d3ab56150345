/** Two craft in turn on every station: nothing of the first stands on the second, and no script fails on a craft without anything. */
import {expect, type Page} from '@playwright/test';
import {connectAndSurvey, dropAll, station} from './support';
import {test} from './test';

const dump = '$timescale 1 ns $end\n$var wire 1 ! m1 $end\n$enddefinitions $end\n#0\n1!\n#900\n0!\n#2000\n1!\n';
const stations = [
  'Craft',
  'Survey',
  'Firmware',
  'Parameters',
  'Spin',
  'Signal',
  'Arming',
  'Noise',
  'Sign-off',
] as const;

/** Stations that have views whatever the craft. */
const withViews: ReadonlySet<string> = new Set(['Spin', 'Signal', 'Arming']);

/** Opens every station and each of its views; hands the text of each to `look`. */
async function walk(page: Page, look: (text: string, where: string) => void): Promise<void> {
  for (const name of stations) {
    await station(page, name).click();
    await expect(page.getByRole('heading', {level: 1, name})).toBeVisible();
    const views = page.getByRole('group', {name: 'What to look at'}).first();
    if (withViews.has(name)) await expect(views).toBeVisible();
    const labels = (await views.isVisible()) ? await views.getByRole('button').allInnerTexts() : [''];
    for (const label of labels) {
      if (label) await views.getByRole('button', {name: label, exact: true}).click();
      await page.evaluate(() => new Promise((drawn) => requestAnimationFrame(() => setTimeout(drawn, 150))));
      look(await page.locator('main').innerText(), `${name} ${label}`);
    }
  }
}

test('a new craft shows nothing of Juniper, which was surveyed, flown and measured', async ({page}) => {
  await connectAndSurvey(page);
  await station(page, 'Noise').click();
  await expect(page.getByText('(computed').first()).toBeVisible();
  await dropAll(page, [['wires.vcd', dump]]);
  await expect(page.getByRole('heading', {name: 'Wires of wires.vcd'})).toBeVisible();
  const ofJuniper: string[] = [];
  await walk(page, (text) => ofJuniper.push(text));
  expect(ofJuniper.join(' ')).toMatch(/poles fit/);
  expect(ofJuniper.join(' ')).toContain('wires.vcd');
  await page.getByRole('link', {name: 'Fleet', exact: true}).click();
  await page.getByRole('button', {name: 'New craft'}).first().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Quill');
  await dialog.getByRole('button', {name: 'Create Quill'}).click();
  await expect(page.getByRole('navigation', {name: 'Stations'})).toBeVisible();
  await walk(page, (text, where) => {
    for (const foreign of [
      /Juniper/,
      /flight \d+/,
      /poles fit/,
      /less noise/,
      /wires\.vcd/,
      /S45-\d{4}/,
      /Meridian 3\.\d/,
    ])
      expect(text, where).not.toMatch(foreign);
  });
});
