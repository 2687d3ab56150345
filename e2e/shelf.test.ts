/** The shelf, the inspector, and the ways a release service, a port and another tab can fail. */
import {mkdtempSync, writeFileSync} from 'node:fs';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import {expect, test, type Page} from './test';
import {writeIntelHex} from '@core/firmware/formats/intel-hex';
import {meridianImage} from '@simulator/firmware/meridian';
import {
  connectAndSurvey,
  drawAtOnce,
  drop,
  expectAccessible,
  pickMishap,
  setIn,
  setMishap,
  station,
  watchErrors,
} from './support';

const gneiss = {board: 'Gneiss 45', deadTimeNs: 45};
const inspector = (page: Page) => page.locator('bx-inspector');

test('releases are searched, laid open, and compared byte by byte', async ({page}) => {
  const errors = watchErrors(page);
  await page.goto('/shelf');
  await expect(page.getByText('26 images kept and checked here')).toBeVisible();
  await page.getByLabel('Search releases').fill('gneiss 4.2 heli-main');
  await expect(page.getByRole('heading', {name: 'Releases, 1 of 26'})).toBeVisible();
  await page.getByLabel('Search releases').fill('gneiss multirotor 4.2');
  await page.getByRole('button', {name: 'Meridian 4.2'}).click();
  await expect(inspector(page)).toContainText('gneiss45/m32/45ns');
  await expect(inspector(page)).toContainText('0x1000–0xB3FF');
  await inspector(page).getByRole('combobox').click();
  await page.getByRole('option', {name: 'Meridian 3.9, Gneiss 45'}).click();
  await expect(inspector(page)).toContainText(/bytes differ, in 17 pages/);
  await expect(page.getByRole('listbox')).toHaveCount(0);
  await expectAccessible(page, 'Shelf');
  errors.expectNone();
});

test('a file dropped anywhere is read and marked unsigned; a damaged one is told and not kept', async ({page}) => {
  await connectAndSurvey(page);
  await drop(page, 'mine.hex', writeIntelHex(meridianImage('4.1', gneiss)));
  await expect(inspector(page)).toContainText('own file, not signed');
  await expect(inspector(page)).toContainText('Meridian 4.1, multirotor');
  await expect(inspector(page).locator('.fits li')).toContainText(['all motors']);
  await drop(page, 'damaged.hex', ':0400000001020304F3\n');
  await expect(inspector(page).getByRole('alert')).toContainText('Checksum F3, computed F2');
  await drop(page, 'unknown.bin', 'raw');
  await expect(page.getByRole('alert').first()).toContainText('raw bytes do not say where they belong');
  await page.getByRole('button', {name: 'Open with this address'}).click();
  await expect(inspector(page)).toContainText('No identity block checks');
  await page.getByRole('link', {name: 'Fleet', exact: true}).click();
  await page.getByRole('link', {name: 'Juniper'}).click();
  await station(page, 'Firmware').click();
  await page.getByRole('radio', {name: /own file/}).click();
  await expect(page.getByText('A file of your own: it is not signed.').first()).toBeVisible();
});

test('a large file is read beside the screen, with progress', async ({page}) => {
  await page.goto('/shelf');
  await expect(page.getByText('26 images kept and checked here')).toBeVisible();
  const large = writeIntelHex({segments: [{start: 0x0800_0000, bytes: new Uint8Array(4 * 1024 * 1024).fill(0x5a)}]});
  await drawAtOnce(page);
  // Counted: what a person sees of the reading, frame by frame. A screen that is held up shows one figure, or none.
  await page.evaluate(() => {
    const seen = new Set<string>();
    const look = () => {
      const [text] = /Reading large\.hex, \d+ %/.exec(document.body.innerText) ?? [];
      if (text) seen.add(text);
      requestAnimationFrame(look);
    };
    look();
    Object.assign(window, {shownProgress: seen});
  });
  // By path: handing the bytes over would keep the page busy with the test's own work.
  const file = join(mkdtempSync(join(tmpdir(), 'bidex-e2e-')), 'large.hex');
  writeFileSync(file, large);
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByText(/Reading large\.hex, \d+ %/)).toBeVisible();
  await expect(inspector(page)).toContainText('0x08000000', {timeout: 60_000});
  const shown = await page.evaluate(
    () => (window as unknown as {shownProgress: ReadonlySet<string>}).shownProgress.size,
  );
  console.log(`${shown} figures of progress were shown while ${(large.length / 2 ** 20).toFixed(0)} MB were read.`);
  expect(shown).toBeGreaterThan(5);
});

