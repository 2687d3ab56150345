/** The other craft of the demo, each brought to "all proven" through the interface, its flight controller with it. */
import {expect, test, type Page} from './test';
import {meridianImage} from '@simulator/firmware/meridian';
import {moduleImage} from '@simulator/firmware/reply-module';
import {
  beginOrder,
  armingView,
  carryOutTheRound,
  claimTheForeignBoard,
  connectAndSurvey,
  docketOf,
  expectImageInEveryEsc,
  finishOrder,
  lookAtEveryOutput,
  measureMotors,
  moveTheSticks,
  pickMishap,
  pointAt,
  proveArming,
  proveTheReplies,
  readTheRound,
  station,
  tiltTheCraft,
  tryTheFailSafe,
  updateBramblesController,
  watchErrors,
} from './support';

async function expectSignedOff(page: Page): Promise<void> {
  await station(page, 'Sign-off').click();
  await expect(page.getByRole('status')).toContainText('all proven');
  await expect(page.locator('tbody .tag.ok')).toHaveCount(11);
}

test('Sorrel: new builds, replies, motors, transmitter trimmed, fail-safe: all proven', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page, 'Sorrel');
  await pickMishap(page, 'As fast as possible');
  await docketOf(page).getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);
  await lookAtEveryOutput(page);
  await measureMotors(page);
  await station(page, 'Arming').click();
  await armingView(page, 'Receiver').click();
  await page.getByRole('button', {name: 'Set its ends to 1000 and 2000'}).click();
  await armingView(page, 'Mounting').click();
  await proveArming(page);
  await expectSignedOff(page);
  errors.expectNone();
});

test('Bramble: flight controller first, then two images on each ESC, mounting, channels and switch: all proven', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page, 'Bramble');
  await updateBramblesController(page);
  await station(page, 'Firmware').click();
  await expect(page.getByText('Reply module on top of 3.9')).toBeVisible();
  const steps = docketOf(page).getByRole('list', {name: 'Steps'}).locator('> li');
  await expect(steps.nth(1)).toContainText('Write Meridian 3.9');
  await expect(steps.nth(2)).toContainText('Write reply module 1.1');
  await station(page, 'Arming').click();
  await tiltTheCraft(page);
  await page.getByRole('button', {name: 'Plan “turned by 270° to the right”'}).click();
  await armingView(page, 'Receiver').click();
  await moveTheSticks(page);
  await page.getByRole('button', {name: /^Plan roll 2, pitch 3, throttle 1, yaw 4/}).click();
  await armingView(page, 'Switches').click();
  await page.getByRole('button', {name: 'Begin, then move the switch'}).click();
  await page.getByRole('button', {name: 'Channel 5 up'}).click();
  await expect(page.locator('.switch').getByText('channel 5')).toBeVisible();
  await page.getByRole('button', {name: 'Channel 5 down'}).click();
  await docketOf(page).getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);
  const schist = {board: 'Schist 40', deadTimeNs: 40};
  await expectImageInEveryEsc(page, meridianImage('3.9', schist));
  await expectImageInEveryEsc(page, moduleImage('1.1', schist));
  await station(page, 'Firmware').click();
  await expect(page.getByRole('cell', {name: 'Meridian 3.9 + reply module 1.1'})).toHaveCount(4);
  await lookAtEveryOutput(page);
  await measureMotors(page);
  await station(page, 'Arming').click();
  await armingView(page, 'Mounting').click();
  await tiltTheCraft(page);
  await armingView(page, 'Receiver').click();
  await moveTheSticks(page);
  await armingView(page, 'Fail-safe').click();
  await tryTheFailSafe(page);
  await expectSignedOff(page);
  errors.expectNone();
});

