import {defineConfig} from 'vitest/config';
import {fileURLToPath} from 'node:url';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig({
  resolve: {alias: {'@core': at('./core'), '@simulator': at('./simulator'), '@demo': at('./demo')}},
  test: {
    include: ['{core,simulator,server,tools,app}/**/*.test.ts'],
    // A guard against what never ends, not a stopwatch: machines differ threefold.
    testTimeout: 60_000,
    hookTimeout: 60_000,
    // Core has no state of its own between files, so they share one loaded program: loading it 66 times took a third of the time.
    pool: 'threads',
    isolate: false,
    // By itself one core is left to whoever watches; nobody does.
    maxWorkers: 2,
  },
});
