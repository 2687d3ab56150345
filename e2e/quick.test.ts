/**
 * How much the interface does until it has followed: frames until a station or a verdict stands, what the screen's thread is
 * given of a long capture, drawings of a zoom and of the strips. Times are told, and held against nothing: `npm run bench`.
 */
import {expect, test, type Page} from './test';
import {writeVcd} from '@core/capture/read/write-vcd';
import {headBytes} from '@core/dropped-files/kinds';
import {encodeCommand} from '@core/dshot/command';
import {encodeReply} from '@core/dshot/reply';
import {commandEdges, replyEdges} from '@core/dshot/waveform';
import {
  againstReference,
  beginOrder,
  connectAndSurvey,
  connectEightMotors,
  docketOf,
  finishOrder,
  pickMishap,
  slowness,
  spinView,
  station,
} from './support';
import {countScreenWork, screenWork} from './screen-work';

// One after the other: what is measured has the machine to itself.
test.describe.configure({mode: 'serial'});

/** What a capture of any length gives a screen: its wires with their figures, charts and one timeline, bytes. */
const maxToldBytes = 200_000;

/** Texts and attributes that eight motors under load change in one frame. */
const maxChangesPerFrame = 40;

/** Frames until a change is on the screen: its own, and one for what a child is given by it. */
const maxFrames = 2;

interface Change {
  /** Frames that were begun before it stood. */
  readonly frames: number;
  /** Until it was painted. */
  readonly ms: number;
}

/** From a click until `shown` has the text, counted in the page itself. */
const clickUntil = (page: Page, click: string, shown: string, text: string): Promise<Change> =>
  page.evaluate(
    async ([from, to, words]) => {
      const button = document.querySelector<HTMLElement>(from!)!;
      const begun = performance.now();
      let frames = 0;
      button.click();
      while (!document.querySelector(to!)?.textContent?.includes(words!)) {
        await new Promise((resolve) => requestAnimationFrame(resolve));
        frames++;
      }
      // The next frame begins when this one is painted.
      await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
      return {frames, ms: performance.now() - begun};
    },
    [click, shown, text],
  );

test('a station and the verdict of an edit stand in the next frames, with eight motors', async ({page}) => {
  await connectEightMotors(page);
  // Once through every station, so that its code is loaded; loading it is not the change.
  const names = ['Craft', 'Survey', 'Firmware', 'Parameters', 'Spin', 'Signal', 'Arming', 'Sign-off'];
  for (const name of names) {
    await station(page, name).click();
    await expect(page.getByRole('heading', {level: 1, name})).toBeVisible();
  }
  const slow = await slowness(page);
  const changes = {...(await stationChanges(page, names)), ...(await edits(page)), ...(await settingEdits(page))};
  for (const [name, {frames, ms}] of Object.entries(changes))
    console.log(`eight motors, ${name}: ${frames} frames, ${againstReference(ms, slow)}`);
  for (const [name, {frames}] of Object.entries(changes)) expect(frames, name).toBeLessThanOrEqual(maxFrames);
});

async function stationChanges(page: Page, names: readonly string[]): Promise<Record<string, Change>> {
  const figures: Record<string, Change> = {};
  for (const name of names) {
    const other = name === 'Craft' ? 'Survey' : 'Craft';
    const link = `nav[aria-label=Stations] a[href$="/${name.toLowerCase()}"]`;
    await station(page, other).click();
    figures[`to ${name}`] = await middle(
      () => clickUntil(page, link, 'h1', name),
      () => station(page, other).click(),
    );
  }
  return figures;
}

async function edits(page: Page): Promise<Record<string, Change>> {
  await station(page, 'Parameters').click();
  const row = page.locator('[data-parameter=demag]');
  await expect(row).toContainText('all as planned');
  const cell = (label: string) => row.locator('.p-togglebutton').filter({hasText: label});
  await cell('off').evaluate((b) => (b.id = 'to-off'));
  await cell('low').evaluate((b) => (b.id = 'to-low'));
  const edit = () =>
    middle(
      () => clickUntil(page, '#to-off', '[data-parameter=demag] .verdict', 'low → off on all'),
      () => clickUntil(page, '#to-low', '[data-parameter=demag] .verdict', 'all as planned'),
    );
  const closed = await edit();
  await row.locator('.name').click();
  await expect(row.locator('canvas')).toBeVisible();
  const open = await edit();
  // The station stays as it is left.
  await row.locator('.name').click();
  await expect(row.locator('canvas')).toHaveCount(0);
  return {'edit to verdict': closed, 'edit with its chart open': open};
}

