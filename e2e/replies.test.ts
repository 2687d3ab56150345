/** Signal under load, on an updated Juniper: what passes, what one loose wire looks like, a soak let go, and wires recorded. */
import {expect, test, type Page} from './test';
import {
  beginOrder,
  connectAndSurvey,
  docketOf,
  expectAccessible,
  finishOrder,
  pickMishap,
  setMishap,
  spinView,
  station,
  watchErrors,
} from './support';

const holdButton = (page: Page) => page.getByRole('button', {name: /^Hold to load the replies/});

/** Holds until the run has ended by itself, or for so long, ms. */
async function holdToLoad(page: Page, forMs?: number): Promise<void> {
  const button = holdButton(page);
  await expect(button).toBeEnabled();
  await button.scrollIntoViewIfNeeded();
  await button.hover();
  await page.mouse.down();
  await expect(page.getByText('counting', {exact: true})).toBeVisible();
  if (forMs) await page.waitForTimeout(forMs);
  else await expect(page.getByText('counting', {exact: true})).toHaveCount(0);
  await page.mouse.up();
  await expect(page.getByText('counting', {exact: true})).toHaveCount(0);
}

test('Juniper: replies loaded, a loose wire found out, a soak let go and kept, wires recorded that equal the counters', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await station(page, 'Signal').click();
  await spinView(page, 'Replies').click();
  const why = page.getByRole('list', {name: 'Why replies are lost'});
  await expect(why).toContainText('they are off in it');
  await expect(holdButton(page)).toBeDisabled();

  await pickMishap(page, 'As fast as possible');
  await docketOf(page).getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);
  await expect(page.getByText(/none of [\d,]+ replies lost at idle, 30 %, 60 %/)).toBeVisible();

  await holdToLoad(page);
  await expect(page.getByText(/None of [\d,]+ replies lost in 1[01] s; with 95 % certainty/)).toBeVisible();
  await expect(page.getByText('passes', {exact: true})).toBeVisible();
  await expect(why).toHaveCount(0);

  await setMishap(page, 'No capacitor at the pack', true);
  await holdToLoad(page);
  await expect(why).toContainText(/each motor alone lost .* all together .* through the supply that they share/);
  await expect(page.getByText(/^At up to 30 % throttle: each motor alone lost/)).toBeVisible();
  // What the order proved at rest does not hold any more.
  await expect(station(page, 'Signal')).toContainText('replies lost');
  await expect(page.getByText(/Under load: Motor \d lost [\d,]+ of/)).toBeVisible();
  await setMishap(page, 'No capacitor at the pack', false);

  await setMishap(page, 'Signal wire of motor 2 sits loose', true);
  await page.getByRole('group', {name: 'Record its wires'}).getByText('yes').click();
  await holdToLoad(page);
  await expect(page.getByText('They are open under Captures.')).toBeVisible();
  await expect(page.getByText('does not pass', {exact: true})).toBeVisible();
  await expect(why).toContainText(/Motor 2 lost .* the others 0 %, with the same firmware; it rises with throttle/);
  await expect(why).toContainText('Look at the signal wire of motor 2');
  await expectAccessible(page, 'Replies');
  await setMishap(page, 'Signal wire of motor 2 sits loose', false);

  // What was recorded in the midst of it: faults on the loose wire alone, and speeds of turning motors.
  await spinView(page, 'Captures').click();
  const recorded = page.getByRole('table', {name: 'Wires of the capture'}).getByRole('row');
  await expect(recorded).toHaveCount(5);
  for (const motor of [1, 3, 4]) await expect(recorded.nth(motor)).toContainText('none lost');
  await expect(recorded.nth(2).getByRole('button')).toHaveAttribute('aria-pressed', 'true');
  await page.getByText(/^All, /).click();
  const rpm = page.getByRole('button', {name: /^reply \d+, right: period \d+ µs, \d{4,5} rpm$/});
  await expect(rpm.first()).toBeVisible();
  await spinView(page, 'Replies').click();

  await page.getByRole('group', {name: 'Length'}).getByText('1 min').click();
  await holdToLoad(page, 300);
  await expect(page.getByText(/Ended after \d+\.\d of 60 s/)).toBeVisible();
  await page.reload();
  await spinView(page, 'Replies').click();
  await expect(page.getByText(/Ended after \d+\.\d of 60 s/)).toBeVisible({timeout: 15_000});
  await expect(page.getByRole('combobox', {name: 'Run'})).toBeVisible();

  await pickMishap(page, 'Plug the cable in');
  await setMishap(page, 'Noise on the motor wires', true);
  await spinView(page, 'Captures').click();
  await page.getByRole('button', {name: 'Record the simulated wires'}).click();
  const wires = page.getByRole('table', {name: 'Wires of the capture'}).getByRole('row');
  await expect(wires).toHaveCount(5);
  let lost = 0;
  for (let motor = 1; motor <= 4; motor++) {
    const cells = await wires.nth(motor).getByRole('cell').allTextContents();
    expect(cells[1]).toBe('DShot300, bidirectional');
    const number = (text: string) => Number(text.replace(/,/g, ''));
    const [commands, missing, bad] = [cells[2]!, cells[4]!, cells[5]!].map(number);
    const counted = /^([\d,]+) asked, ([\d,]+) missing, ([\d,]+) bad$/.exec(cells[10]!.trim())!.slice(1).map(number);
    expect([commands, missing, bad]).toEqual(counted);
    expect(commands).toBe(800);
    lost += missing! + bad!;
  }
  expect(lost).toBeGreaterThan(10);
  errors.expectNone();
});
