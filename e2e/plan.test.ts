/** Plans: odd ones found and fixed, wanted differences silent, snapshots restored, a conflict before writing, two tabs. */
import {expect, test, type Locator, type Page} from './test';
import {
  beginOrder,
  connectAndSurvey,
  docketOf,
  expectAccessible,
  finishOrder,
  pickMishap,
  station,
  watchErrors,
} from './support';

const line = (page: Page, key: string) => page.locator(`[data-parameter=${key}]`);
const open = (page: Page, key: string) => line(page, key).locator('.name').click();
/** Types a number as a hand does. */
async function typeOver(page: Page, field: Locator, text: string): Promise<void> {
  await field.click();
  await page.keyboard.press('Control+a');
  await field.pressSequentially(text);
  await page.keyboard.press('Tab');
}
const carryOut = (page: Page) => beginOrder(page);

test('an odd one out is found and fixed; differences that are wanted stay silent', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await expect(
    page.getByText('Active braking, motor 3: off → on. In flight: that arm dips at every throttle cut.'),
  ).toBeVisible();
  await station(page, 'Parameters').click();
  await page.getByRole('button', {name: 'Copy what the ESCs have into the plan'}).click();
  // What is found is the plan now: the differences between the motors are wanted, and nothing is said of them.
  await expect(line(page, 'activeBraking')).toContainText('differs per motor, as planned');
  await expect(line(page, 'timing')).toContainText('differs per motor, as planned');
  await expect(line(page, 'throttleMin')).toContainText('spread of 7 µs is expected');
  await expect(page.getByRole('button', {name: 'Only what differs, 0'})).toBeVisible();
  await expect(docketOf(page).getByText('Write Meridian 3.9')).toBeVisible();
  await docketOf(page).getByRole('button', {name: 'Skip: Writing firmware'}).click();
  await expect(docketOf(page).getByText('Writing firmware stays open.')).toBeVisible();
  await open(page, 'activeBraking');
  await line(page, 'activeBraking').getByRole('button', {name: 'on of motors 1, 2 and 4 for all'}).click();
  await expect(line(page, 'activeBraking')).toContainText('motor 3: off');
  await expect(line(page, 'activeBraking')).toContainText('In flight: that arm dips at every throttle cut.');
  await expectAccessible(page, 'Parameters with an open line');
  await expect(docketOf(page).getByText('Active braking off → on')).toBeVisible();
  await carryOut(page);
  await expect(docketOf(page).getByText('carried out')).toBeVisible();
  await expect(line(page, 'activeBraking')).toContainText('all as planned');
  await expect(line(page, 'timing')).toContainText('differs per motor, as planned');
  await station(page, 'Survey').click();
  await expect(page.getByText('In flight:')).toHaveCount(0);
  errors.expectNone();
});

test('values on some motors, a dangerous plan refused, physics beside the line, all by keyboard', async ({page}) => {
  await connectAndSurvey(page);
  await station(page, 'Parameters').click();
  await line(page, 'rotation').locator('.name').focus();
  await page.keyboard.press('ArrowDown');
  await expect(line(page, 'timing').locator('.name')).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(line(page, 'timing').getByText('Margin on a hard step')).toBeVisible();
  await expect(line(page, 'timing').locator('canvas')).toBeVisible();
  await line(page, 'timing').getByRole('button', {name: 'Motor 2', exact: true}).click();
  await line(page, 'timing').getByRole('combobox', {name: 'Timing advance, motor 2'}).click();
  await page.getByRole('option', {name: '30', exact: true}).click();
  await expect(line(page, 'timing')).toContainText('22.5 30 22.5 22.5');
  await expect(docketOf(page).getByText('Timing advance 22.5° → 30°')).toBeVisible();
  const lowest = page.getByRole('spinbutton', {name: 'Lowest start-up power'});
  await typeOver(page, lowest, '1125');
  const highest = page.getByRole('spinbutton', {name: 'Highest start-up power'});
  await typeOver(page, highest, '1100');
  await expect(line(page, 'startHigh')).toContainText(
    'Refused, all motors. Lowest start-up power 1125 µs is not under',
  );
  await expect(docketOf(page).getByText('Plan the highest start-up power above the lowest')).toBeVisible();
  await expect(docketOf(page).getByRole('button', {name: 'Carry out work order'})).toHaveCount(0);
  await page.getByRole('button', {name: 'Undo'}).click();
  await page.getByRole('button', {name: 'Undo'}).click();
  await expect(line(page, 'startHigh')).not.toContainText('Refused');
  await page.getByRole('button', {name: /Sounds/}).click();
  await expect(line(page, 'toneLoudness')).toHaveCount(0);
});