/** A section of everything else that the flight controller holds is planned, with all its lines on the screen. */
async function settingEdits(page: Page): Promise<Record<string, Change>> {
  const views = page.getByRole('group', {name: 'Parameters of'});
  await views.getByText('Flight controller').click();
  const lines = page.locator('bx-held-settings button.name');
  await expect(lines.first()).toBeVisible();
  expect(await lines.count()).toBeGreaterThan(130);
  const button = (does: string) => `[aria-label="${does}: Rates"]`;
  const verdict = `bx-held-settings table:has(${button('Not planned')}) tbody tr:first-child td:last-child`;
  const planned = await middle(
    () => clickUntil(page, button('Plan what was found'), verdict, 'as planned'),
    () => page.locator(button('Not planned')).click(),
  );
  await views.getByText('ESCs').click();
  return {'edit of nine settings among all': planned};
}

/** The middle of three. */
async function middle(measure: () => Promise<Change>, back: () => Promise<unknown>): Promise<Change> {
  const all: Change[] = [];
  for (let i = 0; i < 3; i++) {
    all.push(await measure());
    await back();
  }
  return all.sort((a, b) => a.frames - b.frames || a.ms - b.ms)[1]!;
}

test('a capture of 100 MB is read without holding the screen up, can be cancelled, and is zoomed frame by frame', async ({
  page,
}) => {
  await countScreenWork(page);
  await connectAndSurvey(page);
  await station(page, 'Signal').click();
  await spinView(page, 'Captures').click();
  await makeLongCapture(page, 100);
  await dropLongCapture(page);
  await expect(page.getByRole('progressbar', {name: 'Capture'})).toBeVisible();
  await page.getByRole('button', {name: 'Cancel'}).click();
  await expect(page.getByText('No capture is open')).toBeVisible();

  const slow = await slowness(page);
  for (let round = 0; round < 3; round++) {
    await screenWork(page);
    await dropLongCapture(page);
    const {opened, tasks} = await watchOpening(page);
    const {readBytes, toldBytes} = await screenWork(page);
    const longest = againstReference(Math.max(0, ...tasks), slow);
    console.log(
      `100 MB of VCD opened in ${againstReference(opened, slow)}; longest task of the screen's thread ${longest}; it read ${readBytes} bytes, workers told it ${toldBytes}`,
    );
    // What kind of file it is, and of its two million edges what a screen shows.
    expect(readBytes).toBeLessThanOrEqual(headBytes);
    expect(toldBytes).toBeLessThanOrEqual(maxToldBytes);
  }

  const timeline = page.getByRole('img', {name: /^Timeline/});
  const drawings = async () => Number(await timeline.getAttribute('data-drawings'));
  const before = await drawings();
  const frames = await zoomInAndOut(page);
  const sorted = [...frames].sort((a, b) => a - b);
  const drawn = (await drawings()) - before;
  console.log(
    `zooming ${frames.length} frames: ${drawn} drawings, middle ${againstReference(sorted[frames.length >> 1]!, slow)}; longest drawing ${await timeline.getAttribute('data-longest')} ms`,
  );
  // A turn of the wheel is drawn once, and what the worker answers to it once more at most.
  expect(drawn).toBeGreaterThanOrEqual(frames.length / 2);
  expect(drawn).toBeLessThanOrEqual(2 * frames.length + 2);
});

/** Made in the page, so that nothing of it goes over the wire of the test: one wire of DShot300 with replies at 4 kHz. */
async function makeLongCapture(page: Page, megabytes: number): Promise<void> {
  const loops = 2000;
  const edges = Array.from({length: loops}, (_, i) => {
    const command = commandEdges(encodeCommand({value: 48 + i, telemetryRequest: false}, true), 'dshot300', true);
    return [...command, ...replyEdges(encodeReply(400 + (i % 500)), 'dshot300')].map(({us}) => (us + i * 250) * 1e-6);
  }).flat();
  const wire = {name: 'probe.d0', first: 1, edges: Float64Array.from(edges), unknown: new Float64Array(0)} as const;
  const text = writeVcd([wire], loops * 250e-6);
  await page.evaluate(
    ({text, megabytes, span}) => {
      const at = text.indexOf('$end\n', text.indexOf('$dumpvars')) + 5;
      const [head, body] = [text.slice(0, at), text.slice(at)];
      const parts = [head];
      for (let copy = 0; copy * body.length < megabytes * 1e6; copy++)
        parts.push(body.replace(/^#(\d+)$/gm, (_, t: string) => `#${Number(t) + copy * span}`));
      window.longCapture = new File(parts, 'long.vcd');
      window.longTasks = [];
      new PerformanceObserver((list) => window.longTasks!.push(...list.getEntries().map((e) => e.duration))).observe({
        type: 'longtask',
      });
    },
    {text, megabytes, span: loops * 250_000 + 1000},
  );
}

async function dropLongCapture(page: Page): Promise<void> {
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.items.add(window.longCapture!);
    window.longTasks!.length = 0;
    for (const type of ['dragover', 'drop'])
      document.body.dispatchEvent(new DragEvent(type, {dataTransfer: data, bubbles: true, cancelable: true}));
  });
}

