/** The Noise station: flights read, mapped, judged, filtered, searched, compared, and proven by a flight after the change. */
import {expect, test, type Page} from './test';
import {
  beginOrder,
  connectAndSurvey,
  docketOf,
  expectAccessible,
  finishOrder,
  holdUntil,
  pickMishap,
  station,
  watchErrors,
} from './support';

const view = (page: Page, name: string) =>
  page.getByRole('group', {name: 'What to look at'}).getByText(name, {exact: true});
const flown = (page: Page, n: number) =>
  expect(page.getByText(`simulated flight ${n}, 20 s at 2.0 kHz`)).toBeVisible({timeout: 60_000});

async function fly(page: Page, n: number): Promise<void> {
  await page.getByRole('button', {name: 'Fly the simulated craft'}).click();
  await flown(page, n);
}

/** Everything planned is written, the battery cycled, the replies proven. */
async function carryOut(page: Page): Promise<void> {
  const docket = docketOf(page);
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);
}

test('Juniper: the chain is proposed, planned, written, flown and proven quieter', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await station(page, 'Noise').click();
  await expect(page.getByText('14 poles fit this flight')).toBeVisible();
  await view(page, 'Filters and delay').click();
  // A first order without notches on the motors: the flight before.
  for (const order of ['1×', '2×', '3×']) await page.getByRole('group', {name: 'Harmonics'}).getByText(order).click();
  await carryOut(page);
  await fly(page, 1);
  await view(page, 'Best chain').click();
  await page.getByRole('button', {name: 'Search the best chain'}).click();
  await expect(page.getByRole('heading', {name: 'Proposed'})).toBeVisible({timeout: 90_000});
  await expect(page.locator('.reasons li')).toHaveCount(3);
  await expectAccessible(page, 'best chain');
  await page.getByRole('button', {name: 'Plan this chain'}).click();
  await expect(page.getByText('This is the plan')).toBeVisible();
  await expect(docketOf(page).getByText(/Motor-speed notches none → 1×/)).toBeVisible();
  // The battery stays on: nothing but the flight controller is written, and the propellers are still off.
  await beginOrder(page);
  await holdUntil(page, /Hold to prove the replies/, () =>
    expect(docketOf(page).getByText('Nothing to do').or(docketOf(page).getByText('carried out')).first()).toBeVisible({
      timeout: 40_000,
    }),
  );
  await fly(page, 2);
  await view(page, 'Flights compared').click();
  await page.getByRole('combobox', {name: 'against'}).click();
  await page.getByRole('option', {name: 'simulated flight 1'}).click();
  await expect(page.getByText('✓ Proven')).toBeVisible({timeout: 60_000});
  await expect(
    page.getByText(/simulated flight 2 against simulated flight 1: quieter by \d+\.\d ± \d\.\d dB at 1×/),
  ).toBeVisible();
  await expectAccessible(page, 'flights compared');
  await expect(station(page, 'Noise')).toContainText('quieter');
  await station(page, 'Sign-off').click();
  await expect(page.getByText('Quieter, by two flights')).toBeVisible();
  errors.expectNone();
});

test('Sorrel: the wrong pole count is found, cured by the order, and the next flight fits', async ({page}) => {
  await connectAndSurvey(page, 'Sorrel');
  await pickMishap(page, 'As fast as possible');
  await station(page, 'Noise').click();
  await expect(page.getByText('Logged with 14 poles, these motors have 12')).toBeVisible();
  await page.getByText('orders', {exact: true}).click();
  await expect(page.getByRole('img', {name: /Noise of gyro roll speed/})).toBeVisible();
  await expectAccessible(page, 'order map');
  await expect(docketOf(page).getByText('Motor poles')).toBeVisible();
  await carryOut(page);
  await fly(page, 1);
  await expect(page.getByText('12 poles fit this flight')).toBeVisible();
});

test('Alder: the bent bell of arm 5 is named, with its evidence', async ({page}) => {
  await page.goto('/craft/alder/noise');
  await expect(page.getByText('Bent bell or unbalanced propeller, motor 5')).toBeVisible();
  await expect(page.locator('tr.odd').filter({hasText: '5 ◆'})).toBeVisible();
  await expect(
    page.getByText(/Motor 5 shakes at its own speed with \d+\.\d ± \d+\.\d deg\/s, \d\.\d times/),
  ).toBeVisible();
});

test('a log of a foreign layout is mapped by hand, and the mapping remembered', async ({page}) => {
  const errors = watchErrors(page);
  await page.goto('/craft/bramble/noise');
  await expect(page.getByText('flight 7 (computed')).toBeVisible();
  const rows = Array.from(
    {length: 2000},
    (_, i) => `${(i * 0.5).toFixed(1).replace('.', ',')};${i % 7};${-(i % 5)};${i % 3};0,3`,
  ).join('\n');
  const drop = (name: string) =>
    page
      .locator('bx-noise input[type=file]')
      .setInputFiles({name, mimeType: 'text/csv', buffer: Buffer.from(`alpha;beta;gamma;delta;epsilon\n${rows}`)});
  await drop('strange.csv');
  await expect(page.getByRole('heading', {name: 'What the columns of strange.csv hold'})).toBeVisible();
  await expectAccessible(page, 'mapper');
  for (const [column, holds] of [
    ['beta', 'gyro roll'],
    ['gamma', 'gyro pitch'],
    ['delta', 'gyro yaw'],
    ['epsilon', 'throttle'],
  ] as const) {
    await page.getByRole('combobox', {name: `Column ${column} holds`}).click();
    await page.getByRole('option', {name: holds, exact: true}).click();
  }
  await page.getByRole('button', {name: 'Read the log this way'}).click();
  await expect(page.getByText('strange.csv, 1 s at 2.0 kHz, no motor speeds.')).toBeVisible();
  await expect(page.getByText('The log has no motor speeds.')).toBeVisible();
  await drop('again.csv');
  await expect(page.getByText('again.csv, 1 s at 2.0 kHz')).toBeVisible();
  errors.expectNone();
});

test('a broken log is told row by row: bad cells, a pause, another flight', async ({page}) => {
  await page.goto('/craft/bramble/noise');
  const row = (i: number) => {
    const t = i < 3000 ? i * 500 : i < 6000 ? i * 500 + 2_000_000 : (i - 6000) * 500;
    return i === 10 ? `${t},30,?,2,3,4000` : i === 20 ? `${t},30` : `${t},30,${i % 7},2,3,4000`;
  };
  const rows = Array.from({length: 7500}, (_, i) => row(i)).join('\n');
  const csv = `time_us,throttle_pct,gyro_roll,gyro_pitch,gyro_yaw,erpm_1\n${rows}`;
  await page
    .locator('bx-noise input[type=file]')
    .setInputFiles({name: 'worn.csv', mimeType: 'text/csv', buffer: Buffer.from(csv)});
  await page
    .getByText('The log as it was read: 2 bad rows, 2 short gaps filled, 2 stretches, 1 more flight in the file')
    .click();
  await expect(page.getByText('Line 12, gyro_roll: "?" is not a number; the row was skipped.')).toBeVisible();
  await expect(page.getByText('Line 22, gyro_roll: the cell is empty; the row was skipped.')).toBeVisible();
  await expect(page.getByText('At 1.50 s 4000 rows are missing; the flight is parted there.')).toBeVisible();
  await expect(
    page.getByText('Another flight begins at line 6002 with 1,500 rows; the longest is shown.'),
  ).toBeVisible();
});
