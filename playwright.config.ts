import {defineConfig} from '@playwright/test';

const port = 4399;
/**
 * Tests that hold motors turning: a page that stalls for half a second ends its hold, as it should. They have the
 * machine to themselves, one at a time.
 */
const holds = ['arming', 'proven', 'safe', 'spin', 'spin-order', 'story', 'firmware', 'plan', 'noise', 'replies'].map(
  (name) => `${name}.test.ts`,
);

export default defineConfig({
  testDir: 'e2e',
  timeout: 180_000,
  expect: {timeout: 15_000},
  // One worker per core.
  fullyParallel: true,
  workers: 2,
  projects: [
    {name: 'first view', testMatch: 'first-view.test.ts'},
    {name: 'quick', testMatch: 'quick.test.ts', dependencies: ['first view']},
    {name: 'all', testIgnore: ['first-view.test.ts', 'quick.test.ts', ...holds], dependencies: ['quick']},
    {name: 'holds', testMatch: holds, workers: 1, dependencies: ['all']},
  ],
  reporter: [['list'], ['json']],
  outputDir: 'test-results/playwright',
  use: {
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