/**
 * Milliseconds until the timeline stands, and the long tasks until half a second later, when the charts stand too.
 * Waited for in the page: what the test's own looking at a page costs would be counted as ours.
 */
const watchOpening = (page: Page) =>
  page.evaluate(async () => {
    const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
    const began = performance.now();
    while (document.querySelector('bx-timeline')) await wait(5);
    while (!document.querySelector('bx-timeline')) await wait(20);
    const opened = performance.now() - began;
    await wait(500);
    return {opened, tasks: window.longTasks!.splice(0)};
  });

/** From the whole into microseconds and back, a turn of the wheel each frame; the times between frames, ms. */
const zoomInAndOut = (page: Page): Promise<number[]> =>
  page.getByRole('img', {name: /^Timeline/}).evaluate(async (canvas) => {
    const {left, width, top} = canvas.getBoundingClientRect();
    const frames: number[] = [];
    let last = await new Promise<number>((resolve) => requestAnimationFrame(resolve));
    for (let i = 0; i < 240; i++) {
      const deltaY = i < 120 ? -60 : 60;
      canvas.dispatchEvent(
        new WheelEvent('wheel', {
          deltaY,
          clientX: left + 0.6 * width,
          clientY: top + 40,
          bubbles: true,
          cancelable: true,
        }),
      );
      const now = await new Promise<number>((resolve) => requestAnimationFrame(resolve));
      frames.push(now - last);
      last = now;
    }
    return frames;
  });

declare global {
  interface Window {
    longCapture?: File;
    longTasks?: number[];
  }
}

test('eight motors: the strips follow them without holding the screen up', async ({page}) => {
  await countScreenWork(page);
  await connectEightMotors(page);
  await pickMishap(page, 'As fast as possible');
  await docketOf(page).getByRole('button', {name: 'Propellers are off'}).click();
  await beginOrder(page);
  await finishOrder(page);
  await station(page, 'Signal').click();
  await spinView(page, 'Replies').click();
  const button = page.getByRole('button', {name: /^Hold to load the replies/});
  await expect(button).toBeEnabled();
  await button.hover();
  await page.mouse.down();
  await expect(page.getByText('counting', {exact: true})).toBeVisible();
  await screenWork(page);
  const {times, tasks} = await page.evaluate(async () => {
    const tasks: number[] = [];
    const watch = new PerformanceObserver((list) => tasks.push(...list.getEntries().map((e) => e.duration)));
    watch.observe({type: 'longtask'});
    const times: number[] = [];
    for (let i = 0; i < 181; i++) times.push(await new Promise((resolve) => requestAnimationFrame(resolve)));
    watch.disconnect();
    return {times: times.slice(1).map((t, i) => t - times[i]!), tasks};
  });
  const {drawings, changes} = await screenWork(page);
  await page.mouse.up();
  const slow = await slowness(page);
  const sorted = times.sort((a, b) => a - b);
  const longest = againstReference(Math.max(0, ...tasks), slow);
  console.log(
    `strips of 8 motors: middle frame ${againstReference(sorted[sorted.length >> 1]!, slow)}, longest ${sorted.at(-1)!.toFixed(1)} ms, longest task ${longest}; ${drawings} drawings and ${changes} changes in ${times.length} frames`,
  );
  // Reports of a bench come faster than frames: a frame is drawn once, and figures change in it once.
  expect(drawings).toBeGreaterThan(0);
  expect(drawings).toBeLessThanOrEqual(times.length + 2);
  expect(changes / times.length).toBeLessThanOrEqual(maxChangesPerFrame);
  await expect(page.getByRole('table', {name: 'Replies counted under load'}).getByRole('row')).toHaveCount(9);
});
