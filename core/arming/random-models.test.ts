/**
 * Fail-safe timing, gestures and frame rates on random courses of small models that are written here and share nothing with the
 * simulator: a receiver, a controller and its motors; a hand; a radio that loses frames.
 */
import {describe, expect, it} from 'vitest';
import type {BenchClient} from '../link/client';
import {runInVirtualTime, VirtualTime} from '../link/virtual-time';
import {ProblemError} from '../problem';
import {uniform} from '../testing/known-flight';
import type {ReceiverFrame, Report} from '../link/operations';
import {judgeFailSafe, judgeReceiver} from './arming-proofs';
import {sticks, type Stick} from './channels';
import {tryFailSafe, type FailSafeTrial} from './fail-safe-trial';
import {frameTiming} from './frame-rate';
import {GestureWatch} from './gesture-watch';
import {findMounting} from './mounting';
import {MoveWatch} from './move-watch';
import {SweepWatch} from './sweep-watch';

const breathe = () => new Promise<void>((resolve) => setImmediate(resolve));

interface Course {
  /** Time between two frames and two reports, ms. */
  readonly frameMs: number;
  readonly reportMs: number;
  /** From the last frame until the controller stops its motors; Infinity: never. */
  readonly actsAfterMs: number;
  /** Each motor's way to rest, ms. */
  readonly coastMs: readonly number[];
  /** Motors turn so long before the transmitter goes off, ms. */
  readonly turnsMs: number;
}

/** A flight controller with a receiver behind a link without delay; no more of it than a trial asks for. */
class ModelController {
  private frames: number[] = [];
  private listener: ((report: Report) => void) | undefined;
  private offAt = Infinity;
  private isTurningAll = false;
  readonly lastHold = 0;
  readonly isClosed = false;

  /** Since when each motor is commanded to turn, and since when one that turned is not, ms. */
  private readonly drivenAt: (number | undefined)[] = [];
  private readonly releasedAt: (number | undefined)[] = [];

  constructor(
    private readonly time: VirtualTime,
    private readonly course: Course,
  ) {
    const frame = (): void => {
      if (time.now() < this.offAt) this.frames.push(time.now());
      time.after(course.frameMs, frame);
    };
    const report = (): void => {
      this.listener?.(this.reportNow());
      time.after(course.reportMs, report);
    };
    frame();
    report();
  }

  get lastFrameMs(): number {
    return this.frames.at(-1)!;
  }

  private get silentMs(): number {
    return this.time.now() - this.lastFrameMs;
  }

  private reportNow(): Report {
    const motors = this.course.coastMs.map((_, m) => {
      const erpm = this.erpmOf(m);
      return {erpm, throttle: erpm ? 0.05 : 0, asked: 1, lost: 0};
    });
    return {atMs: this.time.now(), power: {volts: 16, amps: 1, cycles: 1}, load: 0.3, motors};
  }

  /** Full speed from 300 ms after the command on; without one, or once the controller has acted, down in a straight line. */
  private erpmOf(motor: number): number {
    const {actsAfterMs, coastMs} = this.course;
    const driven = this.drivenAt[motor];
    const released = this.releasedAt[motor];
    const coastedMs = Math.max(this.silentMs - actsAfterMs, released === undefined ? 0 : this.time.now() - released);
    const turns = released !== undefined || (driven !== undefined && this.time.now() - driven > 300);
    return turns ? Math.ceil(9_000 * Math.min(1, Math.max(0, 1 - Math.max(0, coastedMs) / coastMs[motor]!))) : 0;
  }

  hello = () => Promise.resolve({});
  can = () => true;
  takeHold = () => 1;
  onReport = (listener: (report: Report) => void) => {
    this.listener = listener;
    return () => (this.listener = undefined);
  };

  request(operation: string, argument: unknown): Promise<unknown> {
    if (operation === 'receiver.frames') {
      const {since, most} = argument as {since: number; most: number};
      const from = Math.min(since, this.frames.length);
      const frames = this.frames.slice(from, from + most).map((atMs) => ({atMs, us: [1500]}));
      return Promise.resolve({from, frames, nowMs: this.time.now()});
    }
    if (operation !== 'spin') return Promise.resolve(null);
    this.command((argument as {commands: {value: number}[]}).commands.map((c) => c.value > 0));
    if (this.silentMs <= this.course.actsAfterMs) return Promise.resolve(null);
    return Promise.reject(
      new ProblemError({code: 'fail-safe', place: 'flight controller', meaning: 'No frame came.', remedy: 'None.'}),
    );
  }

