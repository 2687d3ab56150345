/** What must be right before a craft may be armed, shown by gestures and moves, planned, written, and proven on the stand-in. */
import {expect, test, type Page} from './test';
import {
  beginOrder,
  armingView,
  connectAndSurvey,
  docketOf,
  finishOrder,
  moveTheSticks,
  station,
  tiltTheCraft,
  tryTheFailSafe,
  updateBramblesController,
  watchErrors,
} from './support';

const kept = (page: Page) => page.evaluate(() => window.bidexSimulator!.configuration());

test('Bramble: a board turned by 270°, another channel order and no switch are found, planned, written and proven', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page, 'Bramble');
  await updateBramblesController(page);
  await station(page, 'Arming').click();

  await tiltTheCraft(page);
  await expect(page.getByText('The board sits turned by 270° to the right')).toBeVisible();
  await page.getByRole('button', {name: 'Plan “turned by 270° to the right”'}).click();

  await armingView(page, 'Receiver').click();
  await moveTheSticks(page);
  await expect(page.getByText('roll is channel 2, set is 1')).toBeVisible();
  await page.getByRole('button', {name: /^Plan roll 2, pitch 3, throttle 1, yaw 4/}).click();

  await armingView(page, 'Switches').click();
  await expect(page.getByText('it arms by the sticks, and a hand that slips starts the motors')).toBeVisible();
  await page.getByRole('button', {name: 'Begin, then move the switch'}).click();
  await page.getByRole('button', {name: 'Channel 5 up'}).click();
  await expect(page.locator('.switch').getByText('channel 5')).toBeVisible();
  await expect(page.getByText('it arms by the sticks')).toBeHidden();
  await page.getByRole('button', {name: 'Channel 5 down'}).click();

  const docket = docketOf(page);
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);
  expect(await kept(page)).toMatchObject({
    mounting: {roll: 0, pitch: 0, yaw: -90},
    receiver: {roll: 2, pitch: 3, throttle: 1, yaw: 4},
    switches: [{use: 'arm', channel: 5, fromUs: 1700, toUs: 2100}],
  });

  // The same gestures and moves prove it.
  await armingView(page, 'Mounting').click();
  await tiltTheCraft(page);
  await expect(page.getByText('as the poses show')).toBeVisible();
  await armingView(page, 'Receiver').click();
  await moveTheSticks(page);
  await expect(page.getByText('Four moves came on the channels set')).toBeVisible();
  await armingView(page, 'Fail-safe').click();
  await tryTheFailSafe(page);
  await expect(page.getByText(/All 4 motors stopped within 0\.\d\d s ± 0\.\d\d s of the last frame/)).toBeVisible();
  // The stabilised loop winds up at idle, as it does on every bench: told as what it is.
  await expect(page.getByText(/At idle motor \d.*the loop sped .* normal on the bench and no fault/)).toBeVisible();
  await expect(page.getByRole('group', {name: 'Proofs'}).locator('.tag.ok')).toHaveCount(3);
  await expect(station(page, 'Arming')).toContainText('proven');
  errors.expectNone();
});

test('Sorrel: an end that is not reached is found, set on the transmitter, and then right; one that is passed is right', async ({
  page,
}) => {
  await connectAndSurvey(page, 'Sorrel');
  await station(page, 'Arming').click();
  await armingView(page, 'Receiver').click();
  await moveTheSticks(page);
  await expect(page.getByText(/roll: Set its low end to 1000 µs: it is 101\d µs/)).toBeVisible();
  await expect(page.getByText(/roll: Its high end reaches further by 1\d µs: that is right/)).toBeVisible();
  await page.getByRole('button', {name: 'Set its ends to 1000 and 2000'}).click();
  // A frame from before the trim is none of the new sweep.
  await expect(page.getByRole('row', {name: /^3 throttle/})).toContainText(/(999|100[01]) µs/);
  await page.getByRole('button', {name: 'Sweep again'}).click();
  await page.getByRole('button', {name: 'Sweep all'}).click();
  await expect(page.getByText('Ends reach 1000 and 2000 µs')).toBeVisible();
});

test('an arming switch on a stick, both ends of a switch, and two in one place are refused', async ({page}) => {
  await connectAndSurvey(page);
  await station(page, 'Arming').click();
  await armingView(page, 'Switches').click();
  const from = page.getByRole('spinbutton', {name: 'on from'});
  await from.fill('900');
  await from.press('Tab');
  const refused = page.locator('bx-switches-view').getByText('the craft is armed as soon as it has power');
  await expect(refused).toBeVisible();
  await expect(docketOf(page).getByText('the craft is armed as soon as it has power').first()).toBeVisible();
  await from.fill('1700');
  await from.press('Tab');
  await expect(refused).toBeHidden();
  await page.locator('bx-switches-view').getByText('Lost-craft tone', {exact: true}).click();
  await page.getByRole('button', {name: 'Begin, then move the switch'}).click();
  await page.getByRole('button', {name: 'Channel 5 up'}).click();
  await expect(page.getByText('Arming and Lost-craft tone share a part of channel 5').first()).toBeVisible();
  await expect(page.getByText('The arming switch is on: a craft arms only')).toBeVisible();
  await page.getByRole('button', {name: 'remove'}).first().click();
  await expect(page.getByText('No switch arms the craft').first()).toBeVisible();
});

test('without a transmitter the receiver says so, and a fail-safe that nobody lets act proves nothing', async ({
  page,
}) => {
  await connectAndSurvey(page);
  await station(page, 'Arming').click();
  await armingView(page, 'Receiver').click();
  await page.getByRole('button', {name: 'Switch it off'}).click();
  await expect(page.getByText(/^No frame for/)).toBeVisible();
  await armingView(page, 'Switches').click();
  await expect(page.getByText('No frame comes from the receiver: switch the transmitter on.')).toBeVisible();
  await armingView(page, 'Fail-safe').click();
  await page.getByText('On as before', {exact: true}).click();
  await expect(page.getByText('the craft flies on as before until its battery is empty')).toBeVisible();
  await expect(docketOf(page).getByText('it flies away with its motors turning').first()).toBeVisible();
});
