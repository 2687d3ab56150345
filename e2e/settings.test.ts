/** Everything that a flight controller holds: seen, searched, and brought to newer firmware with an account of each. */
import {readFileSync} from 'node:fs';
import {expect, test} from './test';
import {
  beginOrder,
  connectAndSurvey,
  docketOf,
  expectAccessible,
  finishOrder,
  station,
  updateBramblesController,
  watchErrors,
} from './support';

test('Bramble: 150 settings of Plumb 2.0 are on 2.2, in its places, units and words, each accounted for', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page, 'Bramble');
  await station(page, 'Parameters').click();
  await page.getByRole('group', {name: 'Parameters of'}).getByText('Flight controller').click();
  const held = page.locator('bx-held-settings');
  await expect(held.getByRole('heading', {name: /by the account of Plumb 2\.0/})).toBeVisible();
  await held.getByRole('button', {name: 'Not default, 8'}).click();
  await expect(held.getByRole('row', {name: /roll centre/})).toContainText('24 × 10 deg/s');

  await updateBramblesController(page);
  await expect(held.getByRole('heading', {name: /by the account of Plumb 2\.2/})).toBeVisible();
  const row = (name: string) => held.getByRole('row', {name: new RegExp(`^${name} `)});
  await expect(row('roll centre')).toContainText('240 deg/s');
  await expect(row('yaw highest')).toContainText('420 deg/s');
  await expect(row('lowest v')).toContainText('3.4 V');
  await expect(row('smoothing hz')).toContainText('45 Hz');
  await expect(row('feed smoothing hz')).toContainText('45 Hz');
  await expect(row('quirk 7')).toContainText('7');
  await expect(row('name')).toContainText('"Bramble"');

  await held.getByRole('button', {name: /^Not default, /}).click();
  // What the update did is told from the snapshot that the order kept.
  await held.getByRole('button', {name: /^Changed by the update, /}).click();
  await held.getByRole('button', {name: 'roll centre', exact: true}).click();
  await expect(held.getByText('24 in 2.0. The same in other units.')).toBeVisible();
  await held.getByRole('button', {name: /^Changed by the update, /}).click();
  await held.getByLabel('Search settings').fill('video bands');
  await held.getByRole('button', {name: 'bands', exact: true}).click();
  await expect(
    held.getByText('Bands of the video transmitter, with the frequencies of their channels, MHz.'),
  ).toBeVisible();
  await expect(held.getByRole('cell', {name: '"5620 5660 5700 5740"', exact: true})).toBeVisible();
  await expectAccessible(page, 'held settings');

  await page.getByRole('link', {name: 'Logbook'}).click();
  await page.getByRole('button', {name: 'Journal'}).click();
  await expect(page.getByText(/150 settings accounted for: .* 3 gone \(gains\.loop_kind, /)).toBeVisible();
  errors.expectNone();
});

