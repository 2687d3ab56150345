/** Compiles what runs without a page. Modules that are wrapped one by one make every call between two of them slow. */
import {mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync} from 'node:fs';
import {dirname, join} from 'node:path';
import {pathToFileURL} from 'node:url';
import {build as compile, type BuildOptions, type Plugin} from 'esbuild';

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

const usual: BuildOptions = {
  ...{bundle: true, splitting: true, format: 'esm', platform: 'node', target: 'node20'},
  ...{outExtension: {'.js': '.mjs'}, plugins: [ownPlace], logLevel: 'warning'},
};

/** @returns the pattern of the compiled files; what they share stands in files of its own and is loaded once. */
export async function compileTests(root: string, folders: readonly string[]): Promise<string> {
  const all = join(root, 'node_modules', '.cache', 'unit');
  mkdirSync(all, {recursive: true});
  // Two runs at once have a folder each; that of a run that has ended goes.
  for (const run of readdirSync(all)) if (!isRunning(Number(run))) rmSync(join(all, run), {recursive: true});
  const outdir = join(all, String(process.pid));
  await compile({
    ...usual,
    entryPoints: folders.map((folder) => join(root, folder, '**/*.test.ts')),
    ...{outdir, outbase: root, chunkNames: 'shared/[hash]', packages: 'external', sourcemap: 'inline'},
  });
  return `node_modules/.cache/unit/${process.pid}/**/*.test.mjs`;
}

function isRunning(pid: number): boolean {
  try {
    // Signal 0 is sent to nobody, and tells whether there is somebody.
    return pid !== process.pid && process.kill(pid, 0);
  } catch {
    return false;
  }
}

/** Where the compiled headless door stands, and when each file that is in it was changed. */
export interface CompiledDoor {
  /** Folder of the project that it was compiled in: its paths are of that one. */
  readonly root: string;
  readonly main: string;
  readonly changedAt: Readonly<Record<string, number>>;
}

/** Compiles the headless door with its packages beside the one of before, and then points to it, so that none is half there. */
export async function compileDoor(root: string, pointer: string): Promise<void> {
  const folder = dirname(pointer);
  mkdirSync(folder, {recursive: true});
  const before = readdirSync(folder, {withFileTypes: true}).filter((entry) => entry.isDirectory());
  const name = `${Date.now()}-${process.pid}`;
  const {metafile} = await compile({
    ...{...usual, absWorkingDir: root, outdir: join(folder, name), metafile: true},
    entryPoints: ['tools/door/main.ts'],
    // It looks for its binary beside itself.
    external: ['serialport'],
    // Packages of the older kind ask for others as they run.
    banner: {
      js: `import {createRequire as $createRequire} from 'node:module';const require = $createRequire(${JSON.stringify(pointer)});`,
    },
  });
  const inputs = Object.keys(metafile.inputs).map((file) => join(root, file));
  const changedAt = Object.fromEntries(inputs.map((file) => [file, statSync(file).mtimeMs]));
  const compiled: CompiledDoor = {root, main: join(folder, name, 'main.mjs'), changedAt};
  writeFileSync(`${pointer}.${process.pid}`, JSON.stringify(compiled));
  renameSync(`${pointer}.${process.pid}`, pointer);
  // One that is running may still load from the last; those before it are nobody's.
  for (const old of before
    .map((entry) => entry.name)
    .sort()
    .slice(0, -1))
    rmSync(join(folder, old), {recursive: true, force: true});
}
