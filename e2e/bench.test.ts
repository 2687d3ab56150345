/** The stop control, mishaps, editing and refusals through the interface. */
import {expect, test} from './test';
import {connectAndSurvey, expectAccessible, pickMishap, station, watchErrors} from './support';

const stations = ['Craft', 'Survey', 'Firmware', 'Parameters', 'Spin', 'Signal', 'Noise', 'Sign-off'];

// The dark sheet has the same elements; only its colours are others.
for (const [sheet, rule] of [
  ['light', undefined],
  ['dark', 'color-contrast'],
] as const)
  test(`every station passes the accessibility rules, ${sheet}`, async ({page}) => {
    await connectAndSurvey(page);
    if (sheet === 'dark') await page.getByRole('button', {name: 'Dark theme'}).click();
    for (const name of stations) {
      await station(page, name).click();
      await expect(page.getByRole('heading', {level: 1})).toHaveText(name);
      if (name === 'Noise') await expect(page.getByText('14 poles fit this flight')).toBeVisible();
      await expectAccessible(page, `${sheet} ${name}`, rule);
    }
    await page.getByRole('link', {name: 'Bidex, fleet'}).click();
    await expectAccessible(page, 'Fleet', rule);
  });

test('battery off: the bench says it everywhere, found data are stale, nothing can be carried out', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await page.getByRole('button', {name: 'Propellers are off'}).click();
  const carryOut = page.getByRole('button', {name: 'Carry out work order'});
  await expect(carryOut).toBeEnabled();
  await pickMishap(page, 'Take the battery off');
  await expect(page.getByText('no battery')).toBeVisible();
  await expect(page.getByText('stale: battery or cable was out since')).toBeVisible();
  await expect(carryOut).toBeDisabled();
  await pickMishap(page, 'Connect the battery');
  await expect(page.getByText('not confirmed')).toBeVisible();
  await expect(carryOut).toBeDisabled();
  errors.expectNone();
});

test('a plan edit shows in the docket, undo and redo take it back and forth, a reload keeps it', async ({page}) => {
  await connectAndSurvey(page);
  await station(page, 'Parameters').click();
  const docket = page.getByRole('complementary', {name: 'Work order'});
  await page
    .getByRole('radio', {name: '96'})
    .or(page.getByRole('button', {name: '96', exact: true}))
    .first()
    .click();
  await expect(docket.getByText('PWM frequency 24 kHz → 96 kHz')).toBeVisible();
  await page.getByRole('button', {name: 'Undo'}).click();
  await expect(docket.getByText('PWM frequency 24 kHz → 48 kHz')).toBeVisible();
  await page.getByRole('button', {name: 'Redo'}).click();
  await expect(docket.getByText('PWM frequency 24 kHz → 96 kHz')).toBeVisible();
  await page.reload();
  await expect(docket.getByText('PWM frequency 24 kHz → 96 kHz')).toBeVisible();
});

test('a value out of range is told and not clamped', async ({page}) => {
  await connectAndSurvey(page);
  await station(page, 'Parameters').click();
  const row = page.locator('[data-parameter=startLow]');
  const field = row.getByRole('spinbutton');
  const type = async (value: string) => {
    await field.click();
    await field.press('Control+A');
    await field.pressSequentially(value);
    await field.press('Tab');
  };
  await type('1190');
  await expect(row.getByRole('alert')).toHaveText('Lowest start-up power goes from 1000 to 1125 µs; 1190 is outside.');
  await expect(field).toHaveValue('1190 µs');
  await type('1070');
  await expect(row.getByRole('alert')).toHaveCount(0);
  await expect(row.getByText('1060 → 1070 µs on all')).toBeVisible();
});

test('the service down or its catalogue altered: told with the reason, nothing taken over', async ({page}) => {
  await page.route('**/api/releases', async (route) => {
    const response = await route.fetch();
    await route.fulfill({response, body: (await response.text()).replace('withdrawn', 'steady')});
  });
  await page.goto('/craft/juniper/firmware');
  await expect(page.getByRole('alert')).toContainText('does not carry the signature of the release key');
  await page.unroute('**/api/releases');
  await page.route('**/api/releases', (route) => route.abort());
  await page.getByRole('button', {name: 'Load the releases again'}).click();
  await expect(page.getByRole('alert')).toContainText('It cannot be reached');
});

test('a flight log with a bad line says which', async ({page}) => {
  await page.goto('/craft/juniper/noise');
  const row = (i: number) => `${i * 500},30,1,2,3,4000`;
  const rows = Array.from({length: 1500}, (_, i) => (i === 700 ? '350000,30,oops,2,3,4000' : row(i)));
  const csv = ['time_us,throttle_pct,gyro_roll,gyro_pitch,gyro_yaw,erpm_1', ...rows].join('\n');
  await page
    .locator('input[type=file]')
    .setInputFiles({name: 'mine.csv', mimeType: 'text/csv', buffer: Buffer.from(csv)});
  await page.getByText('The log as it was read: 1 bad row').click();
  await expect(page.getByText('Line 702, gyro_roll: "oops" is not a number; the row was skipped.')).toBeVisible();
});

test('two tabs: only one holds the bench, the other says so', async ({context}) => {
  const [first, second] = [await context.newPage(), await context.newPage()];
  await connectAndSurvey(first);
  await second.goto('/craft/juniper/survey');
  await second.getByRole('button', {name: 'Connect the simulated bench'}).click();
  await expect(second.getByText('Another tab of Bidex is using the bench')).toBeVisible();
  await pickMishap(first, 'Pull the cable out');
  await expect(first.getByText('Bench unplugged')).toBeVisible();
  await second.getByRole('button', {name: 'Connect the simulated bench'}).click();
  await expect(second.getByText('Bench link, simulated')).toBeVisible();
});
