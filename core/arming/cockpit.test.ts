/**
 * Gestures, moves, sweeps, switches and fail-safe over the link, on the stand-in's hand and transmitter: what comes out is held
 * against how the stand-in was made, which no code of core knows.
 */
import {describe, expect, it} from 'vitest';
import {poses, type Pose} from '@simulator/hardware/hands/hand';
import {usualCockpit, type CockpitSetup} from '@simulator/hardware/hands/cockpit';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import type {FailSafe} from '../controller/arming-fields';
import {sleep} from '../link/port';
import {ProblemError} from '../problem';
import {transmitterBack} from './transmitter-back';
import {judgeFailSafe, judgeMounting, judgeReceiver, wantedDeadBand} from './arming-proofs';
import {attitudeOf} from './attitude';
import {FrameReader} from './frame-reader';
import {BenchClient} from '../link/client';
import {decodeMessage} from '../link/message';
import {SlipDecoder} from '../link/slip';
import {openPort} from '@simulator/hardware/wires/port';
import {StallingPage} from '@simulator/testing/stalling-page';
import {tryFailSafe, type TrialPhase} from './fail-safe-trial';
import {GestureWatch} from './gesture-watch';
import {findMounting, type FoundMounting} from './mounting';
import {MoveWatch} from './move-watch';
import {SweepWatch} from './sweep-watch';
import {SwitchWatch} from './switch-watch';
import type {ReceiverFrame} from '../link/operations';
import type {FoundChannels} from './channels';

const withCockpit = (cockpit: Partial<CockpitSetup>, failSafe: FailSafe = {action: 'drop', afterMs: 400}) =>
  new Harness({
    setup: (first) => ({
      ...first,
      cockpit: {...usualCockpit, ...cockpit},
      controller: {...first.controller, saved: {...first.controller.saved, failSafe}},
    }),
  });

/** Holds the craft in each pose for a while, reading 20 times a second, until the watch has all it wants. */
async function gestures(h: Harness, order: readonly Pose[]): Promise<GestureWatch> {
  const watch = new GestureWatch();
  const work = async () => {
    for (const pose of order) {
      h.bench.cockpit.hand.pose(pose, h.time.now());
      for (let i = 0; i < 40; i++) {
        const {atMs, g} = await h.client.request('attitude.read', null);
        watch.feed(atMs, g);
        await sleep(h.time, 50);
      }
    }
  };
  await h.run(work());
  return watch;
}

/** Every frame of some seconds, while `act` happens at its beginning. */
async function framesOf(h: Harness, seconds: number, feed: (frame: ReceiverFrame) => void, act = () => {}) {
  const reader = new FrameReader(h.client);
  const work = async () => {
    await reader.read();
    h.time.after(300, act);
    for (let ms = 0; ms < seconds * 1000; ms += 50) {
      const {frames, skipped} = await reader.read();
      expect(skipped).toBe(0);
      frames.forEach(feed);
      await sleep(h.time, 50);
    }
  };
  await h.run(work());
}

const order: readonly Pose[] = ['level', 'nose down', 'right side down'];

describe('the mounting by gestures', () => {
  it.each([0, 90, 180, -90, 45, -20])(
    'of a board turned by %d° is found, and agrees with nothing else',
    async (yaw) => {
      const h = withCockpit({mounted: {roll: 0, pitch: 0, yaw}});
      const watch = await gestures(h, order);
      expect(watch.wanted).toBeUndefined();
      const found = findMounting(watch.result!) as FoundMounting;
      expect(found.kind).toBe('found');
      const turned = yaw % 90 === 0 ? 0.01 : 12;
      expect(Math.abs(found.mounting.yaw - yaw)).toBeLessThan(turned);
      expect(judgeMounting(found, {roll: 0, pitch: 0, yaw}).holds).toBe(true);
      const other = judgeMounting(found, {roll: 0, pitch: 0, yaw: yaw > 0 ? yaw - 90 : yaw + 90});
      expect(other).toMatchObject({holds: false, text: expect.stringContaining('would flip')});
    },
  );

  it('of a board that lies upside down, turned', async () => {
    const h = withCockpit({mounted: {roll: 180, pitch: 0, yaw: 90}});
    const found = findMounting((await gestures(h, order)).result!);
    expect(found).toMatchObject({kind: 'found', mounting: {roll: 180, pitch: 0, yaw: 90}});
  });

  it('waits for another pose: level again is no tilt, and nose down twice is no right side', async () => {
    const h = withCockpit({});
    expect((await gestures(h, ['level', 'level'])).wanted).toBe('noseDown');
    expect((await gestures(h, ['level', 'nose down', 'level', 'nose down'])).wanted).toBe('rightDown');
  });

  it('the attitude follows the hand in every pose', async () => {
    const h = withCockpit({mounted: {roll: 0, pitch: 0, yaw: -90}});
    for (const pose of poses) {
      h.bench.cockpit.hand.pose(pose, h.time.now());
      await h.run(sleep(h.time, 800));
      const {g} = await h.run(h.client.request('attitude.read', null));
      const told = attitudeOf(g, {roll: 0, pitch: 0, yaw: -90});
      const held = h.bench.cockpit.hand.angles(h.time.now());
      expect(Math.abs(((told.rollDeg - held.roll + 540) % 360) - 180)).toBeLessThan(4);
      expect(Math.abs(told.pitchDeg - held.pitch)).toBeLessThan(4);
    }
  });

  it('an accelerometer that is off says so', async () => {
    const h = new Harness();
    await h.run(h.client.request('controller.set', {accelerometer: false}));
    await expect(h.run(h.client.request('attitude.read', null))).rejects.toMatchObject({problem: {code: 'off'}});
  });
});

