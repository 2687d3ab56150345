/** Everything that a flight controller holds: seen, searched, and brought to newer firmware with an account of each. */
import {expect, test} from './test';
import {connectAndSurvey, expectAccessible, station, updateBramblesController, watchErrors} from './support';

test('Bramble: 149 settings of Plumb 2.0 are on 2.2, in its places, units and words, each accounted for', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page, 'Bramble');
  await station(page, 'Parameters').click();
  await page.getByRole('group', {name: 'Parameters of'}).getByText('Flight controller').click();
  const held = page.locator('bx-held-settings');
  await expect(held.getByRole('heading', {name: /by the account of Plumb 2\.0/})).toBeVisible();
  await held.getByRole('button', {name: 'Only what is not default, 8'}).click();
  await expect(held.getByRole('row', {name: /roll centre/})).toContainText('24 × 10 deg/s');

  await updateBramblesController(page);
  await expect(held.getByRole('heading', {name: /by the account of Plumb 2\.2/})).toBeVisible();
  const row = (name: string) => held.getByRole('row', {name: new RegExp(`^${name} `)});
  await expect(row('roll centre')).toContainText('240 deg/s');
  await expect(row('yaw highest')).toContainText('420 deg/s');
  await expect(row('lowest v')).toContainText('3.4 V');
  await expect(row('smoothing hz')).toContainText('45 Hz');
  await expect(row('feed smoothing hz')).toContainText('45 Hz');
  await expect(row('quirk 7')).toContainText('7');
  await expect(row('name')).toContainText('"Bramble"');

  await held.getByRole('button', {name: 'Show all'}).click();
  await held.getByLabel('Search settings').fill('video bands');
  await held.getByRole('button', {name: 'bands', exact: true}).click();
  await expect(
    held.getByText('Bands of the video transmitter, with the frequencies of their channels, MHz.'),
  ).toBeVisible();
  await expect(held.getByRole('cell', {name: '"5620 5660 5700 5740"', exact: true})).toBeVisible();
  await expectAccessible(page, 'held settings');

  await page.getByRole('link', {name: 'Logbook'}).click();
  await page.getByRole('button', {name: 'Journal'}).click();
  await expect(page.getByText(/149 settings accounted for: .* 3 gone \(gains\.loop_kind, /)).toBeVisible();
  errors.expectNone();
});
