/** Starts bench-map-half.ts in a worker: Node 20 hands no loader on to one. */
import {fileURLToPath} from 'node:url';
import {tsImport} from 'tsx/esm/api';

const tsconfig = fileURLToPath(new URL('../tsconfig.node.json', import.meta.url));
await tsImport('./bench-map-half.ts', {parentURL: import.meta.url, tsconfig});
