/** What a hand can do wrong: fingers, keys, second tabs, refusing browsers, services that answer anything. */
import {expect, test, type Page} from './test';
import {
  beginOrder,
  armMishap,
  connectAndSurvey,
  docketOf,
  finishOrder,
  holdUntil,
  pickMishap,
  station,
  watchErrors,
} from './support';

const turning = (page: Page) =>
  page.evaluate(async () => (await window.bidexSimulator!.look()).filter((m) => m.turning).length);

async function readyToSpin(page: Page): Promise<void> {
  await connectAndSurvey(page);
  await page.getByRole('button', {name: 'Propellers are off'}).first().click();
  await station(page, 'Spin').click();
}

test('a finger that stays down does not start the motor again after a battery cycle', async ({page}) => {
  await readyToSpin(page);
  const button = page.getByRole('button', {name: 'Hold to turn output 1'});
  await expect(button).toBeEnabled();
  const box = (await button.boundingBox())!;
  const fingers = await page.context().newCDPSession(page);
  await fingers.send('Emulation.setTouchEmulationEnabled', {enabled: true});
  const at = {x: box.x + 40, y: box.y + 20};
  await fingers.send('Input.dispatchTouchEvent', {type: 'touchStart', touchPoints: [at]});
  await expect.poll(() => turning(page)).toBe(1);
  await page.evaluate(() => window.bidexSimulator!.setBattery(false));
  await expect(page.getByText('not confirmed').first()).toBeHidden();
  await expect(page.getByText('no battery')).toBeVisible();
  await page.evaluate(() => window.bidexSimulator!.setBattery(true));
  await expect(page.getByText('not confirmed').first()).toBeVisible();
  // It runs out without power, and then nothing starts it again.
  await expect.poll(() => turning(page)).toBe(0);
  for (let i = 0; i < 10; i++) {
    await page.waitForTimeout(150);
    expect(await turning(page)).toBe(0);
  }
  await expect(page.getByText('The hold has ended and the motors stop.')).toBeVisible();
  // A second finger on the same button begins nothing either.
  await fingers.send('Input.dispatchTouchEvent', {type: 'touchStart', touchPoints: [at, {x: at.x + 60, y: at.y}]});
  await page.waitForTimeout(400);
  expect(await turning(page)).toBe(0);
  await fingers.send('Input.dispatchTouchEvent', {type: 'touchEnd', touchPoints: []});
  await fingers.detach();
});

/** Holds the first output until it turns, does `stop`, and looks that it stays stopped. */
async function stopsBy(page: Page, stop: () => Promise<void>): Promise<void> {
  await holdUntil(page, /Hold to turn output 1/, async () => {
    await expect.poll(() => turning(page)).toBe(1);
    await stop();
    await expect.poll(() => turning(page)).toBe(0);
    await page.waitForTimeout(600);
    expect(await turning(page)).toBe(0);
  });
}

test('Space and Escape stop a held motor, whatever else is pressed', async ({page}) => {
  await readyToSpin(page);
  for (const key of ['Space', 'Shift+Space', 'Control+Space', 'Alt+Space', 'Meta+Space', 'Escape', 'Shift+Escape'])
    await stopsBy(page, () => page.keyboard.press(key));
});

test('the stop control works from every focus: a field, an open select, a menu, a dialog, while dragging', async ({
  page,
}) => {
  await readyToSpin(page);
  await page.evaluate(() => {
    const dialog = document.createElement('dialog');
    dialog.innerHTML =
      '<input id="text" value="a"><select id="choice"><option>a</option></select><i draggable="true">x</i>';
    document.body.append(dialog);
    dialog.showModal();
    // A dialog that keeps its keys to itself.
    dialog.addEventListener('keydown', (event) => event.stopPropagation());
  });
  const focus = (selector: string) => () =>
    page.evaluate((s) => document.querySelector<HTMLElement>(s)!.focus(), selector);
  const open = (name: string) => () =>
    page.evaluate(
      (n) => [...document.querySelectorAll('button')].find((b) => b.textContent.trim() === n)!.click(),
      name,
    );
  await page.evaluate(() => document.querySelector('dialog')!.close());
  for (const show of [true, false])
    for (const there of [focus('#text'), focus('#choice'), open('Simulate a fault')])
      await stopsBy(page, async () => {
        if (show) await page.evaluate(() => document.querySelector('dialog')!.showModal());
        else await page.evaluate(() => document.querySelector('dialog')!.show());
        await there();
        await page.keyboard.press('Space');
        await page.evaluate(() => document.querySelector('dialog')!.close());
      });
  await stopsBy(page, async () => {
    await page.evaluate(() =>
      document
        .querySelector('i[draggable]')!
        .dispatchEvent(new DragEvent('dragstart', {bubbles: true, dataTransfer: new DataTransfer()})),
    );
    await page.keyboard.press('Space');
  });
});