describe('the receiver by moves and sweeps', () => {
  const mixedUp = {roll: 2, pitch: 3, throttle: 1, yaw: 4} as const;
  const set = {kind: 'serial', port: 2, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 3} as const;

  async function moved(h: Harness): Promise<FoundChannels> {
    const watch = new MoveWatch();
    while (watch.wanted) {
      const stick = watch.wanted;
      await framesOf(
        h,
        2.5,
        (f) => watch.feed(f),
        () => h.bench.cockpit.transmitter.move(stick, h.time.now()),
      );
      expect(watch.wanted).not.toBe(stick);
    }
    return watch.result as FoundChannels;
  }
  async function swept(h: Harness, channel?: FoundChannels['channel']) {
    const watch = new SweepWatch();
    // Begun, and nothing moved yet: a hand takes its time, and trembling is no sweep.
    await framesOf(h, 3, (f) => watch.feed(f));
    expect(watch.isDone(channel)).toBe(false);
    expect(watch.ends(set).map((e) => e.sweeps)).toEqual([0, 0, 0, 0]);
    expect(watch.ends(set).flatMap((e) => e.advice.onTransmitter)).toEqual([]);
    await framesOf(
      h,
      9,
      (f) => watch.feed(f),
      () => h.bench.cockpit.transmitter.sweep(h.time.now()),
    );
    expect(watch.isDone(channel)).toBe(true);
    return watch;
  }

  it('another order, an end that is not reached and one that is passed are found, and what is right is proven', async () => {
    const {transmitter} = usualCockpit;
    const h = withCockpit({
      transmitter: {...transmitter, channel: mixedUp, lowUs: 1013, centreUs: 1499, highUs: 2011, reversed: ['pitch']},
    });
    const moves = await moved(h);
    expect(moves).toMatchObject({kind: 'found', channel: mixedUp, reversed: ['pitch']});
    const watch = await swept(h, moves.channel);
    const roll = watch.ends(moves.channel).find((e) => e.stick === 'roll')!;
    expect(Math.abs(roll.low - 1013)).toBeLessThan(3);
    expect(Math.abs(roll.high - 2011)).toBeLessThan(3);
    expect(roll.advice.onTransmitter.join(' ')).toContain('low end to 1000 µs');
    const verdict = judgeReceiver(moves, watch.ends(moves.channel), set);
    expect(verdict.holds).toBe(false);
    expect(verdict.text).toContain('roll is channel 2, set is 1');
    expect(verdict.text).toContain('The wrong way round: pitch');
  });

  it('sweeps may come before the moves: channels are told apart afterwards', async () => {
    const {transmitter} = usualCockpit;
    const h = withCockpit({transmitter: {...transmitter, channel: mixedUp}});
    const watch = await swept(h);
    const moves = await moved(h);
    expect(watch.travelled).toEqual([1, 2, 3, 4]);
    expect(watch.ends(moves.channel).every((e) => e.advice.isRight)).toBe(true);
  });

  it('a sound transmitter is proven with its rate', async () => {
    const h = withCockpit({});
    const moves = await moved(h);
    const watch = await swept(h, moves.channel);
    expect(judgeReceiver(moves, watch.ends(moves.channel), set)).toMatchObject({holds: true});
    expect(Math.abs(watch.timing!.rateHz - 111)).toBeLessThan(1);
    // A wider dead band is advised for so little trembling; without one it holds all the same.
    expect(judgeReceiver(moves, watch.ends(moves.channel), {...set, deadBandUs: 0}).holds).toBe(true);
  });

  it('a stick that trembles by more than its dead band is told', async () => {
    const h = withCockpit({receiver: {...usualCockpit.receiver, noiseUs: 2}});
    const moves = await moved(h);
    const watch = await swept(h, moves.channel);
    expect(wantedDeadBand(watch.ends(moves.channel))).toBeGreaterThan(3);
    expect(judgeReceiver(moves, watch.ends(moves.channel), {...set, deadBandUs: 0}).text).toContain(
      'the craft would drift',
    );
  });

  it('frames are read one at a time where a hub drops long transfers', async () => {
    const h = withCockpit({});
    h.bench.mishaps.longest = 120;
    let seen = 0;
    const reader = new FrameReader(h.client);
    await h.run(reader.read());
    await h.run(sleep(h.time, 40));
    seen += (await h.run(reader.read())).frames.length;
    expect(seen).toBeGreaterThanOrEqual(3);
  });

  it('a switch is found where it was moved to, and a stick is none', async () => {
    const h = withCockpit({});
    const watch = new SwitchWatch([1, 2, 3, 4]);
    const {transmitter} = h.bench.cockpit;
    await framesOf(
      h,
      2,
      (f) => watch.feed(f),
      () => {
        transmitter.switches.set(6, 0);
        transmitter.move('roll', h.time.now());
      },
    );
    expect(watch.result).toEqual({channel: 6, fromUs: 1300, toUs: 1700});
  });

  it('a switch that was moved before the next frame is found by how it stood before', () => {
    const frame = (atMs: number) => ({atMs, us: [1500, 1500, 1000, 1500, 2000]});
    const [blind, sees] = [
      new SwitchWatch([1, 2, 3, 4]),
      new SwitchWatch([1, 2, 3, 4], [1500, 1500, 1000, 1500, 1000]),
    ];
    for (const watch of [blind, sees]) for (let ms = 0; ms < 900; ms += 9) watch.feed(frame(ms));
    expect([blind.result, sees.result]).toEqual([undefined, {channel: 5, fromUs: 1700, toUs: 2100}]);
  });

  it('what keeps it from being armed is told', async () => {
    const h = withCockpit({});
    const blocks = async () => (await h.run(h.client.request('arming.state', null))).blocks;
    await h.run(sleep(h.time, 100));
    expect(await blocks()).toEqual(['held']);
    const {transmitter, hand} = h.bench.cockpit;
    transmitter.switches.set(5, 1);
    hand.pose('on its left side', h.time.now());
    await h.run(sleep(h.time, 800));
    expect(await blocks()).toEqual(['held', 'switch-on', 'tilted']);
    transmitter.on = false;
    await h.run(sleep(h.time, 800));
    expect(await blocks()).toContain('fail-safe');
    await h.run(h.client.request('controller.set', {switches: []}));
    expect(await blocks()).toContain('no-switch');
  });
});

