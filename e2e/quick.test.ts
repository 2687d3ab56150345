/** How fast the interface follows: eight motors, a change of station, an edit until its verdict stands, a long capture. */
import {expect, test, type Page} from './test';
import {writeVcd} from '@core/capture/read/write-vcd';
import {encodeCommand} from '@core/dshot/command';
import {encodeReply} from '@core/dshot/reply';
import {commandEdges, replyEdges} from '@core/dshot/waveform';
import {
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

// One after the other: what is measured has the machine to itself.
test.describe.configure({mode: 'serial'});

const limitMs = 100;

/** Milliseconds from a click until `shown` is there and painted, measured in the page itself. */
const clickUntil = (page: Page, click: string, shown: string, text: string) =>
  page.evaluate(
    async ([from, to, words]) => {
      const button = document.querySelector<HTMLElement>(from!)!;
      const begun = performance.now();
      button.click();
      while (!document.querySelector(to!)?.textContent?.includes(words!))
        await new Promise((resolve) => requestAnimationFrame(resolve));
      // The next frame begins when this one is painted.
      await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
      return performance.now() - begun;
    },
    [click, shown, text],
  );

test('station change and edit to verdict stay under 100 ms with eight motors', async ({page}) => {
  await connectEightMotors(page);
  // Once through every station, so that its code is loaded; loading it is not the change.
  const names = ['Craft', 'Survey', 'Firmware', 'Parameters', 'Spin', 'Signal', 'Arming', 'Sign-off'];
  for (const name of names) {
    await station(page, name).click();
    await expect(page.getByRole('heading', {level: 1, name})).toBeVisible();
  }
  // The machine is shared and has slow spells, which say nothing about us: what counts is the best of up to six rounds.
  const limit = limitMs * (await slowness(page));
  const figures: Record<string, number> = {};
  for (let round = 0; round < 6; round++) {
    const measured = {...(await stationChanges(page, names)), ...(await edits(page))};
    for (const [name, ms] of Object.entries(measured)) figures[name] = Math.min(ms, figures[name] ?? Infinity);
    console.log('eight motors, ms:', Object.fromEntries(Object.entries(figures).map(([k, v]) => [k, Math.round(v)])));
    if (Object.values(figures).every((ms) => ms < limit)) break;
  }
  for (const [name, ms] of Object.entries(figures)) expect(ms, name).toBeLessThan(limit);
});

async function stationChanges(page: Page, names: readonly string[]): Promise<Record<string, number>> {
  const figures: Record<string, number> = {};
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

async function edits(page: Page): Promise<Record<string, number>> {
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

/** The middle of five. */
async function middle(measure: () => Promise<number>, back: () => Promise<unknown>): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < 5; i++) {
    times.push(await measure());
    await back();
  }
  return times.sort((a, b) => a - b)[2]!;
}

test('a capture of 100 MB is read without holding the screen up, can be cancelled, and is zoomed frame by frame', async ({
  page,
}) => {
  await connectAndSurvey(page);
  await station(page, 'Signal').click();
  await spinView(page, 'Captures').click();
  await makeLongCapture(page, 100);
  await dropLongCapture(page);
  await expect(page.getByRole('progressbar', {name: 'Capture'})).toBeVisible();
  await page.getByRole('button', {name: 'Cancel'}).click();
  await expect(page.getByText('No capture is open')).toBeVisible();

  // The machine is shared, and the first reading loads code: what counts is the best of up to five.
  const slow = await slowness(page);
  let longest = Infinity;
  for (let round = 0; round < 5 && longest > 50 * slow; round++) {
    await dropLongCapture(page);
    const {opened, tasks} = await watchOpening(page);
    longest = Math.max(0, ...tasks);
    console.log(
      `100 MB of VCD opened in ${Math.round(opened)} ms; longest task of the screen's thread ${Math.round(longest)} ms`,
    );
  }
  expect(longest).toBeLessThanOrEqual(50 * slow);

  const frames = await zoomInAndOut(page);
  const sorted = [...frames].sort((a, b) => a - b);
  const drawn = await page.getByRole('img', {name: /^Timeline/}).getAttribute('data-longest');
  console.log(
    `zooming ${frames.length} frames: middle ${sorted[frames.length >> 1]!.toFixed(1)} ms, longest ${sorted.at(-1)!.toFixed(1)} ms; longest drawing ${drawn} ms`,
  );
  expect(sorted[frames.length >> 1]!).toBeLessThan(20 * slow);
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

test('eight motors: the strips follow them without a dropped frame', async ({page}) => {
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
  const frames = await page.evaluate(async () => {
    const times: number[] = [];
    for (let i = 0; i < 181; i++) times.push(await new Promise((resolve) => requestAnimationFrame(resolve)));
    return times.slice(1).map((t, i) => t - times[i]!);
  });
  await page.mouse.up();
  const slow = await slowness(page);
  const sorted = frames.sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.floor(share * (sorted.length - 1))]!;
  console.log(
    `strips of 8 motors: frames of ${at(0.5).toFixed(1)} ms, 99 of 100 within ${at(0.99).toFixed(1)}, longest ${at(1).toFixed(1)} ms`,
  );
  expect(at(0.5)).toBeLessThan(20 * slow);
  await expect(page.getByRole('table', {name: 'Replies counted under load'}).getByRole('row')).toHaveCount(9);
});
