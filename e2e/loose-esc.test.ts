/** One ESC on the bench without a craft, and what one motor or a helicopter's two may be planned. */
import {beginOrder, connectAndSurvey, docketOf, expectAccessible, pickMishap, station, watchErrors} from './support';
import {expect, test} from './test';

test('one ESC without a craft: waited for, read, planned, written and proven', async ({page}) => {
  const errors = watchErrors(page);
  await page.goto('/');
  await page.getByRole('button', {name: 'New craft'}).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('radio', {name: /One ESC on the bench/}).click();
  await dialog.getByLabel('Name').fill('Spare of the drawer');
  await dialog.getByRole('button', {name: 'Create Spare of the drawer'}).click();
  await expect(page.getByRole('heading', {name: 'One ESC on the bench'})).toBeVisible();
  // Nothing is asked that a single ESC does not have.
  const stations = page.getByRole('navigation', {name: 'Stations'}).getByRole('link');
  await expect(stations).toHaveCount(5);
  await station(page, 'Survey').click();
  await page
    .getByRole('button', {name: /^Connect/})
    .first()
    .click();
  await expect(page.getByRole('heading', {name: 'On the single-wire adapter'})).toBeVisible();
  await page.getByText('How to plug it in').click();
  await expect(page.getByRole('img', {name: /Computer to adapter by USB/})).toBeVisible();
  // What the link sees ticks itself.
  const battery = page.getByRole('listitem').filter({hasText: 'Connect the battery'});
  await expect(battery).toContainText('✓ seen');
  await pickMishap(page, 'Take the battery off');
  await expect(battery).not.toContainText('✓ seen');
  await page.getByRole('button', {name: 'Clip the simulated adapter to the ESC'}).click();
  await expect(page.getByText(/connect the battery: \d+ s left/)).toBeVisible();
  await expectAccessible(page, 'waiting for power');
  await page.getByRole('button', {name: 'Stop waiting'}).click();
  await page.getByRole('button', {name: 'Read the ESC'}).click();
  await pickMishap(page, 'Connect the battery');
  await expect(page.getByText('Meridian 3.7, dialect B, B30-7208')).toBeVisible();
  await station(page, 'Firmware').click();
  await station(page, 'Parameters').click();
  const docket = docketOf(page);
  await beginOrder(page);
  await docket.getByRole('button', {name: 'Take the simulated battery off'}).click({timeout: 60_000});
  await docket.getByRole('button', {name: 'Connect the simulated battery'}).click();
  await expect(docket.getByText('carried out')).toBeVisible();
  await station(page, 'Sign-off').click();
  await expect(page.getByText('1 ESC', {exact: true})).toBeVisible();
  await expect(page.getByText(/41 of 41 page checksums equal the image, 1 ESC/)).toBeVisible();
  await expect(station(page, 'Sign-off')).toContainText('all proven');
  errors.expectNone();
});

test('one motor has another firmware on purpose: planned, written, and never called odd', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await station(page, 'Firmware').click();
  await page
    .getByRole('radiogroup', {name: 'Motor', exact: true})
    .getByText('motor 2')
    .or(page.getByRole('button', {name: 'motor 2', exact: true}))
    .first()
    .click();
  await page.getByRole('combobox', {name: 'Firmware of motor 2'}).click();
  await page.getByRole('option', {name: 'Meridian 4.1', exact: true}).click();
  await expect(page.getByText('own plan: Meridian 4.1')).toBeVisible();
  errors.expectNone();
});