  private command(turns: readonly boolean[]): void {
    const now = this.time.now();
    turns.forEach((on, m) => {
      const driven = this.drivenAt[m];
      if (on) this.releasedAt[m] = undefined;
      else if (driven !== undefined) this.releasedAt[m] = now - driven > 300 ? now : undefined;
      this.drivenAt[m] = on ? (driven ?? now) : undefined;
    });
    if (this.isTurningAll || !turns.every(Boolean)) return;
    this.isTurningAll = true;
    this.time.after(300 + this.course.turnsMs, () => (this.offAt = this.time.now()));
  }
}

const trial = async (course: Course) => {
  const time = new VirtualTime();
  const model = new ModelController(time, course);
  const work = tryFailSafe(model as unknown as BenchClient, {
    ...{outputs: course.coastMs.length, idle: 0.055, clock: time, cancel: {aborted: false}},
  });
  return runInVirtualTime(time, breathe, work).catch((error: unknown) => {
    if (error instanceof ProblemError) return error.problem.code;
    throw error;
  });
};

describe('the fail-safe trial on a model of its own', () => {
  const random = uniform(77);
  const between = (a: number, b: number) => a + (b - a) * random();
  const drawn = (over: Partial<Course> = {}): Course => ({
    ...{frameMs: between(4, 25), reportMs: between(20, 60), actsAfterMs: between(260, 900)},
    coastMs: Array.from({length: 4 + 2 * Number(random() < 0.3)}, () => between(20, 600)),
    turnsMs: between(400, 2500),
    ...over,
  });

  it('times every motor to the distance of two reports, and holds where the last stands within 1 s (trade fact)', async () => {
    let held = 0;
    for (let n = 0; n < 60; n++) {
      const course = drawn();
      const result = (await trial(course)) as FailSafeTrial;
      expect(result, JSON.stringify(course)).toBeTypeOf('object');
      const {stoodMs, resolutionMs} = result;
      expect(resolutionMs).toBeCloseTo(course.reportMs, 6);
      course.coastMs.forEach((coast, m) => {
        const true_ = course.actsAfterMs + coast;
        expect(stoodMs[m]! - true_, JSON.stringify({course, stoodMs})).toBeGreaterThanOrEqual(-1e-6);
        expect(stoodMs[m]! - true_).toBeLessThanOrEqual(course.reportMs + 1e-6);
      });
      const last = course.actsAfterMs + Math.max(...course.coastMs);
      const {holds} = judgeFailSafe(result);
      // It never holds where it should not; where it might not be known well enough it does not either.
      if (last > 1000) expect(holds).toBe(false);
      if (last + 2 * course.reportMs < 1000) expect(holds).toBe(true);
      held += Number(holds);
    }
    expect(held).toBeGreaterThan(5);
    expect(held).toBeLessThan(55);
  });

  it('one that never acts is never proven, whatever its frames, reports and motors', async () => {
    for (let n = 0; n < 12; n++) {
      const result = (await trial(drawn({actsAfterMs: Infinity}))) as FailSafeTrial;
      expect(result.stoodMs.every((ms) => ms === undefined)).toBe(true);
      expect(judgeFailSafe(result).holds).toBe(false);
    }
  });
});

type Axes = readonly [number, number, number];