test('PWM frequency of Sorrel: 24, 48 and 96 kHz in their order, beside a line that the image decides', async ({
  page,
}) => {
  await connectAndSurvey(page, 'Sorrel');
  await station(page, 'Parameters').click();
  await open(page, 'pwm');
  const flight = line(page, 'pwm').getByRole('row', {name: /^Flight time/});
  const texts = await flight.locator('td').allTextContents();
  const [found, planned] = texts.slice(1).map((t) => parseFloat(t)) as [number, number];
  expect(found).toBeLessThan(planned);
  await expect(line(page, 'pwm')).toContainText('all motors: 24 → 48 kHz, with the image');
  await expect(line(page, 'pwm').getByRole('columnheader')).toContainText([/What it does/, /24 kHz/, /48 kHz/]);
});

test('a snapshot of layout 5 is planned and carried out on layout 8, with its report', async ({page}) => {
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await page.getByRole('link', {name: 'Logbook'}).click();
  await page.getByLabel('Name of the snapshot').fill('old firmware');
  await page.getByRole('button', {name: 'Keep what was found as a snapshot'}).click();
  await docketOf(page).getByRole('button', {name: 'Propellers are off'}).click();
  await carryOut(page);
  await finishOrder(page);
  await page.getByRole('button', {name: 'Compare old firmware'}).click();
  const comparison = page.getByRole('region', {name: 'Comparison of old firmware'});
  await expect(comparison.getByText(/Layout 5 → 8: brake strength, lowest start-up power, .* move;/)).toBeVisible();
  await expect(comparison.getByRole('row', {name: /^Active braking/})).toContainText('off → on');
  await comparison.getByRole('button', {name: 'Plan all its values'}).click();
  await docketOf(page).getByRole('button', {name: 'Skip: Proving the replies'}).click();
  await expect(docketOf(page).getByText('Active braking on → off')).toBeVisible();
  await carryOut(page);
  await expect(docketOf(page).getByText('carried out')).toBeVisible();
  await expect(comparison.getByRole('row', {name: /^Active braking/})).toHaveCount(0);
  await expect(comparison.getByRole('row', {name: /^PWM frequency/})).toHaveCount(0);
});

test('a conflict before writing: someone changed a setting meanwhile', async ({page}) => {
  await connectAndSurvey(page);
  await pickMishap(page, 'As fast as possible');
  await docketOf(page).getByRole('button', {name: 'Propellers are off'}).click();
  const flash = () => page.evaluate(async () => [...(await window.bidexSimulator!.flash(1))]);
  await pickMishap(page, 'Another program changes its settings');
  const before = await flash();
  await carryOut(page);
  await expect(docketOf(page).getByText('motor 2 holds tone loudness 110 of 255 → 30 of 255').first()).toBeVisible();
  expect(await flash()).toEqual(before);
  await docketOf(page).getByRole('button', {name: 'Look at the new order'}).click();
  await expect(docketOf(page).getByText('Tone loudness 30 of 255 → 110 of 255')).toBeVisible();
  await expect(docketOf(page).getByRole('button', {name: 'Carry out work order'})).toBeEnabled();
});

