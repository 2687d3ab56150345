/** Firmware: Sorrel's builds, a worn ESC, roll-back. Alder's round and Bramble's two images are part of proven.test.ts. */
import {expect, test, type Page} from './test';
import {cadenceImage} from '@simulator/firmware/cadence';
import {
  beginOrder,
  connectAndSurvey,
  docketOf,
  expectImageInEveryEsc,
  finishOrder,
  pickMishap,
  setMishap,
  station,
  watchErrors,
} from './support';

async function carryOut(page: Page): Promise<void> {
  await pickMishap(page, 'As fast as possible');
  await docketOf(page).getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
}

test('Sorrel: the PWM build is planned, written and read back, replies proven at DShot300', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page, 'Sorrel');
  await station(page, 'Firmware').click();
  await expect(page.getByRole('radio', {name: /^2\.1, 48 kHz/})).toBeChecked();
  await page
    .getByRole('radio', {name: '96 kHz', exact: true})
    .or(page.getByRole('button', {name: '96 kHz'}))
    .first()
    .click();
  await expect(page.getByRole('radio', {name: /^2\.1, 96 kHz/})).toBeChecked();
  await expect(docketOf(page).getByText('Motor poles 14 → 12')).toBeVisible();
  // At 96 kHz the dead time of this bridge eats 2 · 300 ns · 96 kHz = 5.8 % of the duty: an idle of 6 % turns nothing.
  await station(page, 'Signal').click();
  await page.getByRole('spinbutton', {name: 'Idle throttle'}).fill('12');
  await page.keyboard.press('Tab');
  await expect(docketOf(page).getByText(/Idle throttle .* → 12 %/)).toBeVisible();
  await carryOut(page);
  await finishOrder(page);
  await expectImageInEveryEsc(page, cadenceImage('2.1', 96));
  errors.expectNone();
});

test('a worn page isolates its ESC, the others are finished; the logbook has the account', async ({page}) => {
  await connectAndSurvey(page);
  await setMishap(page, 'Has a worn flash page', true);
  await station(page, 'Firmware').click();
  await carryOut(page);
  await docketOf(page).getByRole('button', {name: 'Take the simulated battery off'}).click({timeout: 60_000});
  await expect(page.getByRole('group', {name: /^Motor 2, isolated at page/})).toBeVisible();
  await expect(page.getByRole('group', {name: /^Motor 3, ✓ 33 pages/})).toBeVisible();
  await docketOf(page).getByRole('button', {name: 'Connect the simulated battery'}).click();
  await expect(
    docketOf(page)
      .getByText(/motor 2 was isolated: Page 0x\w+ failed its check 3 times/)
      .first(),
  ).toBeVisible();
  await page.getByRole('link', {name: 'Logbook'}).click();
  await page.getByRole('button', {name: 'Journal'}).click();
  await expect(page.getByText('The other ESCs are finished without it.')).toBeVisible();
});

test('a battery too low to finish is not begun on; a paused write waits; a finished one rolls back', async ({page}) => {
  await connectAndSurvey(page);
  await docketOf(page).getByRole('button', {name: 'Propellers are off'}).click();
  const start = docketOf(page).getByRole('button', {name: 'Carry out work order'});
  await setMishap(page, 'Battery nearly empty', true);
  await expect(docketOf(page).getByText(/3\.1\d V per cell/)).toBeVisible();
  await expect(start).toBeDisabled();
  await setMishap(page, 'Battery nearly empty', false);
  await expect(start).toBeEnabled();
  await pickMishap(page, '×1, as real');
  await station(page, 'Firmware').click();
  await start.click();
  const strip = page.getByRole('group', {name: /^Motor 3/});
  await expect(strip).toContainText(/page [3-9] of 33/);
  await expect(strip).toContainText(/about \d+ s left/);
  await expect(strip).toContainText(/last bytes 0\.\d s ago/);
  await docketOf(page).getByRole('button', {name: 'Pause after page'}).click();
  await expect(strip).toContainText(/paused after page/);
  await pickMishap(page, 'As fast as possible');
  await docketOf(page).getByRole('button', {name: 'Go on'}).click();
  await finishOrder(page);
  await page.getByRole('link', {name: 'Logbook'}).click();
  await page.getByRole('button', {name: 'Roll back to before'}).click();
  await expect(docketOf(page).getByText('Put back Meridian 3.7')).toBeVisible();
  await beginOrder(page, 'Carry out the roll-back');
  await docketOf(page).getByRole('button', {name: 'Take the simulated battery off'}).click({timeout: 60_000});
  await docketOf(page).getByRole('button', {name: 'Connect the simulated battery'}).click();
  await station(page, 'Survey').click();
  await expect(page.getByText('motor 3 runs Meridian 3.7, its siblings do not')).toBeVisible();
  await expect(docketOf(page).getByText('↩ rolled back')).toBeVisible();
  await expect(docketOf(page).getByRole('button', {name: 'Carry out work order'})).toBeHidden();
  await docketOf(page).getByRole('button', {name: 'Copy what the craft holds into the plan'}).click();
  await expect(docketOf(page).getByText('The plan still contains what was rolled back')).toBeHidden();
});
