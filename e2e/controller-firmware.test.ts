/** The flight controller's own firmware: written by its loader, interrupted, resumed; its text kept and put back by sections. */
import {expect, test, type Page} from '@playwright/test';
import {armMishap, connectAndSurvey, docketOf, pickMishap, station, watchErrors} from './support';

const memory = (page: Page) => page.evaluate(() => window.bidexSimulator!.controllerFirmware());
const kept = (page: Page) => page.evaluate(() => window.bidexSimulator!.configuration());

test('Bramble from Plumb 2.0 to 2.2: cable out in the middle, resumed, text kept, three sections put back', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page, 'Bramble');
  await expect(page.getByText(/Plumb 2\.0, which cannot pass through to ESCs; Plumb 2\.2 can/).first()).toBeVisible();
  const before = await kept(page);
  await pickMishap(page, 'As fast as possible');
  await station(page, 'Firmware').click();
  const view = page.locator('bx-controller-firmware');
  await expect(view.getByText('ESCs cannot be reached through it', {exact: true})).toBeVisible();
  await expect(view.getByRole('radio', {name: /^2\.2/})).toBeChecked();
  await expect(view.getByText('it forgot the arming switch after a restart')).toBeVisible();
  await expect(view.getByText('Slate F / F7 class, as the board says of itself.')).toBeVisible();
  await expect(view.getByText('channels.roll → receiver.roll')).toBeVisible();

  const docket = docketOf(page);
  await docket.getByRole('button', {name: /^Leave out: Setting the flight controller/}).click();
  await armMishap(page, {what: 'cable-out', output: 'controller', pages: 4 + Math.floor(Math.random() * 30)});
  await docket.getByRole('button', {name: 'Carry out work order'}).click();
  await expect(docket.getByText(/The cable is out or the adapter lost power/).first()).toBeVisible({timeout: 30_000});
  expect((await memory(page)).version).toBeUndefined();
  await docket.getByRole('button', {name: 'Connect the simulated bench'}).click();
  await docket.getByRole('button', {name: 'Resume work order'}).click();
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 60_000});
  expect(await memory(page)).toEqual({version: '2.2', isInLoader: false});
  // The ESCs answer now: they come first.
  await expect(page.getByRole('cell', {name: 'Schist 40'})).toHaveCount(4);
  await page.getByRole('group', {name: 'Whose firmware'}).getByText('Flight controller').click();
  await expect(view.getByText(/runs\s+Plumb 2\.2/)).toBeVisible();
  // New firmware knows nothing of what was set.
  expect(await kept(page)).toMatchObject({receiver: {port: 1}, failSafe: {action: 'drop', afterMs: 400}});

  await station(page, 'Parameters').click();
  await page.getByRole('group', {name: 'Parameters of'}).getByText('Flight controller').click();
  const text = page.locator('bx-controller-text');
  await text.getByRole('combobox').click();
  await page.getByRole('option', {name: /before a work order/}).click();
  for (const section of ['receiver', 'moving_notches', 'low_passes'])
    await text.getByRole('button', {name: new RegExp(`^all of ${section}, \\d lines?`)}).click();
  await text.getByRole('button', {name: /^Plan \d+ lines?/}).click();
  await docket.getByRole('button', {name: 'Leave out: Writing firmware'}).click();
  await docket.getByRole('button', {name: 'Carry out work order'}).click();
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 40_000});
  const {receiver, movingNotches, movingQ, gyroLowPassHz, dLowPassHz} = before;
  expect(await kept(page)).toMatchObject({receiver, movingNotches, movingQ, gyroLowPassHz, dLowPassHz});
  errors.expectNone();
});

test('firmware that answers nobody: the loader is started by hand, its firmware written anew, the board found again', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await pickMishap(page, 'Firmware of the flight controller hangs');
  await station(page, 'Spin').click();
  await page.locator('bx-connect').getByRole('button', {name: 'Connect the simulated bench'}).click();
  const byHand = page.getByRole('group', {name: /start its loader by hand/});
  await expect(byHand).toBeVisible({timeout: 20_000});
  await expect(byHand.getByRole('img', {name: 'The Slate F from above, its button marked'})).toBeVisible();
  await byHand.getByRole('button', {name: 'Plug the simulated cable in with it held'}).click();
  const docket = docketOf(page);
  await expect(docket.getByText('Write Plumb 2.2 to the flight controller')).toBeVisible({timeout: 20_000});
  expect(await memory(page)).toEqual({version: '2.2', isInLoader: true});
  await docket.getByRole('button', {name: 'Carry out work order'}).click();
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 60_000});
  expect(await memory(page)).toEqual({version: '2.2', isInLoader: false});
  await station(page, 'Survey').click();
  await expect(page.getByText('motor 3 runs Meridian 3.7, its siblings do not')).toBeVisible();
  errors.expectNone();
});
