import {defineConfig} from '@playwright/test';
import type {OfWorker} from './e2e/test';

const port = 4399;
/** Tests whose frames and tasks are counted: they have the machine to themselves, and tell how long things took. */
const timed = ['first-view.test.ts', 'quick.test.ts'];
/** Those of a serial line in real time, on which a hold ends when nobody answers for 200 ms. */
const serial = ['door.test.ts'];

export default defineConfig<object, OfWorker>({
  testDir: 'e2e',
  // A busy machine costs time and nothing else: what never comes is told late, what comes late passes.
  timeout: 480_000,
  expect: {timeout: 30_000},
  fullyParallel: true,
  // The most that a project may ask for.
  workers: 3,
  // A project does not wait for another: what fails in one hides nothing of the other. tools/test.mjs runs them in turn.
  projects: [
    {name: 'timed', testMatch: timed, workers: 1, use: {drawEveryMs: 0}},
    {name: 'serial', testMatch: serial, workers: 1},
    // One more than cores: page and simulated bench move on one clock, so that no core has to be free, and one waits often.
    {name: 'all', testIgnore: [...timed, ...serial], workers: 3},
  ],
  reporter: [['list'], ['json']],
  outputDir: 'test-results/playwright',
  use: {
    actionTimeout: 60_000,
    baseURL: `http://127.0.0.1:${port}`,
    viewport: {width: 1280, height: 800},
    launchOptions: {
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  webServer: {
    command: 'node --import tsx server/main.ts',
    url: `http://127.0.0.1:${port}/api/releases`,
    env: {PORT: String(port)},
    reuseExistingServer: false,
  },
});
