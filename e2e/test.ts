/**
 * The test of every browser test: page and simulated bench move on one clock, step by step, so that a busy machine costs
 * time and nothing else; and any error of a script fails it. What a service does not answer is no error of a script.
 * The tests of one worker share a browser profile, so that the browser compiles the application once; what a page keeps is
 * cleared between two tests.
 */
import {mkdtempSync, rmSync} from 'node:fs';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import {
  chromium,
  expect,
  test as base,
  type BrowserContext,
  type ConsoleMessage,
  type Page,
  type WebError,
} from '@playwright/test';

export {expect, type Locator, type Page} from '@playwright/test';

export interface OfWorker {
  /** Virtual ms for each real one, at most; 0 for the browser's own clock, on which a hand holds. */
  readonly pace: number;
  /** The screen is drawn once in so long while it changes all the time, ms; 0 for as often as the browser likes. */
  readonly drawEveryMs: number;
  /** The browser profile of all tests of one worker. */
  readonly profile: BrowserContext;
}

export const test = base.extend<{errors: string[]}, OfWorker>({
  pace: [20, {option: true, scope: 'worker'}],
  drawEveryMs: [100, {option: true, scope: 'worker'}],
  profile: [
    async ({pace, drawEveryMs}, use, {project}) => {
      const folder = mkdtempSync(join(tmpdir(), 'bidex-profile-'));
      const {launchOptions, viewport, baseURL} = project.use;
      const profile = await chromium.launchPersistentContext(folder, {
        ...launchOptions,
        ...(viewport !== undefined && {viewport}),
        ...(baseURL !== undefined && {baseURL}),
      });
      if (pace)
        await profile.addInitScript((own) => {
          window.bidexPace = own;
        }, pace);
      if (drawEveryMs) await profile.addInitScript(drawRarely, drawEveryMs);
      await use(profile);
      await profile.close();
      rmSync(folder, {recursive: true, force: true});
    },
    {scope: 'worker'},
  ],
  errors: [
    async ({context}, use) => {
      const errors: string[] = [];
      const hear = (text: string) =>
        void (/^(Failed to load resource|WebSocket connection to)/.test(text) || errors.push(text));
      const ofConsole = (message: ConsoleMessage) => message.type() === 'error' && hear(message.text());
      const ofScript = (error: WebError) => hear(error.error().message);
      context.on('console', ofConsole);
      context.on('weberror', ofScript);
      await use(errors);
      context.off('console', ofConsole);
      context.off('weberror', ofScript);
      expect(errors, 'errors of the page').toEqual([]);
    },
    {auto: true},
  ],
  context: async ({profile}, use, {project}) => {
    await use(profile);
    await profile.unrouteAll();
    const [first, ...others] = profile.pages();
    for (const page of others) await page.close();
    await clear(first!, String(project.use.baseURL));
  },
});

/**
 * Deletes all that the origin keeps. A store counts as deleted once nobody has it open any more, the worker of a closed
 * page included: the next page begins in a store that nothing can close under it.
 */
async function clear(page: Page, origin: string): Promise<void> {
  // Of the same origin, and without the application.
  await page.goto(`${origin}/api/releases`);
  await page.evaluate(async () => {
    localStorage.clear();
    sessionStorage.clear();
    const deleted = (name: string) =>
      new Promise<void>((resolve, reject) => {
        const request = indexedDB.deleteDatabase(name);
        request.onsuccess = () => resolve();
        request.onerror = () => reject(request.error ?? new Error(`${name} could not be deleted.`));
      });
    for (const {name} of await indexedDB.databases()) if (name !== undefined) await deleted(name);
  });
  await page.goto('about:blank');
}

/**
 * Runs in the page. Where bench and page are stepped, something new comes with every task, and drawing it took most of the
 * time: a screen that changes all the time is drawn every so many ms; one that stood still, or that a hand has just acted
 * on, at once: what a click moves has moved before the next one. So is what has new elements: nobody acts on a field before
 * it is filled. What the application is built with draws by whichever
 * comes first of a timer without a time and the next frame.
 */
function drawRarely(everyMs: number): void {
  const [later, forget] = [window.setTimeout.bind(window), window.clearTimeout.bind(window)];
  window.bidexDrawEveryMs = everyMs;
  let next = 0;
  /** Draws that wait, by their timer. */
  const waiting = new Map<number, () => void>();
  const wait = (): number => Math.max(0, next - performance.now());
  const drawAfter = (ms: number, callback: () => void): number => {
    const draw = () => {
      forget(id);
      waiting.delete(id);
      next = performance.now() + (window.bidexDrawEveryMs ?? 0);
      callback();
      // What a drawing itself puts on the page is filled by it.
      added.takeRecords();
    };
    const id = later(draw, ms);
    waiting.set(id, draw);
    return id;
  };
  const clear = (id?: number): void => {
    if (id !== undefined) waiting.delete(id);
    forget(id);
  };
  const setTimer = <A extends unknown[]>(callback: (...args: A) => void, ms?: number, ...args: A): number =>
    ms === undefined ? drawAfter(wait(), () => callback(...args)) : later(callback, ms, ...args);
  Object.assign(window, {
    setTimeout: setTimer,
    clearTimeout: clear,
    requestAnimationFrame: (callback: FrameRequestCallback) =>
      drawAfter(Math.max(16, wait()), () => callback(performance.now())),
    cancelAnimationFrame: clear,
  });
  const drawNow = () => later(() => [...waiting.values()].forEach((draw) => draw()));
  const added = new MutationObserver((changes) => {
    if (changes.some(({addedNodes}) => addedNodes.length)) drawNow();
  });
  added.observe(document, {subtree: true, childList: true});
  for (const act of ['click', 'input', 'change', 'keydown', 'pointerdown', 'pointerup'])
    window.addEventListener(act, drawNow, {capture: true});
}

declare global {
  interface Window {
    bidexPace?: number;
    bidexDrawEveryMs?: number;
  }
}