const serviceMenu = /^Simulate a service fault/;

test('the service down, altered, gone back in time, or with wrong images: each has its true message', async ({
  page,
}) => {
  await page.goto('/shelf');
  await expect(page.getByText('26 images kept and checked here')).toBeVisible();
  for (const [mishap, message] of [
    ['Service is down', 'It answered with status 503. What was kept before can still be used.'],
    ['Catalogue altered on the way', 'The catalogue does not carry the signature of the release key. It was altered.'],
    ['Catalogue goes back in time', 'It sent a catalogue of 2025-06-01, older than the one kept here of 2026-11-09.'],
    ['Images altered on the way', 'It was altered or cut.'],
    ['Wrong image for a digest', 'It was altered or cut.'],
  ] as const) {
    await setIn(page, serviceMenu, {label: mishap, on: true});
    await page.getByRole('button', {name: 'Ask the service'}).click();
    await expect(page.getByRole('alert')).toContainText(message);
    await setIn(page, serviceMenu, {label: mishap, on: false});
  }
  await page.getByRole('button', {name: 'Ask the service'}).click();
  await expect(page.getByText('26 images kept and checked here')).toBeVisible();
  await expect(page.getByRole('alert')).toHaveCount(0);
});

test('an ESC is read out into a file that lies on the shelf as a backup', async ({page}) => {
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await station(page, 'Firmware').click();
  await page.getByRole('button', {name: 'Read it out into a file'}).click();
  await expect(page.getByText(/Juniper motor 3, Meridian 3\.7.* lies on the Shelf/)).toBeVisible();
  await page.getByRole('link', {name: 'Shelf'}).click();
  await expect(page.getByText('backup, not signed')).toBeVisible();
  await page.getByRole('button', {name: /^Juniper motor 3/}).click();
  await expect(inspector(page)).toContainText('Meridian 3.7, multirotor');
  const saved = page.waitForEvent('download');
  await inspector(page).getByRole('button', {name: 'Save as Intel HEX'}).click();
  expect((await saved).suggestedFilename()).toMatch(/^Juniper motor 3.*\.hex$/);
});

test('the port held by another program, and another tab that hands the bench over', async ({context}) => {
  const [first, second] = [await context.newPage(), await context.newPage()];
  await connectAndSurvey(first);
  await second.goto('/craft/juniper/survey');
  await second.getByRole('button', {name: 'Connect the simulated bench'}).click();
  await expect(second.getByText('Another tab of Bidex is using the bench.')).toBeVisible();
  await second.getByRole('button', {name: 'Take the bench over here'}).click();
  await expect(second.getByText('Bench link, simulated')).toBeVisible();
  await expect(first.getByText('Bench unplugged')).toBeVisible();
  await setMishap(second, 'Port held by another program', true);
  await pickMishap(second, 'Pull the cable out');
  await second.getByRole('button', {name: 'Connect the simulated bench'}).click();
  await expect(second.getByText('another program on this computer holds it')).toBeVisible();
  await setMishap(second, 'Port held by another program', false);
  await second.getByRole('button', {name: 'Connect the simulated bench'}).click();
  await expect(second.getByText('Bench link, simulated')).toBeVisible();
});
