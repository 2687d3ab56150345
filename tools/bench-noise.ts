/** Figures of the Noise station: ten minutes, three axes, 8 kHz; each against what it is held against. */
import {execFileSync} from 'node:child_process';
import {Worker} from 'node:worker_threads';
import {chainOf} from '@core/controller/chain-of';
import {lowPassKinds} from '@core/filters/section';
import {runChain} from '@core/filters/run-chain';
import {readFlight} from '@core/flight/read-flight';
import {logOf} from '@core/testing/known-flight';
import {halved, meanRows, noiseMaps, rowJob, type RowJob, type RowSums} from '@core/spectra/noise-map';
import {flightModel} from '@core/tuning/flight-model';
import {forecast} from '@core/tuning/forecast';
import {searchChains} from '@core/tuning/search';
import {Random} from '@simulator/random';

export type Row = (name: string, figure: string, note?: string) => void;

const sampleRateHz = 8000;
const seconds = 600;
const n = sampleRateHz * seconds;

async function timed<T>(work: () => T | Promise<T>): Promise<{s: number; value: T}> {
  const began = performance.now();
  const value = await work();
  return {s: (performance.now() - began) / 1000, value};
}

/** Best of three. */
function best(work: () => unknown): number {
  let fastest = Infinity;
  for (let i = 0; i < 3; i++) {
    const began = performance.now();
    work();
    fastest = Math.min(fastest, (performance.now() - began) / 1000);
  }
  return fastest;
}

export async function benchNoise(row: Row): Promise<void> {
  const random = new Random(4);
  const gyro = [0, 1, 2].map(() => Float32Array.from({length: n}, () => random.next() - 0.5));
  const throttle = Float32Array.from({length: n}, (_, i) => 50 + 40 * Math.sin(i / 20_000));
  const hz = [0, 1, 2, 3].map((m) => Float32Array.from({length: n}, (_, i) => 200 + 5 * m + 60 * Math.sin(i / 20_000)));
  map(gyro, throttle, row);
  await mapByTwo(gyro, throttle, row);
  filter(gyro, hz, throttle, row);
  const erpm = hz.map((h) => h.map((v) => v * 7 * 60));
  await planEdit(logOf({rate: sampleRateHz, throttle, gyro, trueHz: hz, erpm}), hz, row);
  await csv(row);
}

function map(gyro: readonly Float32Array[], throttle: Float32Array, row: Row): void {
  const options = {sampleRateHz, segment: 1024, hop: 512, parts: [{start: 0, end: n}], rows: 100, from: 0, to: 100};
  const ours = best(() => noiseMaps(gyro, {...options, valueAt: (at) => throttle[at + 512]!}));
  try {
    const theirs = Number(
      execFileSync('python3', ['tools/bench-map.py'], {stdio: ['ignore', 'pipe', 'ignore']}).toString(),
    );
    row(
      'Map over throttle, 3 × 4.8 million samples',
      `${ours.toFixed(2)} s`,
      `scipy ${theirs.toFixed(2)} s: ${(ours / theirs).toFixed(2)} of it`,
    );
  } catch {
    // Debian's scipy is a tool of the tests, not of the product.
    row('Map over throttle, 3 × 4.8 million samples', `${ours.toFixed(2)} s`, 'scipy is not on this machine');
  }
}

