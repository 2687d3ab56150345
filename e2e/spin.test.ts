/** Motion that is measured: the coasting motor found, cured and measured again; a hold that is let go; the mixer. */
import {expect, test, type Locator, type Page} from './test';
import {
  beginOrder,
  connectAndSurvey,
  expectAccessible,
  finishOrder,
  holdUntil,
  measureMotors,
  pickMishap,
  spinView,
  station,
  watchErrors,
} from './support';

// A hold is let go in its middle: it must last longer than a look at the page takes.
test.use({pace: 4});

const docketOf = (page: Page) => page.getByRole('complementary', {name: 'Work order'});

/** Firmware and controller brought to the plan; settings are left as they were: motor 3 coasts. */
async function withReplies(page: Page): Promise<void> {
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  const docket = docketOf(page);
  await docket.getByRole('button', {name: 'Skip: Setting parameters'}).click();
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);
}

/** Everything that an element says from now on, however short. */
async function textsFromNowOn(of: Locator): Promise<() => Promise<string[]>> {
  const texts = await of.evaluateHandle((element) => {
    const all: string[] = [];
    const hear = () => void all.push(element.textContent);
    new MutationObserver(hear).observe(element, {subtree: true, childList: true, characterData: true});
    return all;
  });
  return () => texts.jsonValue();
}

test('the coasting motor is found, its cause named, cured by the order, and measured again under the same hold', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await withReplies(page);
  await station(page, 'Spin').click();
  await spinView(page, 'Steps and cuts').click();
  await expect(page.getByText('Nothing was measured on this craft yet.')).toBeVisible();
  await measureMotors(page);
  await expect(page.getByText(/Motor 3, rear left: coast-down/)).toBeVisible();
  await expect(page.getByText('It reads off; the others read on.')).toBeVisible();
  await expect(page.getByText('carry out the work order, then measure again')).toBeVisible();
  const kv = page.locator('tr').filter({hasText: 'KV'}).locator('td.n');
  await expect(kv).toHaveCount(4);
  // 1752, 1746, 1757 and 1749 rpm/V are what the simulated motors are made with.
  for (const [m, made] of [1752, 1746, 1757, 1749].entries())
    expect(Math.abs(parseFloat((await kv.nth(m).textContent())!) / made - 1)).toBeLessThan(0.01);
  await expectAccessible(page, 'steps and cuts');
  await beginOrder(page);
  // Settings only: no firmware was written, so the battery stays on.
  await holdUntil(page, /Hold to prove replies and motion/, () =>
    expect(docketOf(page).getByText('carried out')).toBeVisible(),
  );
  await expect(page.getByText(/Motor 3, rear left: coast-down/)).toHaveCount(0);
  await expect(page.getByText('Thin lines below it')).toBeVisible();
  await station(page, 'Sign-off').click();
  await expect(page.getByRole('row', {name: /Motors alike and plausible/})).toContainText('✓');
  errors.expectNone();
});

test('letting go in the middle stops the motors, keeps the trace and says so, the file is what the headless door reads; then a motor of 12 poles is named', async ({
  page,
}) => {
  await withReplies(page);
  await station(page, 'Spin').click();
  await spinView(page, 'Steps and cuts').click();
  const button = page.getByRole('button', {name: /^Hold for \d s/});
  await expect(button).toBeEnabled({timeout: 40_000});
  await button.hover();
  const said = await textsFromNowOn(button);
  await page.mouse.down();
  // Motors alone, then the script. What lasts for less than a frame need not be seen.
  await expect.poll(async () => (await said()).join(' ')).toMatch(/motor \d alone.*% throttle/);
  await page.waitForTimeout(100);
  await page.mouse.up();
  await expect(page.getByText('The button was let go before the script had ended.')).toBeVisible();
  const look = () => page.evaluate(() => window.bidexSimulator!.look());
  expect((await look()).filter((s) => s.throttle > 0)).toHaveLength(0);
  // A motor without braking coasts for a while.
  await expect.poll(async () => (await look()).filter((s) => s.turning).length).toBe(0);
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', {name: 'Save as CSV'}).click(),
  ]);
  expect(file.suggestedFilename()).toBe('juniper-motor-card.csv');
  const chunks: Buffer[] = [];
  for await (const chunk of await file.createReadStream()) chunks.push(chunk as Buffer);
  const text = Buffer.concat(chunks).toString();
  expect(text.split('\n')[0]).toBe(
    'time_s,throttle_1,throttle_2,throttle_3,throttle_4,rpm_1,rpm_2,rpm_3,rpm_4,volts,amps_1,amps_2,amps_3,amps_4',
  );

  // The same bench, with a motor of another number of magnets: named by the ratio of the poles.
  await pickMishap(page, 'Motor replaced with a 12-pole one');
  await measureMotors(page);
  await expect(
    page.getByText(/Motor 2, [a-z ]+: KV reads .* the ratio of 12 to 14 poles\. Count its magnets\./),
  ).toBeVisible();
  await station(page, 'Sign-off').click();
  await expect(page.getByRole('row', {name: /Motors alike and plausible/})).toContainText('✗ failed');
});

test('the mixer of the craft: what each motor does, tried with sticks by keyboard', async ({page}) => {
  await page.goto('/craft/alder/spin');
  await spinView(page, 'Mixer').click();
  await expect(page.locator('bx-mixer tbody tr')).toHaveCount(7);
  await page.getByRole('slider', {name: /^Roll/}).focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight');
  const drawing = page.getByRole('img', {name: /front right/});
  await expect(drawing).toHaveAttribute('aria-label', /front right 40 %.*left 70 %/);
  await expectAccessible(page, 'mixer');
  await page.getByRole('button', {name: 'Let the sticks go'}).click();
  await expect(drawing).toHaveAttribute('aria-label', /front right 50 %/);
});

test('a melody is written as text, checked while it is typed, carried out and read back', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await station(page, 'Spin').click();
  await spinView(page, 'Sounds').click();
  await page.getByRole('button', {name: 'Write a melody'}).click();
  const text = page.getByLabel('RTTTL: name, defaults, notes');
  await text.fill('call:d=8,o=5,b=160:c,k,g');
  await expect(page.locator('#melody-check')).toContainText('"k" is not a note.');
  await text.fill('call:d=8,o=5,b=160:c,e,g,4c6,p,4a#4.');
  await expect(page.locator('#melody-check')).toContainText('✓ fits 6 of 64 notes');
  await expect(page.getByRole('img', {name: 'C5, E5, G5, C6, pause, A#4'})).toBeVisible();
  await expectAccessible(page, 'sounds');
  const docket = docketOf(page);
  await expect(docket.getByText('Start-up melody').first()).toBeVisible();
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);
  await expect(page.getByText('✓ as planned')).toHaveCount(4);
  await expect(page.getByRole('cell', {name: ':d=8,o=5,b=160:c,e,g,4c6,p,4a#4.'})).toHaveCount(4);
  errors.expectNone();
});
