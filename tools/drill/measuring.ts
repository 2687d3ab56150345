/**
 * A person measures what the stations prove, over the link, with a hand, sticks and a transmitter that are the simulator's. What
 * comes out is what a station would keep: a verdict with its count, or nothing where a problem ended it.
 */
import type {Found} from '@core/bench/found';
import {judgeFailSafe, judgeMounting, judgeReceiver, type Verdict} from '@core/arming/arming-proofs';
import {tryFailSafe} from '@core/arming/fail-safe-trial';
import {FrameReader} from '@core/arming/frame-reader';
import {GestureWatch, type Gesture} from '@core/arming/gesture-watch';
import {findMounting} from '@core/arming/mounting';
import {MoveWatch} from '@core/arming/move-watch';
import {SweepWatch} from '@core/arming/sweep-watch';
import {transmitterBack} from '@core/arming/transmitter-back';
import type {Craft} from '@core/craft/craft';
import type {BenchClient} from '@core/link/client';
import type {ReceiverFrame} from '@core/link/operations';
import {sleep, type Clock} from '@core/link/port';
import {ProblemError} from '@core/problem';
import {judgeReplies, type ReplyMeasure} from '@core/replies/replies';
import {verdictOnCard} from '@core/spin/verdict/motion-proof';
import {measureReplies} from '@core/spin/replies/measure-replies';
import {replyQuestion} from '@core/spin/replies/reply-question';
import {runEveryCard} from '@core/spin/script/every-card';
import type {SimulatedBench} from '@simulator/hardware/bench';
import type {Pose} from '@simulator/hardware/hands/hand';
import type {Random} from '@simulator/random';

export interface Measurer {
  readonly client: BenchClient;
  /** The page's clock. */
  readonly clock: Clock;
  /** The world's: hands do not stall. */
  readonly world: Clock;
  readonly bench: SimulatedBench;
  readonly random: Random;
  readonly craft: Craft;
  /** As the last survey found it. */
  readonly found: Found;
}

/** What a measurement says, and from how many things. */
export interface Measured extends Verdict {
  readonly counted: number;
  /** Power cycle in which it was kept. */
  readonly cycles: number;
  readonly replies?: readonly ReplyMeasure[];
}

type Seen = Omit<Measured, 'cycles'>;

/** Kinds that a person measures beside a work order. */
export const measuredKinds = ['replies', 'motion', 'mounting', 'receiver', 'fail-safe'] as const;
export type MeasuredKind = (typeof measuredKinds)[number];

/** Undefined where nothing came of it. */
export async function measure(kind: MeasuredKind, m: Measurer): Promise<Measured | undefined> {
  try {
    await m.client.hello();
    const told = await measures[kind](m);
    return told && {...told, cycles: (await m.client.request('power', null)).cycles};
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    return undefined;
  } finally {
    m.bench.cockpit.transmitter.on = true;
  }
}

const measures: Readonly<Record<MeasuredKind, (m: Measurer) => Promise<Seen | undefined>>> = {
  replies: measureAllReplies,
  motion: measureMotion,
  mounting: gestures,
  receiver: sticks,
  'fail-safe': failSafe,
};

const held = {aborted: false};

async function measureAllReplies({client, clock, craft, found}: Measurer): Promise<Seen> {
  const replies = await measureReplies(client, {...replyQuestion(craft, found), clock, cancel: held});
  const counted = replies.reduce((sum, r) => sum + r.motors.reduce((own, {asked}) => own + asked, 0), 0);
  return {...judgeReplies(replies), counted, replies};
}

async function measureMotion({client, clock, craft, found}: Measurer): Promise<Seen | undefined> {
  const {endedBy, ...measured} = await runEveryCard(client, {craft, found, clock, cancel: held});
  if (endedBy) return undefined;
  const {count, ...verdict} = verdictOnCard(measured, craft, found);
  return {...verdict, counted: count};
}

const poseOf: Readonly<Record<Gesture, Pose>> = {
  level: 'level',
  noseDown: 'nose down',
  rightDown: 'right side down',
};
/** A hand holds each pose so long, and tries each so often; between two looks, ms. */
const [heldMs, tries, lookMs] = [2_000, 3, 50];

async function gestures({client, clock, world, bench, found}: Measurer): Promise<Seen | undefined> {
  const set = found.controller?.config.mounting;
  const watch = new GestureWatch();
  for (let left = tries * 3; watch.wanted && left > 0; left--) {
    bench.cockpit.hand.pose(poseOf[watch.wanted], world.now());
    const {wanted} = watch;
    for (const until = clock.now() + heldMs; clock.now() < until && watch.wanted === wanted;) {
      const {atMs, g} = await client.request('attitude.read', null);
      watch.feed(atMs, g);
      await sleep(clock, lookMs);
    }
  }
  const told = watch.result && findMounting(watch.result);
  if (told?.kind !== 'found' || !set) return undefined;
  return {...judgeMounting(told, set), counted: watch.readings};
}

async function sticks({client, clock, world, bench, found}: Measurer): Promise<Seen | undefined> {
  const set = found.controller?.config.receiver;
  const [moves, sweeps] = [new MoveWatch(), new SweepWatch()];
  const reader = new FrameReader(client);
  const {transmitter} = bench.cockpit;
  const watch = async (ms: number, feed: (frame: ReceiverFrame) => void, isDone: () => boolean) => {
    for (const until = clock.now() + ms; clock.now() < until && !isDone();) {
      (await reader.read()).frames.forEach(feed);
      await sleep(clock, lookMs);
    }
  };
  await reader.read();
  for (let left = tries * 4; moves.wanted && left > 0; left--) {
    const {wanted} = moves;
    world.after(300, () => transmitter.move(wanted, world.now()));
    await watch(
      2_500,
      (f) => moves.feed(f),
      () => moves.wanted !== wanted,
    );
  }
  const channels = moves.result;
  if (channels?.kind !== 'found' || !set) return undefined;
  world.after(300, () => transmitter.sweep(world.now()));
  await watch(
    9_000,
    (f) => sweeps.feed(f),
    () => sweeps.isDone(channels.channel),
  );
  if (!sweeps.isDone(channels.channel)) return undefined;
  return {...judgeReceiver(channels, sweeps.ends(channels.channel), set), counted: moves.frames + sweeps.frames};
}

async function failSafe({client, clock, world, bench, random, craft}: Measurer): Promise<Seen> {
  const {transmitter} = bench.cockpit;
  const offAfterMs = 200 + random.next() * 1_500;
  const trial = await tryFailSafe(client, {
    ...{outputs: craft.arms.length, idle: craft.plan.controller.idlePercent / 100, clock, cancel: held},
    onPhase: (phase) => {
      if (phase === 'turns') world.after(offAfterMs, () => (transmitter.on = false));
    },
  });
  world.after(700, () => (transmitter.on = true));
  const back = await transmitterBack(client, {clock, cancel: held});
  return {...judgeFailSafe(trial, back), counted: trial.reports};
}
