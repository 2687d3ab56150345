/** One ESC on the bench without a craft, firmware of one motor's own, and a file that goes on by a claim alone. */
import {beginOrder, connectAndSurvey, docketOf, expectAccessible, pickMishap, station, watchErrors} from './support';
import {meridianImage} from '@simulator/firmware/meridian';
import {writeIntelHex} from '@core/firmware/formats/intel-hex';
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

test('a file that does not say what it is goes on by a claim: why, who, and the board’s name typed', async ({page}) => {
  const errors = watchErrors(page);
  const whole = meridianImage('4.1', {board: 'Gneiss 45', deadTimeNs: 45}).segments[0]!;
  const unnamed = writeIntelHex({segments: [{start: whole.start, bytes: whole.bytes.slice(64)}]});
  await page.goto('/shelf');
  await page
    .getByLabel('Open a file')
    .setInputFiles([{name: 'no-name.hex', mimeType: 'text/plain', buffer: Buffer.from(unnamed)}]);
  await expect(page.getByText('no-name.hex').first()).toBeVisible();
  await connectAndSurvey(page);
  await station(page, 'Firmware').click();
  await page.getByText('It does not say what it is. It is refused unless you know better.').click();
  await page.getByLabel('Why it belongs on this board').fill('Built here, from our own sources');
  await page.getByLabel("Type the board's name").fill('Gneiss 45');
  await page.getByLabel('Your name, for the record').fill('the bench hand');
  await expectAccessible(page, 'a file by claim');
  await page.getByRole('button', {name: 'Confirm: it is a Gneiss 45'}).click();
  await expect(page.getByText('Built here, from our own sources. Nothing in the file confirms it')).toBeVisible();
  await expect(docketOf(page).getByText('Write no-name.hex').first()).toBeVisible();
  errors.expectNone();
});
