/** Files dropped on the page: each is looked into and opened at its station, several at once in their order, none is lost. */
import {expect} from '@playwright/test';
import {strToU8, zipSync} from 'fflate';
import {meridianImage} from '@simulator/firmware/meridian';
import {writeIntelHex} from '@core/firmware/formats/intel-hex';
import {dropAll, expectAccessible} from './support';
import {test} from './test';

const rows = (n: number, row: (i: number) => string) => Array.from({length: n}, (_, i) => row(i)).join('\n');
const flight = `time_ms,gyroX,gyroY,gyroZ,throttle\n${rows(2000, (i) => `${i * 0.5},${i % 7},${-(i % 5)},${i % 3},0.3`)}`;
const image = (version: string) => writeIntelHex(meridianImage(version, {board: 'Gneiss 45', deadTimeNs: 45}));
const dump = '$timescale 1 ns $end\n$var wire 1 ! m1 $end\n$enddefinitions $end\n#0\n1!\n#900\n0!\n#2000\n1!\n';

test('several files at once: images in their order, a log and a capture at their stations', async ({page}) => {
  await page.goto('/craft/juniper/noise');
  await expect(page.getByText('(computed').first()).toBeVisible();
  await dropAll(page, [
    ['flown.csv', flight],
    ['first.hex', image('4.1')],
    ['wires.vcd', dump],
    ['second.hex', image('4.2')],
    ['again.csv', flight.replace('time_ms', 'time_ms ')],
  ]);
  await expect(page.getByText('again.csv, 1 s at 2.0 kHz')).toBeVisible();
  await expect(page.getByText('first.hex is an image and has not been opened yet.')).toBeVisible();
  // Each of the others has its line above, which moves everything below.
  await expect(page.getByText('has not been opened yet')).toHaveCount(3);
  await page.getByRole('combobox', {name: 'Flight', exact: true}).click();
  const option = page.getByRole('option', {name: /flown.csv/});
  await expect(option).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(option).toHaveCount(0);
  await expectAccessible(page, 'dropped files');
  await page.getByText('wires.vcd').locator('..').getByRole('button', {name: 'Open it'}).click();
  await expect(page.getByRole('heading', {name: 'Wires of wires.vcd'})).toBeVisible();
  await page.getByText('first.hex').locator('..').getByRole('button', {name: 'Open it'}).click();
  for (const name of ['first.hex', 'second.hex']) await expect(page.getByText(name).first()).toBeVisible();
  await expect(page.getByText('has not been opened yet')).toHaveCount(0);
});

test('an archive is opened by what lies in it, dropped anywhere or picked on the Shelf', async ({page}) => {
  await page.goto('/craft/juniper/noise');
  await expect(page.getByRole('heading', {name: 'Noise', level: 1})).toBeVisible();
  const zip = zipSync({
    'builds/old.hex': strToU8(image('3.9')),
    'log/flown.csv': strToU8(flight),
    'readme.txt': strToU8('Dear all, the craft flies.'),
  });
  await dropAll(page, [['shared.zip', [...zip]]]);
  await expect(page.getByText('old.hex').first()).toBeVisible();
  // The log was opened at the station that was in view; nothing is said of the letter.
  await page.goBack();
  await expect(page.getByText('flown.csv, 1 s at 2.0 kHz')).toBeVisible();
  await page.goto('/shelf');
  await page.getByLabel('Open a file').setInputFiles([
    {name: 'two.zip', mimeType: 'application/zip', buffer: Buffer.from(zipSync({'a/new.hex': strToU8(image('4.2'))}))},
    {name: 'letters.zip', mimeType: 'application/zip', buffer: Buffer.from(zipSync({'a.txt': strToU8('Dear all')}))},
  ]);
  await expect(page.getByText('new.hex').first()).toBeVisible();
  await expect(page.getByText('There is no firmware image in this archive.')).toBeVisible();
});

test('what fits two kinds is asked, without a craft in hand of which craft, and a letter is refused', async ({
  page,
}) => {
  await page.goto('/');
  await expect(page.getByRole('heading', {name: 'Fleet'})).toBeVisible();
  await dropAll(page, [
    ['letter.txt', 'Dear all, the craft flies.'],
    ['strange.csv', `a,b,c,d,e\n${rows(2000, (i) => `${i / 2},${(i * 3) % 11},${i % 5},${i % 3},0.3`)}`],
    ['kept.toml', '[motors]\nprotocol = "dshot300"\n'],
  ]);
  await expect(page.getByRole('alert').getByText('Nothing in it is one of the formats')).toBeVisible();
  await page.getByRole('button', {name: 'Close'}).click();
  const question = page.locator('bx-dropped-files');
  await expect(question.getByText('What is it, and of which craft?')).toBeVisible();
  await question.getByRole('combobox').click();
  await page.getByRole('option', {name: 'Sorrel'}).click();
  await question.getByRole('button', {name: 'Open as flight log'}).click();
  await expect(page).toHaveURL(/\/craft\/sorrel\/noise/);
  await expect(page.getByRole('heading', {name: 'What the columns of strange.csv hold'})).toBeVisible();
  // The craft that is open now is at hand, and the file before was asked about without one.
  await question.getByRole('button', {name: 'Open as controller text'}).click();
  await page.getByText('kept.toml').first().waitFor();
});

test('a trace and a melody on the Spin station, shown and not taken for what this craft did', async ({page}) => {
  await page.goto('/craft/juniper/spin');
  await expect(page.getByRole('heading', {name: 'Spin'})).toBeVisible();
  const trace = `time_s,volts,throttle_1,rpm_1\n${rows(400, (i) => `${(i / 100).toFixed(2)},24,${i < 100 ? 0 : 20},${i < 100 ? 0 : 9000}`)}`;
  await dropAll(page, [
    ['bench.csv', trace],
    ['rise.txt', 'rise:d=8,o=5,b=180:c,e,g,4c6'],
  ]);
  await expect(page.getByText('bench.csv, a file with 100 rows a second. It was not measured here')).toBeVisible();
  await page.getByText('rise.txt').locator('..').getByRole('button', {name: 'Open it'}).click();
  await page.getByRole('button', {name: 'Plan this melody'}).click();
  await expect(page.getByLabel('RTTTL: name, defaults, notes')).toHaveValue(/^rise:/);
});