describe('gestures of a hand of its own', () => {
  const random = uniform(78);
  const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
  /** What an accelerometer measures straight ahead and upright in a craft that is held so: up in its axes, g. */
  const held = (roll: number, pitch: number): Axes => {
    const [r, p] = [(roll * Math.PI) / 180, (pitch * Math.PI) / 180];
    return [Math.sin(p), -Math.cos(p) * Math.sin(r), -Math.cos(p) * Math.cos(r)];
  };
  interface Pose {
    readonly at: readonly [roll: number, pitch: number];
    readonly ms: number;
  }
  /** Feeds poses one after the other, with ways between them, and a hand that trembles or shakes. */
  function play(watch: GestureWatch, poses: readonly Pose[], {everyMs = 20, noiseG = 0.01, shakeDeg = 0} = {}): void {
    let [now, last] = [0, poses[0]!.at];
    for (const {at, ms} of poses) {
      const wayMs = 400;
      for (let t = 0; t < wayMs + ms; t += everyMs) {
        const share = Math.min(1, t / wayMs);
        const shake = shakeDeg * Math.sin(now / 40);
        const g = held(last[0] + (at[0] - last[0]) * share + shake, last[1] + (at[1] - last[1]) * share);
        watch.feed((now += everyMs), g.map((v) => v + noiseG * normal()) as unknown as Axes);
      }
      last = at;
    }
  }
  const miss = () => (2 * random() - 1) * 4;
  const gestures = (tilt: number, ms: number): Pose[] => [
    {at: [miss() / 2, miss() / 2], ms},
    {at: [miss(), -tilt + miss()], ms},
    {at: [miss() / 2, miss() / 2], ms: 200},
    {at: [tilt + miss(), miss()], ms},
  ];

  it('are taken by themselves from 200 hands, and tell the mounting', () => {
    for (let n = 0; n < 200; n++) {
      const watch = new GestureWatch();
      play(watch, gestures(32 + 30 * random(), 900 + 800 * random()), {
        everyMs: 10 + 60 * random(),
        noiseG: 0.015 * random(),
      });
      expect(watch.wanted).toBeUndefined();
      const found = findMounting(watch.result!);
      expect(found).toMatchObject({kind: 'found', mounting: {roll: 0, pitch: 0, yaw: 0}});
    }
  });

  it('are never taken from a hand that shakes, that moves on too soon, or that never tilts', () => {
    for (let n = 0; n < 60; n++) {
      const [shaking, hasty, flat] = [new GestureWatch(), new GestureWatch(), new GestureWatch()];
      play(shaking, gestures(45, 1500), {shakeDeg: 12});
      play(hasty, gestures(45, 250));
      play(flat, [
        {at: [0, 0], ms: 1500},
        {at: [miss(), miss()], ms: 1500},
        {at: [10 + miss(), 0], ms: 1500},
      ]);
      expect([shaking.wanted, hasty.result, flat.wanted]).toEqual(['level', undefined, 'noseDown']);
    }
  });

  it('the same tilt twice is not two of them', () => {
    const watch = new GestureWatch();
    play(watch, [
      {at: [0, 0], ms: 1200},
      {at: [0, -45], ms: 1200},
      {at: [0, 0], ms: 1200},
      {at: [4, -50], ms: 1200},
    ]);
    expect(watch.wanted).toBe('rightDown');
  });
});

describe('frames of a radio of its own', () => {
  it('rate, lost frames and the longest gap are told of 300 radios, whatever they lose and however they tremble', () => {
    const random = uniform(79);
    for (let n = 0; n < 300; n++) {
      const everyMs = [2, 4, 9, 11, 14, 20, 22][Math.floor(random() * 7)]! * (0.98 + 0.04 * random());
      const [loss, jitter] = [0.2 * random() ** 2, 0.15 * random()];
      const times: number[] = [];
      for (let i = 0; i < 400; i++) {
        const isCut = i > 200 && i < 200 + 8 * random();
        if (i === 0 || i === 399 || !(isCut || random() < loss))
          times.push(1000 + everyMs * (i + jitter * (random() - 0.5)));
      }
      const timing = frameTiming(times)!;
      expect(Math.abs(timing.usualMs / everyMs - 1)).toBeLessThan(0.05);
      // The clock of the radio is known to a few percent: in a gap of many frames one of them more or less.
      expect(Math.abs(timing.missing - (400 - times.length))).toBeLessThanOrEqual(2);
      expect(timing.expected).toBe(times.length - 1 + timing.missing);
      expect(timing.longestMs).toBeCloseTo(Math.max(...times.slice(1).map((t, i) => t - times[i]!)), 9);
    }
  });
});

