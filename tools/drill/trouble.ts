/** Random mishaps at random bytes of the cable. */
import type {SimulatedBench} from '@simulator/hardware/bench';
import type {Random} from '@simulator/random';
import type {VirtualTime} from '@core/link/virtual-time';

interface TroubleHooks {
  /** The page is closed: nothing more is written to the journal, the link ends. */
  readonly reload: () => void;
  /** The person presses stop. */
  readonly stop: () => void;
  /** Someone deletes the store while the page has it open. */
  readonly empty: () => void;
  /** The page does nothing for a while. */
  readonly stall: () => void;
  /** The store begins to fail with this chance per read and append; 0 mends it. */
  readonly store: (chance: number) => void;
}

type Mishap = (bench: SimulatedBench, time: VirtualTime, random: Random, hooks: TroubleHooks) => void;

const forAWhile = (time: VirtualTime, ms: number, on: () => void, off: () => void) => {
  on();
  time.after(ms, off);
};
const anyEsc = (bench: SimulatedBench, random: Random) => bench.escs[random.below(bench.escs.length)]!;

/** A worn page is rare in a craft's life, so it stands here once among many. */
const mishaps: readonly Mishap[] = [
  (bench) => bench.setBattery(false),
  (bench) => bench.setBattery(false),
  (bench, time, random) =>
    forAWhile(
      time,
      5 + random.next() * 400,
      () => bench.setBattery(false),
      () => bench.setBattery(true),
    ),
  (bench) => bench.detach(),
  (bench) => bench.detach(),
  (bench) => bench.restartController(),
  (bench, time, random) =>
    forAWhile(
      time,
      4000,
      () => (bench.mishaps.loss = random.next() * 0.002),
      () => (bench.mishaps.loss = 0),
    ),
  (bench, time, random) =>
    forAWhile(
      time,
      4000,
      () => (bench.mishaps.flips = random.next() * 0.002),
      () => (bench.mishaps.flips = 0),
    ),
  (bench, time, random) =>
    forAWhile(
      time,
      4000,
      () => (bench.mishaps.doubles = random.next() * 0.002),
      () => (bench.mishaps.doubles = 0),
    ),
  (bench, time, random) => {
    const esc = anyEsc(bench, random);
    forAWhile(
      time,
      2000 + random.next() * 6000,
      () => (esc.silent = true),
      () => (esc.silent = false),
    );
  },
  (bench, time, random) => {
    const esc = anyEsc(bench, random);
    forAWhile(
      time,
      8000,
      () => (esc.lateMs = random.next() * 900),
      () => (esc.lateMs = 0),
    );
  },
  (bench, time) =>
    forAWhile(
      time,
      20_000,
      () => (bench.mishaps.longest = 280),
      () => (bench.mishaps.longest = Infinity),
    ),
  // Whole frames arrive a second time, seconds late; some adapters carry them out again.
  (bench, time, random) =>
    forAWhile(
      time,
      6000,
      () => {
        bench.mishaps.echoes = random.next() * 0.05;
        bench.mishaps.forgetful = random.next() < 0.5;
      },
      () => (bench.mishaps.echoes = 0),
    ),
  (_bench, time, random, hooks) =>
    forAWhile(
      time,
      3000,
      () => hooks.store(0.02 + random.next() * 0.3),
      () => hooks.store(0),
    ),
  (_bench, _time, _random, hooks) => hooks.reload(),
  (_bench, _time, _random, hooks) => hooks.stop(),
  (_bench, _time, _random, hooks) => hooks.empty(),
  (_bench, _time, _random, hooks) => hooks.stall(),
  (_bench, _time, _random, hooks) => hooks.stall(),
  (bench, _time, random) => {
    const esc = anyEsc(bench, random);
    const {start, end} = esc.chip.application;
    esc.flash.worn.add(((start + random.below(end - start)) / esc.chip.pageBytes) | 0);
  },
  (bench, _time, random) => {
    // A settings page, or the flight controller's memory.
    const esc = anyEsc(bench, random);
    if (random.next() < 0.3) bench.controller.worn = true;
    else esc.flash.worn.add((esc.chip.settings.start / esc.chip.pageBytes) | 0);
  },
];

/** Arms one to four mishaps, each at a random byte and up to 0.6 s behind it, so that erasing and writing are hit too. */
export function armMishaps(
  bench: SimulatedBench,
  time: VirtualTime,
  random: Random,
  {bytes, hooks}: {readonly bytes: number; readonly hooks: TroubleHooks},
): void {
  const count = 1 + random.below(4);
  for (let i = 0; i < count; i++) {
    const mishap = mishaps[random.below(mishaps.length)]!;
    const delayMs = random.next() * 600;
    bench.mishaps.afterBytes(random.below(bytes), () => time.after(delayMs, () => mishap(bench, time, random, hooks)));
  }
}
