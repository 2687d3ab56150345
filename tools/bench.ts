/** Figures of speed, printed and not asserted: `npm run bench`. docs/performance.md says what they are held against. */
import {execFileSync} from 'node:child_process';
import {mkdtempSync, readFileSync, rmSync, writeFileSync} from 'node:fs';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import MemoryMap from 'nrf-intel-hex';
import {chips, eraseMs, writeMsPer128Bytes, type Chip} from '@core/firmware/chips';
import {readIntelHex, writeIntelHex} from '@core/firmware/formats/intel-hex';
import {Random} from '@simulator/random';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {motorCardFigures} from './bench-motors';
import {benchCaptures} from './bench-captures';
import {benchNoise} from './bench-noise';
import {simulatorPace} from './bench-simulator';

const row = (name: string, figure: string, note = '') =>
  console.log(`${name.padEnd(58)} ${figure.padStart(12)}  ${note}`);
const seconds = (ms: number) => `${(ms / 1000).toFixed(2)} s`;

/** Nothing can be faster: the bytes at ten bits each, once more where they are read back, and the flash times. */
function limitMs(chip: Chip, pages: number): number {
  const bytesMs = (chip.pageBytes * 10_000) / chip.wireBaud;
  const flashMs = eraseMs + (chip.pageBytes / 128) * writeMsPer128Bytes;
  return pages * ((chip.canChecksum ? 1 : 2) * bytesMs + flashMs);
}

/** Virtual time of one write step against its limit. */
async function wire(craft: string, rewrite: boolean, name: string): Promise<void> {
  const h = new Harness({craft: demoCraft(craft)});
  const order = await h.order(rewrite ? {rewrite: [0]} : {});
  const step = order.steps.find((s) => s.id === 'write-0');
  if (step?.kind !== 'write-firmware') throw new Error('no write step');
  await h.carryOut({...order, steps: [step]});
  const limit = limitMs(h.bench.escs[0]!.chip, step.pages);
  const took = h.wireMs[0]!;
  row(`${name}, ${step.pages} pages`, seconds(took), `${(took / limit).toFixed(3)} of the limit ${seconds(limit)}`);
}

/** Best of a few runs, ms. */
function best(runs: number, work: () => unknown): number {
  let fastest = Infinity;
  for (let i = 0; i < runs; i++) {
    const began = performance.now();
    work();
    fastest = Math.min(fastest, performance.now() - began);
  }
  return fastest;
}

function parse(): void {
  const bytes = new Random(8).bytes(8 * 1024 * 1024);
  const text = writeIntelHex({segments: [{start: 0x0010_0000, bytes}]});
  const mib = (text.length / 2 ** 20).toFixed(1);
  const ours = best(4, () => readIntelHex(text));
  const theirs = best(4, () => MemoryMap.fromHex(text));
  row(`8 MiB image, ${mib} MiB of Intel HEX, ours`, seconds(ours), 'in one process, best of 4');
  row('the same, nrf-intel-hex', seconds(theirs), `ours takes ${(ours / theirs).toFixed(2)} of it`);
  const folder = mkdtempSync(join(tmpdir(), 'bidex-bench-'));
  const file = join(folder, 'image.hex');
  writeFileSync(file, text);
  const whole = (command: string, args: readonly string[]) =>
    best(3, () => execFileSync(command, args, {stdio: 'ignore'}));
  row('whole process: bidex image', seconds(whole('node', ['tools/bidex.mjs', 'image', file])));
  try {
    row(
      'whole process: srec_cat to raw bytes',
      seconds(whole('srec_cat', [file, '-Intel', '-o', join(folder, 'out.bin'), '-Binary'])),
    );
  } catch {
    // Debian's srecord is a tool of the tests, not of the product.
    row('whole process: srec_cat', '–', 'not on this machine: apt-get install srecord');
  }
  rmSync(folder, {recursive: true});
}

console.log(
  `${readFileSync('/proc/cpuinfo', 'utf8').match(/model name\s*: (.*)/)?.[1] ?? 'unknown processor'}, Node ${process.version}\n`,
);
await wire('juniper', true, 'M32, full write');
await wire('juniper', false, 'M32, update of Juniper motor 1, found pages known');
await wire('sorrel', true, 'K8, full write, read back');
row('Limit of 41 pages of M32', seconds(limitMs(chips.M32, 41)));
parse();
const paces = await simulatorPace(6);
row(
  'simulated bench, four motors through a motor card',
  `${Math.max(...paces).toFixed(0)} ×`,
  `real time, best of 6; ${paces[0]!.toFixed(0)} × the first time`,
);
await benchNoise(row);
benchCaptures(row);

const percent = (part: number) => `${(part * 100).toFixed(1)} %`;
for (const [name, f] of Object.entries(await motorCardFigures(200)))
  row(
    `Motor cards of ${f.motors} drawn motors, ${name}`,
    percent(f.medianError),
    `median error; worst ${percent(f.worstError)}; ${percent(f.within)} within their bounds; ${f.told} told`,
  );