test('settings of Juniper are planned by field, default and section, set by the order, and proven', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await station(page, 'Parameters').click();
  await page.getByRole('group', {name: 'Parameters of'}).getByText('Flight controller').click();
  const held = page.locator('bx-held-settings');
  const row = (name: string) => held.getByRole('row', {name: new RegExp(`^\\S* ?${name} `)});
  const search = held.getByLabel('Search settings');

  // A number that it does not take stays where it was typed, with the reason, and out of the plan.
  await search.fill('rates roll');
  await held.getByRole('button', {name: 'roll centre', exact: true}).click();
  const field = held.getByRole('spinbutton', {name: 'Plan of roll centre'});
  const type = async (text: string) => {
    await field.click();
    await field.press('Control+a');
    await field.pressSequentially(text);
    await field.press('Tab');
  };
  await type('3');
  await expect(held.getByText('3 is not a number from 10 to 1000 in steps of 5, deg/s.')).toBeVisible();
  await expect(row('roll centre')).toContainText('not planned');
  await type('250');
  await expect(row('roll centre')).toContainText('250 deg/s');
  await expect(row('roll centre')).toContainText('differs');
  const rates = page.locator('bx-turn-rates');
  await expect(rates.getByText('0.40 → 0.50 deg/s')).toBeVisible();
  await expect(rates.getByRole('img', {name: 'Roll over the stick, to 720 deg/s at its end'})).toBeVisible();
  await held.getByRole('button', {name: 'roll centre', exact: true}).click();

  // Places of the overlay are drawn, and moved by a cell.
  await search.fill('overlay elements');
  await held.getByRole('button', {name: 'elements', exact: true}).click();
  const place = held.getByRole('button', {name: /^cell voltage, column 13 of 60, row \d+ of 22; drag it/});
  await place.focus();
  await page.keyboard.press('ArrowRight');
  await expect(
    held.getByRole('button', {name: /^cell voltage, column 14 of 60, row \d+ of 22; drag it/}),
  ).toBeFocused();
  await expect(row('elements')).toContainText('differs');
  await expectAccessible(page, 'the map of places');
  await held.getByRole('button', {name: 'Not planned', exact: true}).click();
  await expect(row('elements')).toContainText('not planned');

  // A section as it was found; a line of it at its default; a choice of few.
  await search.fill('video');
  await held.getByRole('button', {name: 'Plan what was found: Video'}).click();
  await held.getByRole('button', {name: 'power', exact: true}).click();
  await held.getByRole('button', {name: 'Plan the default', exact: true}).click();
  await expect(row('power')).toContainText('differs');
  await held.getByRole('button', {name: 'power', exact: true}).click();

  // A table: one row more, one field of it changed.
  await held.getByRole('button', {name: 'powers', exact: true}).click();
  await held.getByRole('button', {name: 'Add a row'}).click();
  await held
    .getByRole('textbox', {name: /^Plan of powers, row \d+, label$/})
    .last()
    .fill('max');
  await held
    .getByRole('textbox', {name: /^Plan of powers, row \d+, label$/})
    .last()
    .press('Tab');
  await expect(row('powers')).toContainText('differs');
  await search.fill('');
  await held.getByRole('button', {name: 'Differs from plan, 3'}).click();
  await expect(held.getByRole('rowheader')).toHaveText([/roll centre/, /power\s*$/, /powers/]);
  await expectAccessible(page, 'planned settings');

  const docket = docketOf(page);
  await expect(docket.getByText('Set 3 other settings of the flight controller')).toBeVisible();
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);
  await expect(held.getByRole('button', {name: 'Differs from plan, 0'})).toBeVisible();
  await held.getByRole('button', {name: 'Differs from plan, 0'}).click();
  await expect(row('roll centre')).toContainText('as planned');
  await expect(row('powers')).toContainText('as planned');
  await expect(docket.getByText('Set 3 other settings')).toBeHidden();

  errors.expectNone();
});

test('of a pasted block only the ticked lines are planned; a section alone goes out as a file', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await station(page, 'Parameters').click();
  await page.getByRole('group', {name: 'Parameters of'}).getByText('Flight controller').click();
  const text = page.locator('bx-controller-text');
  await text.getByRole('button', {name: 'Paste lines'}).click();
  const field = text.getByRole('textbox', {name: 'Lines of another controller text'});
  const read = text.getByRole('button', {name: 'Read these lines'});
  await field.fill('[gains\nroll_p = 60');
  await read.click();
  await expect(text.getByText(/It is not valid TOML/)).toBeVisible();
  await field.fill('[gains]\nroll_p = 60\nroll_i = 9000\nnobody = 3\n\n[rates]\nroll_centre = 300\nyaw_curve = 12\n');
  await read.click();
  const row = (name: string) => text.getByRole('row', {name: new RegExp(`^${name} `)});
  await expect(row('roll_i')).toContainText('9000 is not a whole number');
  await expect(row('nobody')).toContainText('3, unknown to this firmware');
  await expect(row('roll_i').getByRole('checkbox')).toHaveCount(0);
  await row('roll_centre').getByRole('checkbox').check();
  await row('roll_p').getByRole('checkbox').check();
  await expectAccessible(page, 'pasted lines');
  await text.getByRole('button', {name: 'Plan 2 lines'}).click();

  const held = page.locator('bx-held-settings');
  await held.getByRole('button', {name: 'Differs from plan, 2'}).click();
  await expect(held.getByRole('row', {name: /roll centre/})).toContainText('300 deg/s');
  await expect(page.locator('bx-gains').getByRole('row', {name: /^Roll/})).toContainText('48 → 60');
  await expect(docketOf(page).getByText('Set 2 other settings of the flight controller')).toBeVisible();

  await text.getByLabel('Save as a file').click();
  await page.getByRole('option', {name: 'section rates'}).click();
  const saved = page.waitForEvent('download');
  await text.getByRole('button', {name: 'Save the plan'}).click();
  const file = await saved;
  expect(file.suggestedFilename()).toBe('juniper-controller-plan-rates.toml');
  const content = readFileSync(await file.path(), 'utf8');
  expect(content).toContain('roll_centre = 300');
  expect(content).not.toContain('[gains]');
  errors.expectNone();
});
