/** The fleet and what is kept: a new craft from a preset, undo over a reload, everything as one file and back. */
import {readFileSync} from 'node:fs';
import {expect, test} from './test';
import {connectAndSurvey, docketOf, expectAccessible, station, watchErrors} from './support';

test('a new craft from a preset, on the bench of its board, with its output map', async ({page}) => {
  const errors = watchErrors(page);
  await page.goto('/');
  await page.getByRole('button', {name: 'New craft'}).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('radio', {name: /Indoor micro/}).click();
  await expect(dialog.getByText('keeps them from stuttering')).toBeVisible();
  await dialog.getByLabel('Name').fill('Sedge');
  await expectAccessible(page, 'New craft');
  await dialog.getByRole('button', {name: 'Create Sedge'}).click();
  // It opens where motors, battery and boards are asked for.
  await expect(page.getByRole('heading', {name: 'Craft', level: 1})).toBeVisible();
  await page.getByRole('combobox', {name: 'Arm of output 1'}).click();
  await page.getByRole('option', {name: 'rear left'}).click();
  await expect(page.getByRole('combobox', {name: 'Arm of output 3'})).toHaveText('front right');
  await page.getByLabel('Motor to motor, diagonal').fill('90');
  await page.keyboard.press('Tab');
  await expect(page.getByLabel('front right, mm to the right')).toHaveValue('32');
  await page.getByRole('link', {name: 'Fleet', exact: true}).click();
  await page.getByRole('button', {name: 'Connect the simulated bench of Sedge'}).click();
  await expect(page.getByText('What stands out')).toBeVisible();
  await expect(docketOf(page).getByText('Write Cadence 2.1, 48 kHz').first()).toBeVisible();
  await expect(docketOf(page).getByText('Arm of each output 1 2 3 4 → 3 2 1 4')).toBeVisible();
  await station(page, 'Parameters').click();
  await expect(page.locator('[data-parameter=pwm]')).toContainText('choose the build on the Firmware station');
  errors.expectNone();
});

test('a question mark lists the keys; in a text it is typed', async ({page}) => {
  await page.goto('/craft/juniper/craft');
  const name = page.getByLabel('Name');
  await name.press('?');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('heading', {name: 'Craft', level: 1}).click();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', {name: 'Keys'})).toContainText('Stops all motors, wherever you are.');
  await expectAccessible(page, 'Keys');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', {name: 'Keys', exact: true}).click();
  await expect(page.getByRole('dialog', {name: 'Keys'})).toBeVisible();
});

test('steps are taken back and forth after a reload', async ({page}) => {
  await page.goto('/craft/juniper/craft');
  const name = page.getByLabel('Name');
  await name.fill('Juniper of the orchard');
  await page.keyboard.press('Tab');
  // Two edits within a moment would be one step.
  await page.waitForTimeout(300);
  await page.getByLabel('Kind').fill('quad of the crew');
  await page.keyboard.press('Tab');
  await page.reload();
  await expect(name).toHaveValue('Juniper of the orchard');
  await page.getByRole('heading', {name: 'Craft', level: 1}).click();
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Kind')).toHaveValue('5-inch quad');
  await page.keyboard.press('Control+z');
  await expect(name).toHaveValue('Juniper');
  await page.keyboard.press('Control+y');
  await expect(name).toHaveValue('Juniper of the orchard');
});

