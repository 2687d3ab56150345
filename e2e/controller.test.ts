/** The flight controller's configuration as text: kept, carried over from an older version, three sections put back. */
import {readFile} from 'node:fs/promises';
import {expect, test} from './test';
import {parse} from 'smol-toml';
import {beginOrder, connectAndSurvey, docketOf, expectAccessible, pickMishap, station, watchErrors} from './support';

/** What a craft wrote of itself under Plumb 2.0, with a slip in it and a line that nobody knows. */
const oldText = `[controller]
firmware = "Plumb"
version = "2.0"
[motors]
idle_us = 1055
poles = 61
[filters]
gyro_hz = 30
[mounting]
yaw = 90
[receiver]
kind = "serial"
port = 3
[channels]
roll = 2
pitch = 1
[fail_safe]
delay_ms = 700
[buzz]
volume = 7
`;

test('a text of an older version is carried over, three sections of it are planned, written and held', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await station(page, 'Parameters').click();
  await page.getByRole('button', {name: 'Copy what the ESCs have into the plan'}).click();
  await page.getByRole('group', {name: 'Parameters of'}).getByText('Flight controller').click();
  const saved = page.waitForEvent('download');
  await page.getByRole('button', {name: 'Save what was found'}).click();
  const file = await (await saved).path();
  expect(parse(await readFile(file, 'utf8'))).toMatchObject({motors: {idle_percent: 4}, fail_safe: {after_ms: 400}});

  const buffer = Buffer.from(oldText);
  const text = page.locator('bx-controller-text');
  await text.locator('input[type=file]').setInputFiles({name: 'old-craft.toml', mimeType: 'text/plain', buffer});
  await expect(text.getByText('Line 6, motors.poles')).toBeVisible();
  await expect(text.getByText('61 is not a whole number from 2 to 60.')).toBeVisible();
  await text.getByText('Carried over from 2.0 to 2.2').click();
  await expect(text.getByText('filters.gyro_hz → low_passes.gyro_hz')).toBeVisible();
  await expect(text.getByText(/30 is not a number from 50 to 1000/)).toBeVisible();
  await expect(text.getByText('buzz.volume')).toBeVisible();
  await expectAccessible(page, 'controller text');
  // A line that only the newer firmware has is no word of the old text: it cannot be taken from it.
  await expect(text.getByRole('row', {name: /^replies/}).getByRole('checkbox')).toHaveCount(0);
  await text.getByRole('button', {name: 'all of mounting, 1 line'}).click();
  await text.getByRole('button', {name: /^all of receiver, \d lines/}).click();
  await text.getByRole('button', {name: 'all of fail_safe, 1 line'}).click();
  await text.getByRole('button', {name: /^Plan \d lines/}).click();
  const docket = docketOf(page);
  await expect(docket.getByText('Mounting of the board straight ahead, upright → turned by 90°')).toBeVisible();
  await expect(docket.getByText(/Fail-safe motors off after 400 ms → motors off after 700 ms/)).toBeVisible();
  // A field that the flight controller locks says why, beside its line and in the order, which waits until it is unlocked.
  const locked = 'locked while a transmitter is connected; the work order waits until it is off';
  await expect(text.getByRole('row', {name: /^after_ms/})).toContainText(locked);
  await expect(docket.getByText(locked)).toBeVisible();
  await docket.getByRole('button', {name: 'Skip: Writing firmware'}).click();
  await expect(docket.getByText('Writing firmware stays open.')).toBeVisible();
  await beginOrder(page);
  await expect(docket.getByText(/^Switch the transmitter off: Fail-safe is locked/).first()).toBeVisible();
  expect(await page.evaluate(() => window.bidexSimulator!.configuration())).toMatchObject({
    failSafe: {action: 'drop', afterMs: 400},
  });
  await docket.getByRole('button', {name: 'Switch the simulated transmitter off'}).click();
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 40_000});
  expect(await page.evaluate(() => window.bidexSimulator!.configuration())).toMatchObject({
    ...{idlePercent: 4, poles: 14, gyroLowPassHz: 150},
    mounting: {roll: 0, pitch: 0, yaw: 90},
    receiver: {kind: 'serial', port: 3, roll: 2, pitch: 1, throttle: 3, yaw: 4, deadBandUs: 0},
    failSafe: {action: 'drop', afterMs: 700},
  });
  errors.expectNone();
});