/** The same by two workers that share the columns, started before. */
async function mapByTwo(gyro: readonly Float32Array[], throttle: Float32Array, row: Row): Promise<void> {
  const buffers = gyro.map((column) => {
    const buffer = new SharedArrayBuffer(column.byteLength);
    new Float32Array(buffer).set(column);
    return buffer;
  });
  const options = {sampleRateHz, segment: 1024, hop: 512, parts: [{start: 0, end: n}], rows: 100, from: 0, to: 100};
  const workers = [0, 1].map(() => new Worker(new URL('./bench-map-half.mjs', import.meta.url)));
  const ask = (worker: Worker, job: RowJob) =>
    new Promise<RowSums>((resolve, reject) => {
      worker.once('message', resolve).once('error', reject);
      worker.postMessage({buffers, job});
    });
  let [fastest, alone] = [Infinity, Infinity];
  for (let i = 0; i < 4; i++) {
    const start = performance.now();
    await ask(workers[0]!, halved(rowJob({...options, valueAt: (at) => throttle[at + 512]!})).first);
    alone = Math.min(alone, (performance.now() - start) / 1000);
    const began = performance.now();
    const {first, second, from} = halved(rowJob({...options, valueAt: (at) => throttle[at + 512]!}));
    const whole = {...second, starts: second.starts.map((at) => at + from)};
    meanRows(await Promise.all([ask(workers[0]!, first), ask(workers[1]!, whole)]), options);
    fastest = Math.min(fastest, (performance.now() - began) / 1000);
  }
  await Promise.all(workers.map((w) => w.terminate()));
  row('The same map by two workers', `${fastest.toFixed(2)} s`, `a half alone takes ${alone.toFixed(2)} s`);
}

function filter(
  gyro: readonly Float32Array[],
  motorsHz: readonly Float32Array[],
  throttle: Float32Array,
  row: Row,
): void {
  const chain = chainOf({
    replies: true,
    notchHarmonics: [1, 2, 3],
    notchQ: 5,
    notchMinHz: 100,
    movingNotches: 0,
    gyroLowPassHz: 500,
  });
  const part = sampleRateHz * 60;
  const axes = gyro.map((g) => g.subarray(0, part));
  const s = best(() => runChain(chain, {axes, motorsHz, throttle, sampleRateHz}));
  row('36 following notches and a low-pass, all axes', `${(60 / s).toFixed(0)} ×`, 'real time at 8 kHz; at least 100');
}

async function planEdit(log: ReturnType<typeof logOf>, hz: readonly Float32Array[], row: Row): Promise<void> {
  const {s, value: model} = await timed(() => flightModel(log, hz));
  row('Boiling that flight down, once', `${(s * 1000).toFixed(0)} ms`);
  const chain = chainOf({
    replies: true,
    notchHarmonics: [1, 2, 3],
    notchQ: 5,
    notchMinHz: 100,
    movingNotches: 2,
    gyroLowPassHz: 300,
  });
  row('A plan edit on it', `${(best(() => forecast(model, chain, sampleRateHz)) * 1000).toFixed(0)} ms`, 'at most 300');
  const question = {
    flights: [model],
    from: chain,
    filterRateHz: sampleRateHz,
    crossoverHz: 60,
    motors: 4,
    mostLoad: 0.5,
    kinds: lowPassKinds,
    follows: true,
  };
  const search = await timed(() => searchChains({...question, loadOf: (k: number) => 0.1 + 0.005 * k}));
  row('Search of the best chain', `${search.s.toFixed(1)} s`, `${search.value!.length} points; under 20`);
}

async function csv(row: Row): Promise<void> {
  const line = (i: number) =>
    `${i * 125},${(30 + (i % 50) / 10).toFixed(1)},${(i % 997) / 10},${-(i % 991) / 10},${(i % 7) / 10},42000,42100,42200,42300\n`;
  const chunk = new TextEncoder().encode(Array.from({length: 20_000}, (_, i) => line(i)).join(''));
  const head = new TextEncoder().encode(
    'time_us,throttle_pct,gyro_roll,gyro_pitch,gyro_yaw,erpm_1,erpm_2,erpm_3,erpm_4\n',
  );
  const pieces = Math.ceil(100e6 / chunk.length);
  const bytes = head.length + pieces * chunk.length;
  // Times start anew in every piece: another flight begins there, and that is the reader's work too.
  const {s, value} = await timed(() =>
    readFlight([head, ...Array.from({length: pieces}, () => chunk)], {sizeBytes: bytes}),
  );
  if (!value.ok) throw new Error(value.problem.meaning);
  row(`${(bytes / 1e6).toFixed(0)} MB of CSV, nine columns`, `${(bytes / 1e6 / s).toFixed(0)} MB/s`, 'at least 40');
}