test('everything as one zip and back; a broken one is refused whole and changes nothing', async ({page}) => {
  await page.goto('/');
  await page.getByRole('button', {name: 'Copy Juniper'}).click();
  await expect(page.getByRole('link', {name: 'Juniper 2'})).toBeVisible();
  const saving = page.waitForEvent('download');
  await page.getByRole('button', {name: 'Save a backup'}).click();
  await expect(page.getByText('Packed and read back')).toBeVisible();
  await page.getByRole('button', {name: 'Save the file'}).click();
  const zip = readFileSync(await (await saving).path());
  await page.getByRole('button', {name: 'Archive Juniper 2'}).click();
  await page.getByRole('button', {name: 'Copy Sorrel'}).click();
  const bring = (buffer: Buffer) =>
    page.locator('bx-backup input[type=file]').setInputFiles({name: 'backup.zip', mimeType: 'application/zip', buffer});
  await bring(zip.subarray(0, zip.length - 40));
  await expect(page.getByRole('alert')).toContainText('It is not a zip file, or it was cut off. Nothing was changed.');
  await expect(page.getByRole('link', {name: 'Sorrel 2'})).toBeVisible();
  await bring(zip);
  await expect(page.getByRole('dialog')).toContainText('5 craft, 0 work orders, 0 own images');
  await page.getByRole('button', {name: 'Put it in place'}).click();
  await expect(page.getByRole('link', {name: 'Juniper 2'})).toBeVisible();
  await expect(page.getByRole('link', {name: 'Sorrel 2'})).toHaveCount(0);
});

test('a snapshot is kept, held against the plan, planned again, saved and brought in', async ({page}) => {
  await connectAndSurvey(page);
  await page.getByRole('link', {name: 'Logbook'}).click();
  await page.getByLabel('Name of the snapshot').fill('before the rebuild');
  await page.getByRole('button', {name: 'Keep what was found as a snapshot'}).click();
  await page.getByRole('button', {name: 'Compare before the rebuild'}).click();
  const comparison = page.getByRole('region', {name: 'Comparison of before the rebuild'});
  await expect(comparison.getByText('Nothing differs.')).toBeVisible();
  await comparison.getByRole('combobox').click();
  await page.getByRole('option', {name: 'the plan'}).click();
  await expect(comparison.getByRole('row', {name: /^PWM frequency/})).toContainText('24 → 48 kHz');
  await comparison.getByRole('button', {name: 'Plan PWM frequency as it was'}).click();
  await expect(docketOf(page).getByText('PWM frequency 24 kHz → 48 kHz')).toHaveCount(0);
  await comparison.getByRole('button', {name: 'Plan all its values'}).click();
  await expect(docketOf(page).getByText('Active braking off → on')).toHaveCount(0);
  await page.getByRole('heading', {name: 'Logbook'}).click();
  await page.keyboard.press('Control+z');
  await expect(docketOf(page).getByText('Active braking off → on')).toBeVisible();
  const saving = page.waitForEvent('download');
  await page.getByRole('button', {name: 'Save before the rebuild as JSON'}).click();
  const json = readFileSync(await (await saving).path(), 'utf8');
  const bring = (text: string) =>
    page
      .locator('bx-snapshots input[type=file]')
      .setInputFiles({name: 's.json', mimeType: 'application/json', buffer: Buffer.from(text)});
  await bring(json.slice(0, 400));
  await expect(page.getByRole('alert')).toContainText('It is not JSON. Nothing was taken over.');
  await bring(json);
  await expect(page.getByRole('button', {name: 'Compare before the rebuild'})).toHaveCount(2);
});

test('two craft side by side: a section of Sorrel goes into the plan of Juniper, its flight controller is laid beside', async ({
  page,
}) => {
  await connectAndSurvey(page, 'Sorrel');
  await page.getByRole('link', {name: 'Fleet', exact: true}).click();
  await page.getByRole('button', {name: 'Connect the simulated bench of Juniper'}).click();
  await expect(page.getByText('What stands out')).toBeVisible();
  await page.getByRole('link', {name: 'Logbook'}).click();
  await page.getByRole('button', {name: 'Compare Sorrel, as it was found'}).click();
  const comparison = page.getByRole('region', {name: 'Comparison of Sorrel, as it was found'});
  await expect(comparison.getByRole('row', {name: /^Timing advance/})).toContainText('→');
  await comparison.getByRole('button', {name: /^Plan all of Running as it was/}).click();
  await expect(docketOf(page).getByText('Timing advance 22.5° → 15°')).toBeVisible();
  await expectAccessible(page, 'Logbook with two craft');
  await comparison.getByRole('link', {name: /Its flight controller, line by line/}).click();
  await expect(page.getByRole('columnheader', {name: 'Sorrel, as it was found'})).toBeVisible();
});