test('a page that is hidden, and a window without focus, end the hold', async ({page}) => {
  await readyToSpin(page);
  await holdUntil(page, /Hold to turn output 1/, async () => {
    await expect.poll(() => turning(page)).toBe(1);
    await page.evaluate(() => window.dispatchEvent(new Event('blur')));
    await expect.poll(() => turning(page)).toBe(0);
  });
  await holdUntil(page, /Hold to turn output 1/, async () => {
    await expect.poll(() => turning(page)).toBe(1);
    await page.evaluate(() => {
      Object.defineProperty(document, 'visibilityState', {value: 'hidden', configurable: true});
      document.dispatchEvent(new Event('visibilitychange'));
    });
    // What the stand-in is commanded to do, looked at every few ms: it must be nothing within 250 ms.
    const stoppedMs = await page.evaluate(async () => {
      const from = performance.now();
      while ((await window.bidexSimulator!.look()).some((o) => o.throttle > 0)) {
        if (performance.now() - from > 2000) break;
        await new Promise((resolve) => setTimeout(resolve, 5));
      }
      return performance.now() - from;
    });
    expect(stoppedMs).toBeLessThan(250);
    await expect.poll(() => turning(page)).toBe(0);
    await expect(page.getByText('The page was hidden')).toBeVisible();
  });
});

test('a backup that is brought in by a second tab is refused while an order runs, and the order goes on', async ({
  context,
  page,
}) => {
  await connectAndSurvey(page);
  await page.getByRole('button', {name: 'Propellers are off'}).first().click();
  const other = await context.newPage();
  await other.goto('/');
  const download = other.waitForEvent('download');
  await other.getByRole('button', {name: 'Save a backup'}).click();
  await other.getByRole('button', {name: 'Save the file'}).click();
  const zip = await (await download).path();
  // The order waits for a hand at the battery: it runs for as long as this takes.
  await pickMishap(page, 'As fast as possible');
  await beginOrder(page);
  await expect(docketOf(page).getByRole('button', {name: 'Take the simulated battery off'})).toBeVisible();
  await other.locator('input[type=file][accept=".zip"]').setInputFiles(zip);
  await other.getByRole('button', {name: 'Put it in place'}).click();
  await expect(other.getByText('Another tab of Bidex is using the bench and may write to it.')).toBeVisible();
  await finishOrder(page);
  await page.getByRole('link', {name: 'Logbook'}).click();
  await expect(page.getByText('Write Meridian 4.2').first()).toBeVisible();
});

test('resume shows what someone changed meanwhile, and overwrites it only when told to', async ({page}) => {
  await connectAndSurvey(page);
  const docket = docketOf(page);
  await page.getByRole('button', {name: 'Propellers are off'}).first().click();
  await pickMishap(page, 'As fast as possible');
  await armMishap(page, {what: 'cable-out', output: 1, pages: 5});
  await beginOrder(page);
  await expect(docket.getByText('Stopped, not lost')).toBeVisible();
  await docket.getByRole('button', {name: 'Connect the simulated bench'}).click();
  await expect(docket.getByRole('button', {name: 'Resume work order'})).toBeVisible();
  await pickMishap(page, 'Another program changes its settings');
  const settings = () => page.evaluate(async () => [...(await window.bidexSimulator!.flash(1)).slice(0xf800, 0xfc00)]);
  const meddled = await settings();
  await docket.getByRole('button', {name: 'Resume work order'}).click();
  const changes = docket.getByRole('list', {name: 'Changed meanwhile'});
  await expect(changes).toContainText('motor 2 holds tone loudness 110 of 255 → 30 of 255');
  expect(await settings()).toEqual(meddled);
  await docket.getByRole('button', {name: 'Keep a snapshot, overwrite, go on'}).click();
  await finishOrder(page);
  expect(await settings()).not.toEqual(meddled);
  await page.getByRole('link', {name: 'Logbook'}).click();
  await expect(page.getByText(/before going on with/).first()).toBeVisible();
});