describe('sticks of a transmitter of its own', () => {
  const random = uniform(80);
  const pick = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)]!;
  interface Transmitter {
    readonly channel: Readonly<Record<Stick, number>>;
    readonly reversed: readonly Stick[];
    readonly lowUs: number;
    readonly highUs: number;
    readonly centreUs: number;
    readonly trembleUs: number;
  }
  const drawn = (): Transmitter => {
    const channels = [1, 2, 3, 4, 5, 6].sort(() => random() - 0.5);
    return {
      channel: Object.fromEntries(sticks.map((stick, i) => [stick, channels[i]!])) as Record<Stick, number>,
      reversed: random() < 0.25 ? [pick(sticks)] : [],
      ...{lowUs: pick([988, 1000, 1000, 1000, 1012]), highUs: pick([1985, 2000, 2000, 2000, 2012])},
      ...{centreUs: pick([1500, 1500, 1500, 1506]), trembleUs: pick([0, 1, 2, 5])},
    };
  };

  /** Frames of sticks that are at these places, −1 … 1; a throttle rests at the bottom. */
  class Radio {
    private now = 0;
    constructor(private readonly tx: Transmitter) {}
    frame(at: Partial<Record<Stick, number>>): ReceiverFrame {
      const {channel, reversed, lowUs, highUs, centreUs, trembleUs} = this.tx;
      const us = [1500, 1500, 1500, 1500, 1500, 1500];
      for (const stick of sticks) {
        const place = (at[stick] ?? (stick === 'throttle' ? -1 : 0)) * (reversed.includes(stick) ? -1 : 1);
        const pulse = place < 0 ? centreUs + place * (centreUs - lowUs) : centreUs + place * (highUs - centreUs);
        us[channel[stick] - 1] = pulse;
      }
      // A receiver tells whole microseconds; what trembles seldom goes all the way.
      return {atMs: (this.now += 11), us: us.map((v) => Math.round(v + trembleUs * (random() + random() - 1)))};
    }
  }

  const moved = (radio: Radio) => {
    const watch = new MoveWatch();
    for (const stick of sticks) {
      const [from, to] = stick === 'throttle' ? [-1, 1] : [0, 1];
      for (let i = 0; i < 40; i++) watch.feed(radio.frame({}));
      for (let i = 0; i < 60; i++)
        watch.feed(radio.frame({[stick]: from + (to - from) * Math.sin((Math.PI * i) / 60)}));
      for (let i = 0; i < 60; i++) watch.feed(radio.frame({}));
    }
    return watch.result!;
  };
  const swept = (radio: Radio) => {
    const watch = new SweepWatch();
    for (let i = 0; i < 480; i++) {
      // Against the stops, and a while there.
      const at = Math.max(-1, Math.min(1, 1.4 * Math.sin((2 * Math.PI * i) / 120)));
      watch.feed(radio.frame({roll: at, pitch: at, throttle: at, yaw: at}));
    }
    for (let i = 0; i < 150; i++) watch.feed(radio.frame({}));
    return watch;
  };

  it('300 receivers are proven where all is as it should be, and no other', () => {
    let held = 0;
    for (let n = 0; n < 300; n++) {
      const tx = drawn();
      const set = {kind: 'serial', port: 1, deadBandUs: pick([0, 2, 8]), ...tx.channel} as const;
      const swapped = random() < 0.2 ? {...set, roll: set.pitch, pitch: set.roll} : set;
      const moves = moved(new Radio(tx));
      if (moves.kind !== 'found') throw new Error(moves.why);
      expect({channel: moves.channel, reversed: moves.reversed}).toEqual({channel: tx.channel, reversed: tx.reversed});
      const watch = swept(new Radio(tx));
      expect(watch.isDone(moves.channel)).toBe(true);
      const {holds, text} = judgeReceiver(moves, watch.ends(moves.channel), swapped);
      const isRight =
        swapped === set &&
        !tx.reversed.length &&
        tx.lowUs <= 1002 &&
        tx.highUs >= 1998 &&
        Math.abs(tx.centreUs - 1500) <= 2 &&
        tx.trembleUs <= Math.max(2, set.deadBandUs);
      expect(holds, `${text} ${JSON.stringify({tx, swapped})}`).toBe(isRight);
      held += Number(holds);
    }
    expect(held).toBeGreaterThan(20);
  });
});
