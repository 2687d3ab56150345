/** The other craft of the demo, each brought to "all proven" through the interface, its flight controller with it. */
import {expect, test, type Page} from '@playwright/test';
import {
  armingView,
  connectAndSurvey,
  docketOf,
  finishOrder,
  lookAtEveryOutput,
  measureMotors,
  moveTheSticks,
  pickMishap,
  proveArming,
  station,
  tiltTheCraft,
  tryTheFailSafe,
  updateBramblesController,
  watchErrors,
} from './support';

async function expectSignedOff(page: Page): Promise<void> {
  await station(page, 'Sign-off').click();
  await expect(page.getByRole('status')).toContainText('all proven', {timeout: 10_000});
  await expect(page.locator('tbody .tag.ok')).toHaveCount(11);
}

test('Sorrel: new builds, replies, motors, transmitter trimmed, fail-safe: all proven', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page, 'Sorrel');
  await pickMishap(page, 'As fast as possible');
  await docketOf(page).getByRole('button', {name: 'Propellers are off'}).click();
  await docketOf(page).getByRole('button', {name: 'Carry out work order'}).click();
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
  await docketOf(page).getByRole('button', {name: 'Carry out work order'}).click();
  await finishOrder(page);
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
