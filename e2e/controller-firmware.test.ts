/** The flight controller's own firmware: written by its loader, interrupted, resumed; its text kept and put back by sections. */
import {expect, test, type Page} from './test';
import {
  beginOrder,
  armMishap,
  armingView,
  connectAndSurvey,
  docketOf,
  drop,
  pickMishap,
  station,
  watchErrors,
} from './support';
import {writeIntelHex} from '@core/firmware/formats/intel-hex';
import {plumbImage} from '@simulator/firmware/plumb';

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
  await docket.getByRole('button', {name: /^Skip: Setting the flight controller/}).click();
  await armMishap(page, {what: 'cable-out', output: 'controller', pages: 4 + Math.floor(Math.random() * 30)});
  await beginOrder(page);
  await expect(docket.getByText(/The cable is out or the adapter lost power/).first()).toBeVisible();
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
  await text.getByRole('combobox', {name: 'Held against'}).click();
  await page.getByRole('option', {name: /before Plumb 2\.2/}).click();
  for (const section of ['receiver', 'moving_notches', 'low_passes'])
    await text.getByRole('button', {name: new RegExp(`^all of ${section}, \\d lines?`)}).click();
  await text.getByRole('button', {name: /^Plan \d+ lines?/}).click();
  await docket.getByRole('button', {name: 'Skip: Writing firmware'}).click();
  await beginOrder(page);
  const {receiver, movingNotches, movingQ, gyroLowPassHz, dLowPassHz} = before;
  // "Carried out" stands there of the order before until this one begins: what is kept is asked.
  const putBack = async () =>
    expect(await kept(page)).toMatchObject({receiver, movingNotches, movingQ, gyroLowPassHz, dLowPassHz});
  await expect(putBack).toPass({timeout: 40_000});
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 40_000});
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
  await expect(byHand).toBeVisible();
  await expect(byHand.getByRole('img', {name: 'The Slate F from above, its button marked'})).toBeVisible();
  await byHand.getByRole('button', {name: 'Plug the simulated cable in with it held'}).click();
  const docket = docketOf(page);
  await expect(docket.getByText('Write Plumb 2.2 to the flight controller')).toBeVisible();
  expect(await memory(page)).toEqual({version: '2.2', isInLoader: true});
  await beginOrder(page);
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 60_000});
  expect(await memory(page)).toEqual({version: '2.2', isInLoader: false});
  await station(page, 'Survey').click();
  await expect(page.getByText('motor 3 runs Meridian 3.7, its siblings do not')).toBeVisible();
  errors.expectNone();
});

test('somebody else’s firmware on a board that tells no name: named by its print, written, found again', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await pickMishap(page, 'Flight controller holds a stranger’s firmware');
  const docket = docketOf(page);
  await station(page, 'Spin').click();
  await page.locator('bx-connect').getByRole('button', {name: 'Connect the simulated bench'}).click();
  await expect(docket.getByText('Its loader does not report which board it is.')).toBeVisible();
  await station(page, 'Firmware').click();
  const claim = page.getByRole('region', {name: 'Board of the flight controller'});
  await expect(claim.getByRole('row')).toHaveCount(2);
  await claim.getByRole('button', {name: 'This one'}).click();
  await claim.getByLabel("Type the board's name").fill('Slate');
  await claim.getByLabel('Your name, for the record').fill('bench hand');
  await expect(claim.getByRole('button', {name: 'Confirm: it is a Slate F'})).toBeDisabled();
  await claim.getByLabel("Type the board's name").fill('Slate F');
  await claim.getByRole('button', {name: 'Confirm: it is a Slate F'}).click();
  await expect(page.getByText('bench hand named this board; nothing in it confirms that.').first()).toBeVisible();
  expect(await memory(page)).toEqual({version: undefined, isInLoader: true});
  await beginOrder(page);
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 60_000});
  expect(await memory(page)).toEqual({version: '2.2', isInLoader: false});
  await page.getByRole('link', {name: 'Logbook'}).click();
  await expect(page.getByRole('row', {name: /flight controller Slate F bench hand/})).toBeVisible();
  errors.expectNone();
});

test('a file of one’s own is planned and written; one for another board is refused', async ({page}) => {
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await drop(page, 'trial.hex', writeIntelHex(plumbImage('2.3-b1', 'Slate F')));
  await drop(page, 'other.hex', writeIntelHex(plumbImage('2.2', 'Slate C')));
  // Whoever leaves before both are there finds the other one waiting above the page, and opens it later.
  await expect(page.getByRole('heading', {name: 'Shelf', level: 1})).toBeVisible();
  for (const name of ['trial.hex', 'other.hex'])
    await expect(page.getByRole('row', {name: new RegExp(name)})).toBeVisible();
  await page.getByRole('link', {name: 'Fleet', exact: true}).click();
  await page.getByRole('link', {name: 'Juniper'}).click();
  await station(page, 'Firmware').click();
  await page.getByRole('group', {name: 'Whose firmware'}).getByText('Flight controller').click();
  const view = page.locator('bx-controller-firmware');
  await expect(view.getByText(/The image is for Slate C/)).toBeVisible();
  await view.getByRole('radio', {name: /own file/}).click();
  await expect(view.getByText('A file of your own: it is not signed.')).toBeVisible();
  const docket = docketOf(page);
  await docket.getByRole('button', {name: /^Skip: Writing firmware/}).click();
  await beginOrder(page);
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 60_000});
  expect((await memory(page)).version).toBe('2.3-b1');
});

test('a raised clock: without USB it is not offered, with it the board is asked after its start, and tasks are measured', async ({
  page,
}) => {
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await station(page, 'Arming').click();
  await armingView(page, 'Loop').click();
  const loop = page.getByRole('row', {name: /gyro and control loop/});
  // 3000 cycles of the stand-in's gyro task at 216 MHz.
  await expect(loop).toContainText(/1[34]\.\d µs/);
  await page.getByRole('combobox', {name: 'Clock of the processor'}).click();
  await expect(page.getByRole('option', {name: '228 MHz, without USB'})).toHaveAttribute('data-p-disabled', 'true');
  await page.getByRole('option', {name: '240 MHz'}).click();
  await expect(page.getByText('The way back:')).toBeVisible();
  const docket = docketOf(page);
  await expect(docket.getByText('above what the processor is rated for')).toBeVisible();
  await docket.getByRole('button', {name: /^Skip: Writing firmware/}).click();
  await beginOrder(page);
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 60_000});
  expect(await kept(page)).toMatchObject({clockMhz: 240});
  await expect(page.getByText(/Slate F at 240 MHz/)).toBeVisible();
  await expect(loop).toContainText(/12\.\d µs/);
});
