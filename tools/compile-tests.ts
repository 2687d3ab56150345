/** Compiles the unit tests with all they use: a runner that wraps each module apart makes every call between two of them slow. */
import {readFileSync, rmSync} from 'node:fs';
import {dirname, join} from 'node:path';
import {pathToFileURL} from 'node:url';
import {build as compile, type Plugin} from 'esbuild';

/** A compiled file still finds what lies beside its source. */
const ownPlace: Plugin = {
  name: 'own-place',
  setup(build) {
    build.onLoad({filter: /\.ts$/, namespace: 'file'}, ({path}) => {
      const text = readFileSync(path, 'utf8');
      if (!text.includes('import.meta.')) return undefined;
      const contents = text
        .replaceAll('import.meta.url', JSON.stringify(pathToFileURL(path).href))
        .replaceAll('import.meta.dirname', JSON.stringify(dirname(path)));
      return {contents, loader: 'ts'};
    });
  },
};

/** @returns the pattern of the compiled files; what they share stands in files of its own and is loaded once. */
export async function compileTests(root: string, folders: readonly string[]): Promise<string> {
  const outdir = join(root, 'node_modules', '.cache', 'unit');
  rmSync(outdir, {recursive: true, force: true});
  await compile({
    entryPoints: folders.map((folder) => join(root, folder, '**/*.test.ts')),
    ...{outdir, outbase: root, chunkNames: 'shared/[hash]', outExtension: {'.js': '.mjs'}},
    ...{bundle: true, splitting: true, format: 'esm', platform: 'node', packages: 'external', target: 'node20'},
    ...{sourcemap: 'inline', plugins: [ownPlace], logLevel: 'warning'},
  });
  return 'node_modules/.cache/unit/**/*.test.mjs';
}