test('two tabs edit at the same moment: neither edit is lost', async ({context, page}) => {
  const other = await context.newPage();
  for (const tab of [page, other]) {
    await tab.goto('/craft/juniper/craft');
    await expect(tab.getByLabel('Kind')).toHaveValue('5-inch quad');
  }
  await page.getByLabel('Kind').fill('orchard quad');
  await other.getByLabel('Name').fill('Juniper of the slope');
  await Promise.all([page.keyboard.press('Tab'), other.keyboard.press('Tab')]);
  for (const tab of [page, other]) {
    await expect(tab.getByLabel('Kind')).toHaveValue('orchard quad');
    await expect(tab.getByLabel('Name')).toHaveValue('Juniper of the slope');
  }
});

test('a browser that keeps nothing leaves a working page and says what helps', async ({page}) => {
  const errors = watchErrors(page);
  await page.addInitScript(() => {
    const refuse = () => {
      throw new DOMException('The operation is insecure.', 'SecurityError');
    };
    Object.defineProperty(window, 'localStorage', {get: refuse});
    IDBFactory.prototype.open = refuse;
  });
  await page.goto('/');
  await expect(page.getByRole('alert')).toContainText('Your craft could not be read');
  await expect(page.getByRole('link', {name: 'Juniper'})).toHaveCount(0);
  await page.getByRole('button', {name: 'Try the demo craft, keep nothing'}).click();
  await page.getByRole('button', {name: 'Connect the simulated bench of Juniper'}).click();
  await expect(page.getByText('What stands out')).toBeVisible();
  await expect(page.getByRole('alert').first()).toContainText('what you do here lasts until this tab closes');
  await expect(page.getByRole('alert').first()).toContainText('allow site data for this address');
  for (const name of ['Craft', 'Firmware', 'Parameters', 'Spin', 'Signal', 'Noise', 'Sign-off']) {
    await station(page, name).click();
    await expect(page.getByRole('heading', {level: 1})).toHaveText(name);
  }
  // The remedy it names works: what is in hand goes into a file.
  await page.getByRole('link', {name: 'Bidex, fleet'}).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', {name: 'Save a backup'}).click();
  await expect(page.getByText(/It holds 4 craft/)).toBeVisible();
  await page.getByRole('button', {name: /^Save (the file|it without them)$/}).click();
  expect((await download).suggestedFilename()).toMatch(/^bidex .*\.zip$/);
  errors.expectNone();
});

for (const [what, body, contentType, words] of [
  [
    'a log-in page',
    '<html><body>Sign in</body></html>',
    'text/html',
    'something that is not a catalogue (text/html, 33 characters)',
  ],
  ['nothing', '', 'application/json', 'It answered with nothing.'],
  [
    'a cut answer',
    '{"catalogue": "{',
    'application/json',
    'something that is not a catalogue (application/json, 16 characters)',
  ],
] as const)
  test(`a release service that answers with ${what}: told, and the kept releases stay`, async ({page}) => {
    await page.goto('/shelf');
    await expect(page.getByText('Meridian 4.2').first()).toBeVisible();
    await page.route('**/api/releases', (route) => route.fulfill({body, contentType}));
    await page.reload();
    await expect(page.getByText(words)).toBeVisible();
    await expect(page.getByText('Meridian 4.2').first()).toBeVisible();
  });

test('a craft whose flights nobody has looked at says nothing about its filters', async ({page}) => {
  await page.goto('/craft/sorrel/sign-off');
  await expect(page.getByText('The planned filters have not been compared with a flight of this craft.')).toBeVisible();
});

test('a flight log is kept with the craft it was opened on', async ({page}) => {
  const rows = Array.from({length: 2100}, (_, i) => `${i * 500},30,${(i % 5) - 2},1,-1,${4000 + i}`).join('\n');
  const csv = `time_us,throttle_pct,gyro_roll,gyro_pitch,gyro_yaw,erpm_1\n${rows}`;
  await page.goto('/craft/bramble/noise');
  await page
    .locator('input[type=file][accept*=csv]')
    .setInputFiles({name: 'hover over the slope.csv', mimeType: 'text/csv', buffer: Buffer.from(csv)});
  await expect(page.getByText('hover over the slope.csv, 1 s at 2.0 kHz')).toBeVisible();
  await page.reload();
  await expect(page.getByText('hover over the slope.csv, 1 s at 2.0 kHz')).toBeVisible();
  await page.goto('/craft/sorrel/noise');
  await expect(page.getByText('flight 31 (computed for the demo)')).toBeVisible();
});