test('Alder: six ESCs by adapter, one claimed, controller updated, outputs exchanged with the battery off: all proven', async ({
  page,
}) => {
  const errors = watchErrors(page);
  const docket = docketOf(page);
  await page.goto('/');
  await page.getByRole('button', {name: 'Connect the simulated bench of Alder'}).click();
  await expect(page.getByText('0 of 6 arms read')).toBeVisible();
  await pickMishap(page, 'As fast as possible');
  await readTheRound(page);
  await expect(page.getByText('motor 4 runs foreign firmware')).toBeVisible();
  await expect(docket.getByText('Motor 4 stays open.')).toBeVisible();
  await claimTheForeignBoard(page);
  await expect(docket.getByText('Arm 4, rear left')).toBeVisible();
  await carryOutTheRound(page);
  await expectImageInEveryEsc(page, meridianImage('4.2', {board: 'Basalt 30', deadTimeNs: 30}), 6);
  await page.getByRole('link', {name: 'Logbook'}).click();
  await expect(page.getByRole('cell', {name: 'bench hand'})).toBeVisible();

  // The flight controller is too old to pass through: its own road says so, with the ways on.
  await pickMishap(page, 'Cable into the flight controller');
  await station(page, 'Survey').click();
  await page.getByRole('button', {name: 'Survey again'}).click();
  await expect(page.getByText(/Plumb 2\.0, which cannot pass through to ESCs; Plumb 2\.2 can/).first()).toBeVisible();
  await expect(docket.getByText('Write Plumb 2.2 to the flight controller')).toBeVisible();
  await beginOrder(page);
  await docket.getByRole('button', {name: 'Switch the simulated transmitter off'}).click({timeout: 60_000});
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 60_000});
  await station(page, 'Spin').click();
  await page.locator('bx-spin').getByRole('button', {name: 'Propellers are off'}).click();
  const seen: string[] = [];
  for (let output = 1; output <= 6; output++) seen.push(await pointAt(page, output));
  expect([seen[1]!.split(',')[0], seen[5]!.split(',')[0]]).toEqual(['front left', 'right']);

  await station(page, 'Arming').click();
  await armingView(page, 'Fail-safe').click();
  await page.getByLabel('After').fill('400');
  await page.getByLabel('After').blur();
  await page.getByRole('button', {name: 'Switch it on'}).click();
  await expect(page.getByText(/In the flight controller it is locked while a transmitter is connected/)).toBeVisible();
  await armingView(page, 'Receiver').click();
  await moveTheSticks(page);
  await page.getByRole('button', {name: /^Plan .*dead band/}).click();
  await station(page, 'Signal').click();
  await page.getByRole('combobox', {name: 'Motor protocol'}).click();
  await page.getByRole('option', {name: 'DShot300'}).click();
  await page.getByRole('group', {name: 'Bidirectional replies'}).getByText('on', {exact: true}).click();
  await expect(docket.getByText(/Arm of each output 1 2 3 4 5 6 → 1 6 3 4 5 2/)).toBeVisible();
  await expect(docket.getByText('locked while the battery is in; the work order waits until it is off')).toBeVisible();
  await beginOrder(page);
  await docket.getByRole('button', {name: 'Take the simulated battery off'}).click();
  await docket.getByRole('button', {name: 'Switch the simulated transmitter off'}).click();
  await docket.getByRole('button', {name: 'Connect the simulated battery'}).click();
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await proveTheReplies(page);
  await station(page, 'Spin').click();
  await page.locator('bx-spin').getByRole('button', {name: 'again'}).nth(1).click();
  await pointAt(page, 2);
  await page.locator('bx-spin').getByRole('button', {name: 'again'}).nth(5).click();
  await pointAt(page, 6);
  await measureMotors(page);
  await station(page, 'Arming').click();
  await armingView(page, 'Fail-safe').click();
  await page.getByRole('button', {name: 'Switch it on'}).click();
  await armingView(page, 'Mounting').click();
  await proveArming(page);
  const kept = await page.evaluate(() => window.bidexSimulator!.configuration());
  expect(kept).toMatchObject({arms: [0, 5, 2, 3, 4, 1], failSafe: {afterMs: 400}, protocol: 'dshot300', replies: true});
  expect((await page.evaluate(() => window.bidexSimulator!.controllerFirmware())).version).toBe('2.2');
  await expectSignedOff(page);
  errors.expectNone();
});
