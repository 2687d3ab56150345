/** Motor order by hold and point: wrong outputs found and cured, by pointer and by keyboard; a swapped pair; end points. */
import {expect, test, type Page} from './test';
import {
  beginOrder,
  connectAndSurvey,
  docketOf,
  eyes,
  finishOrder,
  pickMishap,
  pointAt,
  readTheRound,
  spinView,
  station,
  watchErrors,
} from './support';

// A key has to be pressed in the right moment of a pulse: no faster than a hand can.
test.use({pace: 2});

const hold = (page: Page, output: number) => page.getByRole('button', {name: `Hold to turn output ${output}`});
/** What eyes see, as the drawing names the halves. */
const seenNow = async (page: Page) => (await eyes(page).first().textContent())!.replace('↻', '').trim();

/** As pointAt, with keys alone, from the hold button on. */
async function pointByKeys(page: Page, output: number): Promise<string> {
  const button = hold(page, output);
  await expect(button).toBeEnabled();
  await expect(eyes(page)).toHaveCount(0);
  await button.focus();
  await page.keyboard.down('Enter');
  await expect(eyes(page)).toHaveCount(1);
  await page.keyboard.press('t');
  const seen = await seenNow(page);
  await page.keyboard.up('Enter');
  await expect(page.getByText('has turned. Which arm is it')).toBeVisible();
  // The halves of the arms lie before the button in the order of the keys.
  for (let i = 0; i < 60; i++) {
    await page.keyboard.press('Shift+Tab');
    if ((await page.evaluate(() => document.activeElement?.getAttribute('aria-label'))) === seen) break;
  }
  await page.keyboard.press('Enter');
  return seen;
}

const wrongs = (page: Page) => page.locator('table.wrongs tr');

// What is found is cured in the same way, however it was found.
for (const [how, turn] of [
  ['and cured by pointing', pointAt],
  ['by keyboard alone', pointByKeys],
] as const)
  test(`the wrong outputs of Juniper are found ${how}`, async ({page}) => {
    const errors = watchErrors(page);
    await connectAndSurvey(page);
    await pickMishap(page, 'As fast as possible');
    await station(page, 'Spin').click();
    await expect(page.getByText('Two sides do not agree: would flip at take-off')).toBeVisible();
    await page.locator('bx-spin').getByRole('button', {name: 'Propellers are off'}).click();
    for (let output = 1; output <= 4; output++) await turn(page, output);
    // As found, all ESCs turn as their wires do: 2 and 3 the wrong way.
    await expect(wrongs(page)).toHaveCount(2);
    await expect(wrongs(page).nth(0)).toContainText(/^2 \w+ \w+ ?it turns the wrong way/);
    await expect(wrongs(page).nth(0)).toContainText('rotation setting of the ESC planned');
    await expect(wrongs(page).nth(1)).toContainText(/^3 \w+ \w+ ?it turns the wrong way/);
    await expect(page.getByText(/Motor \d, [a-z ]+, starts last: 10\d\d µs/)).toBeVisible();
    await expect(docketOf(page).getByText('motors 2 and 3').first()).toBeVisible();
    if (turn === pointByKeys) return errors.expectNone();
    await beginOrder(page);
    await finishOrder(page);
    await expect(page.getByText('look again')).toHaveCount(2);
    for (const output of [2, 3]) await turn(page, output);
    await expect(page.getByText('✓ two sides agree')).toBeVisible();
    await expect(wrongs(page)).toHaveCount(0);
    await expect(station(page, 'Spin')).toContainText('not measured');
    errors.expectNone();
  });

test('Alder: a swapped pair found by pointing and cured in the output map; analog ends calibrated', async ({page}) => {
  const errors = watchErrors(page);
  await page.goto('/');
  await page.getByRole('button', {name: 'Connect the simulated bench of Alder'}).click();
  await pickMishap(page, 'As fast as possible');
  await readTheRound(page);
  await station(page, 'Spin').click();
  await page.getByRole('button', {name: 'Plug the simulated cable into the flight controller'}).click();
  await spinView(page, 'Throttle range').click();
  await expect(page.getByText('ends not reached')).toBeVisible();
  await page.getByRole('button', {name: 'Begin to calibrate'}).click();
  await page.getByRole('button', {name: 'Take the simulated battery off'}).click();
  await expect(page.getByText('2000 µs go to every output. Connect the battery now.')).toBeVisible();
  await page.getByRole('button', {name: 'Connect the simulated battery'}).click();
  await expect(page.getByText('Done on the wire.')).toBeVisible();
  await spinView(page, 'Motor order').click();
  await page.locator('bx-spin').getByRole('button', {name: 'Propellers are off'}).click();
  const seen: string[] = [];
  for (let output = 1; output <= 6; output++) seen.push(await pointAt(page, output));
  expect([seen[1]!.split(',')[0], seen[5]!.split(',')[0]]).toEqual(['front left', 'right']);
  await expect(wrongs(page).filter({hasText: 'output map of the flight controller'})).toHaveCount(2);
  await expect(docketOf(page).getByText(/Arm of each output 1 2 3 4 5 6 → 1 6 3 4 5 2/)).toBeVisible();
  // The foreign ESC has no setting to turn it over: its wires are left.
  await expect(wrongs(page).filter({hasText: 'two of its motor wires'})).toHaveCount(1);
  await beginOrder(page);
  // The arm of an output is locked while the battery is in; new firmware comes with another fail-safe, locked too.
  await docketOf(page).getByRole('button', {name: 'Take the simulated battery off'}).click();
  await docketOf(page).getByRole('button', {name: 'Switch the simulated transmitter off'}).click();
  await docketOf(page).getByRole('button', {name: 'Connect the simulated battery'}).click();
  await expect(docketOf(page).getByText('carried out')).toBeVisible();
  await expect(page.locator('bx-spin').getByText('look again', {exact: true})).toHaveCount(2);
  await page.locator('bx-spin').getByRole('button', {name: 'Propellers are off'}).click();
  for (const output of [2, 6]) {
    await page
      .getByRole('button', {name: 'again'})
      .nth(output - 1)
      .click();
    await pointAt(page, output);
  }
  await expect(wrongs(page).filter({hasText: 'output map'})).toHaveCount(0);
  errors.expectNone();
  // What calibration left is read arm by arm again.
  await spinView(page, 'Throttle range').click();
  await pickMishap(page, 'Cable into the single-wire adapter');
  await station(page, 'Survey').click();
  const arms = page.locator('bx-arm-round li');
  for (let arm = 0; arm < 6; arm++) {
    await arms.nth(arm).getByRole('button').click();
    await expect(arms.nth(arm).getByRole('button', {name: 'Read again'})).toBeEnabled();
  }
  await station(page, 'Spin').click();
  await spinView(page, 'Throttle range').click();
  await expect(page.getByText('expected spread')).toBeVisible();
  await expect(page.getByText('ends not reached')).toHaveCount(0);
});
