/** A person holds and lets go at random moments while the cable misbehaves; the motors' commands are watched by the ms. */
import {ProblemError} from '@core/problem';
import {leaseMs, SpinLease} from '@core/spin/hold/lease';
import {runScript} from '@core/spin/script/run-script';
import {stepsAndCuts} from '@core/spin/script/script';
import type {SimulatedBench} from '@simulator/hardware/bench';
import type {Random} from '@simulator/random';
import type {VirtualTime} from '@core/link/virtual-time';
import type {Tab} from './tab';

/** Share of holds that run a script, and how often one looks whether it is still held, ms. */
const scriptShare = 0.4;
const lookMs = 11;
/** Longest time a frame takes through the cable of the stand-in, ms. */
const cableMs = 2;
/** How long the motors are watched after a stop, ms: longer than any echo of a frame is late. */
const watchMs = 5_000;

interface SpinEpisode {
  readonly bench: SimulatedBench;
  readonly time: VirtualTime;
  readonly random: Random;
  /** The page that holds: it may stall. */
  readonly tab: Tab;
}

/** One hold. Returns how many motors were commanded to turn after it had ended; undefined when it never began. */
export async function spinOnce({bench, time, random, tab}: SpinEpisode): Promise<number | undefined> {
  let endedAt: number | undefined;
  let answered = false;
  const after = new Set<number>();
  const watch = () => {
    if (endedAt === undefined) return void time.after(1, watch);
    const now = time.now();
    // Until the stop arrives the lease may still run; not a millisecond longer.
    if (answered || now > endedAt + leaseMs + cableMs)
      bench.train.outputs.forEach((o, output) => o.throttle > 0 && now <= o.leaseEnds && after.add(output));
    if (now < endedAt + watchMs) time.after(1, watch);
  };
  const end = () => (endedAt ??= time.now());
  const {client, clock} = tab;
  try {
    await client.hello();
    if (random.next() < scriptShare) {
      watch();
      await holdScript({bench, time, random, tab}, end);
      answered = !client.isClosed;
      await new Promise<void>((resolve) => time.after(watchMs, resolve));
      return after.size;
    }
    const lease = new SpinLease(client, clock, end);
    watch();
    const throttle = 0.1 + random.next() * 0.5;
    lease.set(bench.escs.map((_, output) => ({output, throttle})));
    const holdMs = 20 + random.next() * 1_500;
    await new Promise<void>((resolve) => time.after(holdMs, resolve));
    end();
    // The hand is off; a page that stalls hears of it when it is awake.
    await new Promise<void>((resolve) => clock.whenAwake(resolve));
    await lease.stop();
    answered = !client.isClosed;
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    end();
    return endedAt === undefined ? undefined : after.size;
  }
  await new Promise<void>((resolve) => time.after(watchMs, resolve));
  return after.size;
}

/** One hold through a script, let go at a random moment, or held to its end. `end` is told when it is over. */
async function holdScript({bench, time, random, tab}: SpinEpisode, end: () => void): Promise<void> {
  const script = stepsAndCuts(0.05, 0.1 + random.next() * 0.5, 1);
  const cancel = {aborted: false};
  // It is noticed at the next look of the script, which then stops.
  const letGo = () => {
    tab.clock.whenAwake(() => (cancel.aborted = true));
    time.after(lookMs, end);
  };
  time.after(20 + random.next() * 1_900, letGo);
  const outputs = bench.escs.map((_, output) => output);
  const onProgress = (share: number) => share >= 1 && end();
  try {
    const {client, clock} = tab;
    await runScript(client, {script, outputs, allOutputs: outputs.length, poles: 14, clock, cancel, onProgress});
  } finally {
    end();
  }
}

/** Makes the cable bad for the length of an episode: frames lost, late a second time, power and cable gone; and the page stalls. */
export function spinTrouble({bench, time, random, tab}: SpinEpisode): void {
  const {mishaps} = bench;
  if (random.next() < 0.3) time.after(random.next() * 1_600, () => tab.stall());
  mishaps.echoes = random.next() * 0.5;
  mishaps.loss = random.next() < 0.5 ? random.next() * 0.02 : 0;
  const at = random.next() * 1_600;
  const draw = random.next();
  if (draw < 0.2) {
    time.after(at, () => bench.setBattery(false));
    time.after(at + random.next() * 400, () => bench.setBattery(true));
  } else if (draw < 0.35) time.after(at, () => bench.detach());
  else if (draw < 0.6) {
    // A burst in which nothing gets through.
    time.after(at, () => (mishaps.longest = 0));
    time.after(at + random.next() * 900, () => (mishaps.longest = Infinity));
  }
  time.after(3_000, () => {
    mishaps.echoes = mishaps.loss = 0;
    mishaps.longest = Infinity;
  });
}