test('two tabs agree on the plan', async ({context, page}) => {
  await page.goto('/craft/juniper/craft');
  await expect(page.getByLabel('Name')).toHaveValue('Juniper');
  const other = await context.newPage();
  await other.goto('/craft/juniper/craft');
  await expect(other.getByLabel('Kind')).toHaveValue('5-inch quad');
  await page.getByLabel('Kind').fill('quad of both tabs');
  await page.keyboard.press('Tab');
  await expect(other.getByLabel('Kind')).toHaveValue('quad of both tabs');
  await other.getByRole('heading', {name: 'Craft', level: 1}).click();
  await other.keyboard.press('Control+z');
  await expect(page.getByLabel('Kind')).toHaveValue('5-inch quad');
});

test('a preset of one’s own goes to another craft, with a preview and one step back', async ({page}) => {
  await page.goto('/craft/juniper/craft');
  await page.getByRole('button', {name: 'Keep as preset'}).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Orchard quad');
  await dialog.getByRole('button', {name: 'Keep it'}).click();
  // It closes when the store has it.
  await expect(dialog).toBeHidden();
  await page.goto('/craft/bramble/craft');
  await page.getByRole('button', {name: 'Apply a preset'}).click();
  await dialog.getByRole('combobox', {name: 'Preset'}).click();
  await page.getByRole('option', {name: 'Orchard quad, your own'}).click();
  await dialog.getByLabel('battery').check();
  await dialog.getByLabel('motors and propellers').check();
  await expect(dialog.getByRole('row', {name: /^Motors/})).toContainText('2207, 1750 KV');
  await expectAccessible(page, 'Apply a preset');
  await dialog.getByRole('button', {name: /^Apply \d+ changes/}).click();
  await expect(page.getByLabel('KV', {exact: true})).toHaveValue('1750 rpm/V');
  await page.getByRole('heading', {name: 'Craft', level: 1}).click();
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('KV', {exact: true})).toHaveValue('1900 rpm/V');
  await page.getByRole('link', {name: 'Fleet', exact: true}).click();
  await page.getByRole('button', {name: 'New craft'}).click();
  await expect(dialog.getByRole('radio', {name: /Orchard quad, your own/})).toBeVisible();
});

test('arms are dragged and moved by keys; what nobody measured is marked', async ({page}) => {
  await page.goto('/craft/juniper/craft');
  const right = page.getByLabel('front right, mm to the right');
  await expect(right).toHaveValue('80');
  const grip = page.getByRole('button', {name: /^front right, 80 mm to the right, 80 mm to the front/});
  const box = (await grip.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 30, box.y + box.height / 2, {steps: 4});
  await page.mouse.up();
  await expect(right).not.toHaveValue('80');
  const dragged = Number(await right.inputValue());
  expect(dragged).toBeGreaterThan(40);
  expect(dragged).toBeLessThan(75);
  await page.getByRole('button', {name: /^front right, \d+ mm to the right/}).focus();
  await page.keyboard.press('ArrowRight');
  await expect(right).toHaveValue(String(dragged + 1));
  await page.getByRole('button', {name: 'Estimate winding resistance'}).click();
  await expect(page.getByText('from size and KV, good to a factor of 1.5')).toBeVisible();
  await expect(page.getByLabel('Winding resistance')).not.toHaveValue('62 mΩ');
  await expect(page.getByText('from cells and capacity, good to a factor of 2')).toBeVisible();
});

test('a craft without a plan begins with what was found', async ({page}) => {
  await page.goto('/');
  await page.getByRole('button', {name: 'New craft'}).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Bracken');
  await dialog.getByRole('radio', {name: /What is found on the bench/}).click();
  await dialog.getByRole('button', {name: 'Create Bracken'}).click();
  await page.getByRole('link', {name: 'Fleet', exact: true}).click();
  await page.getByRole('button', {name: 'Connect the simulated bench of Bracken'}).click();
  await expect(page.getByText('What stands out')).toBeVisible();
  await station(page, 'Parameters').click();
  await expect(line(page, 'activeBraking')).toContainText('not planned; motor 3: off');
  await page.getByRole('button', {name: 'Begin with what was found'}).click();
  await expect(page.getByText('Nothing is planned yet')).toHaveCount(0);
  await expect(docketOf(page).getByText('Set the flight controller')).toHaveCount(0);
});
