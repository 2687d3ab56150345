/** A flight controller that broke and was replaced: the new one becomes like it in one order, and is proven anew. */
import {expect, test} from './test';
import {
  beginOrder,
  connectAndSurvey,
  docketOf,
  expectAccessible,
  expectAllProven,
  finishOrder,
  lookAtEveryOutput,
  measureMotors,
  pickMishap,
  proveArming,
  proveTheReplies,
  station,
  watchErrors,
} from './support';

test('Juniper with another flight controller: all that the one before held, in one order, then all proven', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  const docket = docketOf(page);
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);

  await pickMishap(page, 'Flight controller replaced with a new one');
  await page
    .getByRole('button', {name: /Connect the simulated bench/})
    .first()
    .click();
  await station(page, 'Survey').click();
  await page
    .getByRole('button', {name: /^Survey/})
    .first()
    .click();
  await expect(page.getByText('What stands out')).toBeVisible();
  await station(page, 'Parameters').click();
  await page.getByRole('group', {name: 'Parameters of'}).getByText('Flight controller').click();
  const gate = page.locator('bx-controller-text .gate').filter({hasText: 'took the place of another'});
  await expect(gate).toContainText('is of another flight controller');
  await expect(gate).toContainText(/To prove again on this one: .*every setting as planned/);
  await expectAccessible(page, 'replaced controller');
  await gate.getByRole('button', {name: /^Plan \d+ lines as the one before held them/}).click();
  await expect(gate.getByRole('button')).toHaveCount(0);
  await expect(gate).toContainText('Nothing that it held is missing');
  const held = page.locator('bx-held-settings');
  await expect(held.getByRole('row', {name: /^\S* ?roll highest /})).toContainText('differs');

  const propellers = docket.getByRole('button', {name: 'Propellers are off'});
  await expect(docket.getByText(/Set \d+ other settings of the flight controller/)).toBeVisible();
  if (await propellers.isVisible()) await propellers.click();
  await beginOrder(page);
  await proveTheReplies(page);
  await expect(held.getByRole('row', {name: /^\S* ?roll highest /})).toContainText('as planned');
  await expect(gate).toHaveCount(0);
  await lookAtEveryOutput(page);
  await measureMotors(page);
  await proveArming(page);
  await expectAllProven(page);
  errors.expectNone();
});
