import {defineConfig} from 'vitest/config';
import {fileURLToPath} from 'node:url';
import {compileTests} from './tools/compile';

const root = fileURLToPath(new URL('.', import.meta.url));

export default defineConfig(async () => ({
  test: {
    include: [await compileTests(root, ['core', 'simulator', 'server', 'tools', 'app'])],
    exclude: [],
    // A guard against what never ends, not a stopwatch: a busy machine takes its time over whole flights.
    testTimeout: 600_000,
    hookTimeout: 600_000,
    // Core has no state of its own between files, so they share one loaded program: loading it 66 times took a third of the time.
    pool: 'threads',
    isolate: false,
    // By itself one core is left to whoever watches; nobody does.
    maxWorkers: 2,
  },
}));
