import {defineConfig} from 'vitest/config';
import {fileURLToPath} from 'node:url';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig({
  resolve: {alias: {'@core': at('./core'), '@simulator': at('./simulator'), '@demo': at('./demo')}},
  test: {include: ['{core,simulator,server,tools,app}/**/*.test.ts'], testTimeout: 20_000},
});
