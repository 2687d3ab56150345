/** The whole bench run through the interface: from mixed old firmware to a proven, quiet craft. */
import {expect, test} from './test';
import {
  beginOrder,
  armMishap,
  connectAndSurvey,
  expectAllProven,
  expectImageInEveryEsc,
  finishOrder,
  lookAtEveryOutput,
  measureMotors,
  pickMishap,
  proveArming,
  spinView,
  station,
  watchErrors,
} from './support';

test('Juniper, undisturbed', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await expect(page.getByText('motor 3 runs Meridian 3.7, its siblings do not')).toBeVisible();
  await pickMishap(page, 'As fast as possible');
  await station(page, 'Firmware').click();
  await expect(page.getByText('33 pages to write')).toBeVisible();
  await expect(page.getByRole('radio', {name: /^4\.2/})).toBeChecked();
  const docket = page.getByRole('complementary', {name: 'Work order'});
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);
  await expectImageInEveryEsc(page);
  await station(page, 'Signal').click();
  await spinView(page, 'Replies').click();
  await expect(page.getByText(/none of [\d,]+ replies lost at idle, 30 %, 60 %/)).toBeVisible();
  await lookAtEveryOutput(page);
  await measureMotors(page);
  await proveArming(page);
  await expectAllProven(page);
  errors.expectNone();
});

test('Juniper, battery pulled in the middle of a write and the page reloaded', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await armMishap(page, {what: 'battery-off', output: 1, pages: 6});
  const docket = page.getByRole('complementary', {name: 'Work order'});
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await expect(docket.getByText('Stopped, not lost')).toBeVisible();
  await expect(docket.getByText(/The battery is off, so no ESC has power/).first()).toBeVisible();
  await page.reload();
  await expect(docket.getByText('Stopped, not lost')).toBeVisible();
  await docket.getByRole('button', {name: 'Connect the simulated bench'}).click();
  await docket.getByRole('button', {name: 'Connect the simulated battery'}).click();
  await pickMishap(page, 'As fast as possible');
  await docket.getByRole('button', {name: 'Resume work order'}).click();
  await finishOrder(page);
  await expectImageInEveryEsc(page);
  await station(page, 'Sign-off').click();
  // What a write order proves stands as it does without a mishap; what motors and craft prove is the first story's.
  for (const proof of [/Everything answers/, /Same firmware/, /Every setting as planned/, /No reply lost/])
    await expect(page.getByRole('row', {name: proof})).toContainText('✓ current');
  errors.expectNone();
});

test('the cable pulled, and the page reloaded while it writes', async ({page}) => {
  await connectAndSurvey(page);
  const docket = page.getByRole('complementary', {name: 'Work order'});
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await expect(docket.getByText(/Motor 1: page \d+ of 17/)).toBeVisible();
  await page.reload();
  await docket.getByRole('button', {name: 'Connect the simulated bench'}).click();
  await expect(docket.getByRole('button', {name: 'Resume work order'})).toBeVisible();
  await armMishap(page, {what: 'cable-out', output: 2, pages: 3});
  await docket.getByRole('button', {name: 'Resume work order'}).click();
  await expect(docket.getByText(/The cable is out or the adapter lost power/).first()).toBeVisible();
  await docket.getByRole('button', {name: 'Connect the simulated bench'}).click();
  await pickMishap(page, 'As fast as possible');
  await docket.getByRole('button', {name: 'Resume work order'}).click();
  await finishOrder(page);
  await expectImageInEveryEsc(page);
});