describe('the fail-safe trial', () => {
  /** Juniper with replies, and a hand at the transmitter that switches it off once the motors turn. */
  async function trial(failSafe: FailSafe, {off = true, letGoAfterMs = Infinity, replyFrom = [0, 1, 2, 3]} = {}) {
    const h = withCockpit({}, failSafe);
    await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
    h.bench.train.replyFrom = replyFrom;
    const phases: TrialPhase[] = [];
    const cancel = {aborted: false};
    const idle = demoCraft('juniper').plan.controller.idlePercent / 100;
    h.time.after(letGoAfterMs, () => (cancel.aborted = true));
    const work = tryFailSafe(h.client, {
      ...{outputs: 4, idle, clock: h.time, cancel},
      onPhase: (phase) => {
        phases.push(phase);
        if (phase === 'turns' && off) h.time.after(900, () => (h.bench.cockpit.transmitter.on = false));
      },
    });
    return {h, phases, result: await h.run(work.catch((e: unknown) => e))};
  }

  it('measures how long the motors turn after the last frame', async () => {
    const {h, phases, result} = await trial({action: 'drop', afterMs: 400});
    expect(phases).toEqual(['starts', 'turns', 'silent']);
    const verdict = judgeFailSafe(result as never);
    expect(verdict.holds).toBe(true);
    // It acts 400 ms after the last frame; what is left is the coast of the motors.
    const {stoodMs} = result as {stoodMs: number[]};
    for (const ms of stoodMs) expect(ms).toBeGreaterThan(400);
    expect(h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
  });

  it.each([
    ['a motor whose replies are its neighbour’s', [0, 0, 2, 3]],
    ['two crossed wires', [1, 0, 2, 3]],
  ])('%s: its stop would not be seen, so nothing is tried', async (_, replyFrom) => {
    const {h, phases, result} = await trial({action: 'drop', afterMs: 400}, {replyFrom});
    expect(result).toMatchObject({
      problem: {code: 'crossed-replies', meaning: expect.stringContaining('come from the wrong motor')},
    });
    expect(phases).toEqual(['starts']);
    expect(h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
  });

  it('is proven only when the transmitter is on again, nothing turns, and the craft is disarmed', async () => {
    const {h, result} = await trial({action: 'drop', afterMs: 400});
    const cancel = {aborted: false};
    const back = transmitterBack(h.client, {clock: h.time, cancel});
    h.time.after(700, () => (h.bench.cockpit.transmitter.on = true));
    const seen = await h.run(back);
    expect(seen).toEqual({isDisarmed: true, turned: []});
    expect(judgeFailSafe(result as never, seen)).toMatchObject({
      ...{holds: true, text: expect.stringContaining('With the transmitter on again it was disarmed.')},
    });
    for (const wrong of [
      {isDisarmed: false, turned: []},
      {isDisarmed: true, turned: [2]},
    ])
      expect(judgeFailSafe(result as never, wrong).holds).toBe(false);
    h.bench.cockpit.transmitter.on = false;
    const never = h.run(transmitterBack(h.client, {clock: h.time, cancel}).catch((e: unknown) => e));
    expect(await never).toMatchObject({problem: {code: 'stays-off'}});
  });

  it.each([
    ['acts after 1.4 s', {action: 'drop', afterMs: 1400}, 'at most 1 s'],
    ['holds', {action: 'hold', afterMs: 400}, 'every motor still turned'],
    ['lands', {action: 'land', afterMs: 400}, 'still turned'],
  ] as const)('one that %s does not hold, and Bidex stops the motors itself', async (_, failSafe, text) => {
    const {h, result} = await trial(failSafe);
    expect(judgeFailSafe(result as never)).toMatchObject({holds: false, text: expect.stringContaining(text)});
    expect(h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
  });

  /** In a trial something happens so long after the transmitter went off, ms. */
  async function disturbed(failSafe: FailSafe, seed: number, happen: (page: StallingPage, h: Harness) => void) {
    const h = withCockpit({}, failSafe);
    await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
    const page = new StallingPage(h.time, 1e-4 * (seed % 5), 1e6);
    const client = new BenchClient(page.behind(openPort(h.bench)), page);
    const idle = demoCraft('juniper').plan.controller.idlePercent / 100;
    const work = tryFailSafe(client, {
      ...{outputs: 4, idle, clock: page, cancel: {aborted: false}},
      onPhase: (phase) => {
        if (phase !== 'turns') return;
        h.time.after(900, () => {
          h.bench.cockpit.transmitter.on = false;
          h.time.after(40 * seed, () => happen(page, h));
        });
      },
    });
    return h.run(work.then(judgeFailSafe).catch((e: unknown) => (e as ProblemError).problem.code));
  }
  const stall = (ms: number) => (page: StallingPage) => page.stall(ms);
  /** Requests that turn motors are lost on the cable for so long; everything else comes through. */
  const losing = (ms: number) => (_: StallingPage, h: Harness) => {
    const {bench, time} = h;
    const receive = bench.receive.bind(bench);
    const until = time.now() + ms;
    bench.receive = (bytes) => {
      const decoder = new SlipDecoder();
      const spins = decoder.push(bytes).some((frame) => {
        const message = decodeMessage(frame);
        return typeof message !== 'string' && message.operation === 'spin';
      });
      if (!spins || time.now() > until) receive(bytes);
    };
  };

  it.each([
    ['hold', 'a page that stalls', stall(350)],
    ['land', 'a page that stalls', stall(350)],
    ['hold', 'a page that stalls for long', stall(3_000)],
    ['hold', 'lost spin frames', losing(450)],
    ['land', 'lost spin frames', losing(3_000)],
  ] as const)(
    '"%s" is never proven by %s: the lease stopped the motors, and not the controller',
    async (action, _, happen) => {
      for (let seed = 0; seed < 20; seed++) {
        const verdict = await disturbed({action, afterMs: 400}, seed, happen);
        if (typeof verdict === 'string')
          expect(['lease-lapsed', 'not-reported', 'hold-ended', 'unanswered', 'late']).toContain(verdict);
        else expect(verdict.holds, `after ${40 * seed} ms: ${verdict.text}`).toBe(false);
      }
    },
  );

  it('one that drops is still proven by a page that stalls a little', async () => {
    const verdicts = [];
    for (let seed = 0; seed < 6; seed++)
      verdicts.push(await disturbed({action: 'drop', afterMs: 400}, seed, stall(60)));
    expect(verdicts.filter((v) => typeof v !== 'string' && v.holds).length).toBeGreaterThanOrEqual(5);
  });

  it.each([
    ['nobody switches off', {off: false}, 'still-on'],
    ['the button is let go', {off: false, letGoAfterMs: 2500}, 'let-go'],
  ] as const)('proves nothing when %s', async (_, how, code) => {
    const {h, result} = await trial({action: 'drop', afterMs: 400}, how);
    expect((result as ProblemError).problem.code).toBe(code);
    expect(h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
  });
});
