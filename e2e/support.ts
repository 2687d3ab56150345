/** Steps of the story that more than one test takes. */
import {createHash} from 'node:crypto';
import AxeBuilder from '@axe-core/playwright';
import {expect, type Locator, type Page} from './test';
import type {Image} from '@core/firmware/image';
import type {ArmedMishap, TransmitterAct} from '../app/workers/bench-control';
import {meridianImage} from '@simulator/firmware/meridian';

const image42 = meridianImage('4.2', {board: 'Gneiss 45', deadTimeNs: 45});

export const docketOf = (page: Page) => page.getByRole('complementary', {name: 'Work order'});

/** Watches for errors in the console and in the page; `expectNone` fails on any. */
export function watchErrors(page: Page): {expectNone: () => void} {
  const errors: string[] = [];
  page.on('console', (message) => message.type() === 'error' && errors.push(message.text()));
  page.on('pageerror', (error) => errors.push(error.message));
  return {expectNone: () => expect(errors).toEqual([])};
}

export const station = (page: Page, name: string) =>
  page.getByRole('navigation', {name: 'Stations'}).getByRole('link', {name: new RegExp(`^${name}`)});

/** WCAG 2 A and AA as axe judges them, or one of its rules; `name` tells which view a violation is in. */
export async function expectAccessible(page: Page, name: string, rule?: string): Promise<void> {
  // Violations alone, and in this page: what axe tells beside them, and a page of its own to tell it in, cost three quarters.
  const axe = new AxeBuilder({page}).options({resultTypes: ['violations'], preload: false}).setLegacyMode();
  const {violations} = await (rule ? axe.withRules(rule) : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21aa'])).analyze();
  const places = (nodes: (typeof violations)[number]['nodes']) =>
    nodes
      .map((n) => n.target.join(' '))
      .slice(0, 3)
      .join(' | ');
  expect(violations.map((v) => `${name}: ${v.id} ${places(v.nodes)}`)).toEqual([]);
}

/** Picks an entry of a menu that does the same when it is picked twice; opens it again when it closed under the mouse. */
async function pickFrom(page: Page, menu: string | RegExp, label: string): Promise<void> {
  const entry = page.getByRole('menuitem', {name: label});
  await expect(async () => {
    if (!(await entry.isVisible())) await page.getByRole('button', {name: menu, exact: true}).click();
    await entry.click({timeout: 5000});
  }).toPass({timeout: 30_000});
}

/**
 * What happens to the simulated bench once, or is chosen: picked a second time it changes nothing. What is on or off is
 * not among them: a click tried again on a slow machine would turn it back.
 */
type Happening =
  | '×1, as real'
  | 'As fast as possible'
  | 'Take the battery off'
  | 'Connect the battery'
  | 'Pull the cable out'
  | 'Plug the cable in'
  | 'Cable into the flight controller'
  | 'Cable into the single-wire adapter'
  | 'Firmware of the flight controller hangs'
  | 'Flight controller holds a stranger’s firmware'
  | 'Flight controller replaced with a new one'
  | 'Another program changes its settings'
  | 'Motor replaced with a 12-pole one';
/** What is on or off on the simulated bench. */
type Fault =
  | 'Battery nearly empty'
  | 'Bytes lost and flipped on the cable'
  | 'Port held by another program'
  | 'Noise on the motor wires'
  | 'No capacitor at the pack'
  | 'Signal wire of motor 2 sits loose'
  | 'Has a worn flash page';

/** Picks an event of the simulated bench's menu. */
export const pickMishap = (page: Page, label: Happening): Promise<void> => pickFrom(page, 'Simulate a fault', label);

/** Turns an entry of a menu on or off: looks at its tick, so that a click tried again does not turn it back. */
export async function setIn(
  page: Page,
  menu: string | RegExp,
  {label, on}: {label: string; on: boolean},
): Promise<void> {
  const entry = (isOn: boolean) => page.getByRole('menuitem', {name: isOn ? `✓ ${label}` : label, exact: true});
  await expect(async () => {
    if (!(await entry(on).or(entry(!on)).isVisible()))
      await page.getByRole('button', {name: menu, exact: true}).click({timeout: 5000});
    if (await entry(!on).isVisible()) await entry(!on).click({timeout: 5000});
    await expect(entry(on)).toBeVisible({timeout: 1000});
  }).toPass({timeout: 30_000});
  await page.keyboard.press('Escape');
}

/** Turns a mishap of the simulated bench on or off. */
export const setMishap = (page: Page, label: Fault, on: boolean): Promise<void> =>
  setIn(page, 'Simulate a fault', {label, on});

/** Something that will happen by itself at a moment of the work, whatever the machine is doing. */
export const armMishap = (page: Page, mishap: ArmedMishap): Promise<void> =>
  page.evaluate((m) => window.bidexSimulator!.arm(m), mishap);

/** For a test that counts what is drawn: from now on this page is drawn as often as the browser likes. */
export const drawAtOnce = (page: Page): Promise<void> => page.evaluate(() => void (window.bidexDrawEveryMs = 0));

/** From the fleet to a surveyed craft. */
export async function connectAndSurvey(page: Page, craft = 'Juniper'): Promise<void> {
  await page.goto('/');
  await page.getByRole('button', {name: `Connect the simulated bench of ${craft}`}).click();
  await expect(page.getByText('What stands out')).toBeVisible();
}

/** A craft of one's own with eight arms, Yarrow, on the bench that stands for it. */
export async function connectEightMotors(page: Page): Promise<void> {
  await page.goto('/');
  await page.getByRole('button', {name: 'New craft'}).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Yarrow');
  await dialog.getByRole('radio', {name: /5-inch quad/}).click();
  await dialog.getByRole('button', {name: 'Create Yarrow'}).click();
  await page.locator('p-select').filter({hasText: 'quad X'}).click();
  await page.getByRole('option', {name: 'octo X'}).click();
  await page.getByRole('link', {name: 'Fleet', exact: true}).click();
  await page.getByRole('button', {name: 'Connect the simulated bench of Yarrow'}).click();
  await expect(page.getByText('What stands out')).toBeVisible();
}

/** Bramble's first order: firmware of its flight controller, behind which its ESCs then answer. */
export async function updateBramblesController(page: Page): Promise<void> {
  await pickMishap(page, 'As fast as possible');
  const docket = docketOf(page);
  await expect(docket.getByText('Write Plumb 2.2 to the flight controller')).toBeVisible();
  await beginOrder(page);
  await expect(docket.getByText('carried out')).toBeVisible({timeout: 60_000});
  await expect(docket.getByText('Write Meridian 3.9').first()).toBeVisible();
}

/** A survey round of Alder: the adapter on every arm in turn. */
export async function readTheRound(page: Page): Promise<void> {
  for (let arm = 1; arm <= 6; arm++) {
    await page.getByRole('button', {name: `Clip the simulated adapter to arm ${arm}`}).click();
    await expect(page.getByText(`${arm} of 6 arms read`)).toBeVisible();
  }
}

/** Alder's motor 4 runs foreign firmware: its board is found in the catalogue and named. */
export async function claimTheForeignBoard(page: Page): Promise<void> {
  await station(page, 'Firmware').click();
  const claim = page.getByRole('region', {name: 'Board of motor 4'});
  await claim.getByLabel('Search boards for motor 4').fill('bsl 30a');
  await expect(claim.getByRole('button', {name: 'This one'})).toHaveCount(1);
  await claim.getByRole('button', {name: 'This one'}).click();
  await claim.getByLabel("Type the board's name").fill('Basalt 30');
  await claim.getByLabel('Your name, for the record').fill('bench hand');
  await claim.getByRole('button', {name: 'Confirm: it is a Basalt 30'}).click();
}

/** Alder's work order: the adapter goes round the arms as it asks, then the battery is cycled. */
export async function carryOutTheRound(page: Page): Promise<void> {
  const docket = docketOf(page);
  await beginOrder(page);
  for (let arm = 1; arm <= 6; arm++)
    await docket.getByRole('button', {name: `Clip the simulated adapter to arm ${arm}`}).click({timeout: 60_000});
  await docket.getByRole('button', {name: 'Take the simulated battery off'}).click({timeout: 60_000});
  await docket.getByRole('button', {name: 'Connect the simulated battery'}).click();
  await expect(docket.getByText('carried out')).toBeVisible();
}

/** What the simulated eyes see turning. */
export const eyes = (page: Page): Locator => page.locator('.eyes .tag');

/** Spin station: holds an output by mouse, lets go, and points at what turned; says when it turns where no speed comes. */
export async function pointAt(page: Page, output: number): Promise<string> {
  const button = page.getByRole('button', {name: `Hold to turn output ${output}`});
  await expect(button).toBeEnabled();
  // One that coasts from before would be seen too.
  await expect(eyes(page)).toHaveCount(0);
  await button.hover();
  await page.mouse.down();
  await expect(eyes(page)).toHaveCount(1);
  await page.keyboard.press('t');
  const seen = (await eyes(page).first().textContent())!.replace('↻', '').trim();
  await page.mouse.up();
  await page.getByRole('button', {name: seen, exact: true}).click();
  return seen;
}

/** Drops a file in the middle of whatever is shown. */
export const drop = (page: Page, name: string, text: string): Promise<void> => dropAll(page, [[name, text]]);

/** Drops files together: names with their text. */
/** @param files name and text, or bytes. */
export async function dropAll(
  page: Page,
  files: readonly (readonly [string, string | readonly number[]])[],
): Promise<void> {
  const transfer = await page.evaluateHandle((files) => {
    const data = new DataTransfer();
    for (const [name, content] of files)
      data.items.add(new File([typeof content === 'string' ? content : Uint8Array.from(content)], name));
    return data;
  }, files);
  await page.dispatchEvent('body', 'dragover', {dataTransfer: transfer});
  await page.dispatchEvent('body', 'drop', {dataTransfer: transfer});
}

/** Holds a button with the mouse until `until` has come true. */
export async function holdUntil(page: Page, name: RegExp, until: () => Promise<void>): Promise<void> {
  const button = page.getByRole('button', {name}).first();
  await expect(button).toBeEnabled();
  await button.scrollIntoViewIfNeeded();
  await button.hover();
  const tops = () => button.evaluateAll((all) => all.map((e) => e.getBoundingClientRect().top));
  const [before] = await tops();
  await page.mouse.down();
  await page.waitForTimeout(250);
  // What is held stays under the finger; in an order it goes away with its step.
  for (const now of await tops()) expect(now).toBe(before);
  await until();
  await page.mouse.up();
}

/** Says that the propellers are off where the order asks for it, and begins it. */
export async function beginOrder(page: Page, name = 'Carry out work order'): Promise<void> {
  const start = docketOf(page).getByRole('button', {name});
  const props = docketOf(page).getByRole('button', {name: 'Propellers are off'});
  // The button to confirm comes with the first reading of the battery.
  await expect(async () => {
    if (await props.isVisible()) await props.click({timeout: 500});
    await expect(start).toBeEnabled({timeout: 250});
  }).toPass({timeout: 30_000});
  await start.click();
}

/** From "Carry out" (or "Resume") to the end: battery cycle and reply proof included. */
export async function finishOrder(page: Page): Promise<void> {
  const docket = page.getByRole('complementary', {name: 'Work order'});
  await docket.getByRole('button', {name: 'Take the simulated battery off'}).click({timeout: 60_000});
  await docket.getByRole('button', {name: 'Connect the simulated battery'}).click();
  await docket.getByRole('button', {name: 'Propellers are off'}).click();
  await proveTheReplies(page);
}

/** The last steps of an order, of replies and perhaps of motion: one hold until it is carried out. */
export const proveTheReplies = (page: Page): Promise<void> =>
  holdUntil(page, /Hold to prove /, () => expect(docketOf(page).getByText('carried out')).toBeVisible());

/** Spin station: holds every output, looks at the simulated craft, and points at what turned. */
export async function lookAtEveryOutput(page: Page, atThird?: () => Promise<void>): Promise<void> {
  await station(page, 'Spin').click();
  for (let output = 1; output <= 4; output++) {
    const button = page.getByRole('button', {name: `Hold to turn output ${output}`});
    await expect(button).toBeEnabled();
    await button.hover();
    await page.mouse.down();
    const eyes = page.locator('.eyes .tag');
    await expect(eyes).toHaveCount(1);
    // Long enough for a steady speed, so that the coast-down can be measured.
    await expect(page.getByText('6.0 % throttle')).toBeVisible();
    await page.waitForTimeout(400);
    if (output === 3 && atThird) {
      // The picture moves the mouse, and a moved mouse still holds.
      await atThird();
    }
    const seen = (await eyes.textContent())!.replace('↻', '').trim();
    await page.mouse.up();
    await page.getByRole('button', {name: seen, exact: true}).click();
    await expect(page.locator('tbody tr').nth(output - 1)).toContainText('µs');
  }
}

/** Flash of every ESC, through the simulator's debug door, holds `image` byte for byte. */
export async function expectImageInEveryEsc(page: Page, image: Image = image42, escs = 4): Promise<void> {
  const {start, bytes} = image.segments[0]!;
  const wanted = createHash('sha256').update(bytes).digest('hex');
  // Digests, made in the page: the bytes themselves, handed over as numbers, took most of the time of this look.
  const held = await page.evaluate(
    async ([from, to, count]) => {
      const digest = async (output: number) => {
        const part = (await window.bidexSimulator!.flash(output)).slice(from, to);
        const sum = new Uint8Array(await crypto.subtle.digest('SHA-256', part));
        return [...sum].map((byte) => byte.toString(16).padStart(2, '0')).join('');
      };
      return Promise.all(Array.from({length: count}, (_, output) => digest(output)));
    },
    [start, start + bytes.length, escs] as const,
  );
  expect(held).toEqual(held.map(() => wanted));
  expect(held).toHaveLength(escs);
}

/** A view of the Spin station. */
export const spinView = (page: Page, name: string) =>
  page.getByRole('group', {name: 'What to look at'}).getByText(name, {exact: true});

/** Spin station: runs the motor card by one hold. */
export async function measureMotors(page: Page): Promise<void> {
  await station(page, 'Spin').click();
  await spinView(page, 'Steps and cuts').click();
  const button = page.getByRole('button', {name: /^Hold for \d s/});
  // A motor that coasts takes seconds to stand.
  await expect(button).toBeEnabled({timeout: 40_000});
  await button.scrollIntoViewIfNeeded();
  await button.hover();
  await page.mouse.down();
  await expect(button).toContainText('% throttle');
  await expect(button).not.toContainText(/% throttle| alone: |reading the burst/);
  await page.mouse.up();
  await expect(page.getByRole('heading', {name: 'What stands out'})).toBeVisible();
}

/** A view of the Arming station. */
export const armingView = spinView;

/** Mounting view: the craft is tilted by the simulated hand until all three gestures are taken. */
export async function tiltTheCraft(page: Page): Promise<void> {
  const ask = page.locator('bx-mounting-view');
  const taken = (count: number) => expect(ask.getByText('✓ taken')).toHaveCount(count);
  await page.getByRole('button', {name: 'Level', exact: true}).click();
  await ask.getByRole('button', {name: /^(Begin|Show it again)$/}).click();
  await taken(1);
  await page.getByRole('button', {name: 'Nose down'}).click();
  await taken(2);
  await page.getByRole('button', {name: 'Right side down'}).click();
  await expect(ask.getByText(/^(As set|Not as set)$/)).toBeVisible();
  await page.getByRole('button', {name: 'Level', exact: true}).click();
}

/** Receiver view: four moves, then sweeps, by the simulated transmitter. */
export async function moveTheSticks(page: Page): Promise<void> {
  const view = page.locator('bx-receiver-view');
  await view.getByRole('button', {name: /^(Begin the moves|Move them again)$/}).click();
  for (const stick of ['roll', 'pitch', 'throttle', 'yaw']) {
    await expect(view.getByText(new RegExp(`^Now move the ${stick}`))).toBeVisible();
    await view.getByRole('button', {name: `Move ${stick}`}).click();
    await expect(view.getByText(new RegExp(`^Now move the ${stick}`))).toBeHidden();
  }
  await view.getByRole('button', {name: /^(Begin the sweeps|Sweep again)$/}).click();
  await view.getByRole('button', {name: 'Sweep all'}).click();
  await expect(view.getByText(/^(As set|Not as it should be)$/)).toBeVisible();
}

/** Fail-safe view: a hold in which the simulated hand switches the transmitter off. */
export async function tryTheFailSafe(page: Page): Promise<void> {
  const view = page.locator('bx-fail-safe-view');
  await view.getByRole('button', {name: 'A simulated hand switches it off'}).click();
  await holdUntil(page, /Hold to try the fail-safe/, () =>
    expect(view.getByText(/^They (stop|do not stop) in time$/)).toBeVisible(),
  );
  await view.getByRole('button', {name: 'Switch it on'}).click();
  // The proof is kept when frames come again and the craft is disarmed.
  await expect(view.getByText('With the transmitter on again it was disarmed.')).toBeVisible();
}

/** Arming station: everything that has to be proven there, on a craft that is as it should be. */
export async function proveArming(page: Page): Promise<void> {
  await station(page, 'Arming').click();
  await tiltTheCraft(page);
  await armingView(page, 'Receiver').click();
  await moveTheSticks(page);
  // Told with its reasons when it is otherwise.
  await expect(
    page
      .locator('bx-receiver-view')
      .getByText(/^(As set|Not as it should be)/)
      .locator('..'),
  ).toContainText('As set');
  await armingView(page, 'Fail-safe').click();
  await tryTheFailSafe(page);
  await expect(page.getByRole('group', {name: 'Proofs'}).locator('.tag.ok')).toHaveCount(3);
}

export async function expectAllProven(page: Page): Promise<void> {
  await station(page, 'Noise').click();
  await expect(page.getByText('14 poles fit this flight')).toBeVisible();
  await station(page, 'Sign-off').click();
  await expect(page.getByRole('status')).toContainText('all proven');
  await expect(page.locator('tbody .tag.ok')).toHaveCount(11);
  // What is computed stands apart and is not counted.
  await expect(page.getByText('~ predicted')).toBeVisible();
}

declare global {
  interface Window {
    bidexSimulator?: {
      flash: (output: number) => Promise<Uint8Array>;
      configuration: () => Promise<Record<string, unknown>>;
      controllerFirmware: () => Promise<{version: string | undefined; isInLoader: boolean}>;
      setBattery: (on: boolean) => Promise<void>;
      transmitter: (act: TransmitterAct) => Promise<void>;
      look: () => Promise<readonly {turning: boolean; throttle: number}[]>;
      arm: (mishap: ArmedMishap) => Promise<void>;
    };
  }
}

/** A time as it was, and as it would be on the machine that {@link slowness} is told against. */
export const againstReference = (ms: number, slow: number): string =>
  `${ms.toFixed(0)} ms (${(ms / slow).toFixed(0)} ms at the reference)`;

/** What {@link slowness} measures on the machine that the limits were set on while nothing else ran, ms. */
const referenceMs = 36;

/**
 * How much slower this machine is now than the one that limits of milliseconds were set on; 1 where it is as fast. The best
 * of seven runs of one piece of work in the page, as what is held against it is the best of several too.
 */
export async function slowness(page: Page): Promise<number> {
  const best = await page.evaluate(() => {
    let fastest = Infinity;
    for (let run = 0; run < 7; run++) {
      const began = performance.now();
      const numbers = new Float64Array(200_000);
      for (let i = 0, x = 1; i < numbers.length; i++) numbers[i] = x = (x * 16_807) % 2_147_483_647;
      numbers.sort();
      fastest = Math.min(fastest, performance.now() - began);
    }
    return fastest;
  });
  console.log(`A piece of work of ${referenceMs} ms took ${best.toFixed(0)} ms here.`);
  return Math.max(1, best / referenceMs);
}
