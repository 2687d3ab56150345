/** Stress runs on simulated benches with one thing wrong each: what the pattern is taken for, with its evidence and what to do next. */
import {describe, expect, it} from 'vitest';
import type {WireConfig} from '@core/link/operations';
import {findChip} from '@core/firmware/chips';
import {aloneAndTogether, judgeQuality, shareOf, type ReplyQuality} from '@core/replies/reply-quality';
import {stressReplies, stressScript} from '@core/spin/replies/stress-replies';
import {tallyQuestion} from '@core/spin/replies/reply-question';
import type {SimulatedBench} from '@simulator/hardware/bench';
import {Harness, demoCraft} from '@simulator/testing/bench-harness';
import {replyFindings} from './reply-findings';
import {percent} from '../words/percent';

interface Wrong {
  readonly craft?: string;
  readonly config?: Partial<WireConfig>;
  /** Leaves the ESCs as they were found. */
  readonly oldEscs?: boolean;
  readonly change?: (bench: SimulatedBench) => void;
  readonly batteryOff?: boolean;
  readonly seconds?: number;
}

/** A bench with its order carried out, then one thing changed, stressed for some seconds. */
async function stressed({craft = 'juniper', config, oldEscs, change, batteryOff, seconds = 10}: Wrong) {
  const h = new Harness({craft: demoCraft(craft)});
  if (!oldEscs) await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
  if (config) {
    h.bench.controller.set(config);
    h.bench.controller.save();
    h.bench.controller.restart();
  }
  const found = await h.survey();
  change?.(h.bench);
  if (batteryOff) h.time.after(300, () => h.bench.setBattery(false));
  const loaded: number[][] = [];
  const {quality, endedBy} = await h.run(
    stressReplies(h.client, {
      onFullLoad: () => loaded.push(h.bench.train.outputs.map((o) => o.throttle)),
      ...{clock: h.time, cancel: {aborted: false}, question: tallyQuestion(h.craft, found, h.bench.train.volts)},
      script: stressScript(h.craft.plan.controller.idlePercent / 100, 0.3, seconds, h.craft.arms.length),
    }),
  );
  const {identity, config: runs} = found.controller!;
  const findings = replyFindings({
    ...{quality, found, plan: h.craft.plan.controller, volts: h.bench.train.volts},
    countedPoles: h.craft.motor.poles,
    place: {
      ...{gyroHz: runs.gyroHz, clockMhz: identity.clockMhz, outputs: h.craft.arms.length},
      chip: findChip(found.escs[0]!.boot.chip),
    },
  });
  return {quality, endedBy, findings, ids: findings.map((f) => f.id), loaded, h};
}

/** What no bench does: a pattern by itself. */
function pattern(overThrottle: readonly [number, number][], overSpeed: readonly [number, number][]) {
  const bins = (of: readonly [number, number][]) => of.map(([asked, lost]) => ({asked, lost}));
  const [asked, lost] = overThrottle.reduce(([a, l], [x, y]) => [a + x, l + y], [0, 0]);
  const motor = {asked, lost, implausible: 0, overThrottle: bins(overThrottle), overSpeed: bins(overSpeed)};
  return (quality: Partial<ReplyQuality> = {}): ReplyQuality => ({
    ...{seconds: 10, load: 0.2, mostRpm: 40_000, timeS: 0.25, overTime: [], motors: [motor, motor, motor, motor]},
    ...quality,
  });
}

/** What counts of a Juniper whose order was carried out are taken for. */
async function onUpdatedJuniper(): Promise<(quality: ReplyQuality) => string[]> {
  const h = new Harness();
  await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
  const found = await h.survey();
  return (quality) =>
    replyFindings({
      ...{quality, found, plan: h.craft.plan.controller, volts: 24, countedPoles: 14},
      place: {gyroHz: 8000, clockMhz: 216, outputs: 4, chip: findChip('M32')},
    }).map((f) => f.id);
}

describe('patterns over throttle and speed', async () => {
  const ids = await onUpdatedJuniper();
  const of = (low: number, high: number): [number, number][] => [
    [10_000, low],
    [10_000, high],
  ];

  it('what rises with throttle, with speed, and with neither', () => {
    expect(ids(pattern(of(2, 80), of(40, 42))())).toEqual(['rises-with-throttle']);
    expect(ids(pattern(of(40, 42), of(2, 80))())).toEqual(['rises-with-speed']);
    expect(ids(pattern(of(40, 42), of(40, 42))())).toEqual(['unclear']);
  });

  it('a few losses are no pattern', () => {
    expect(ids(pattern(of(0, 4), of(0, 4))())).toEqual(['unclear']);
  });

  it('a load beyond 65 % is a cause by itself, whatever the pattern', () => {
    expect(ids(pattern(of(40, 42), of(40, 42))({load: 0.8}))).toEqual(['overloaded']);
  });
});

describe('each alone and all together', async () => {
  const idsOf = await onUpdatedJuniper();
  const ids = (alone: [number, number], together: [number, number]) => {
    const bin = ([asked, lost]: [number, number]) => ({asked: asked / 4, lost: lost / 4});
    const both = {asked: (alone[0] + together[0]) / 4, lost: (alone[1] + together[1]) / 4};
    const none = {asked: 0, lost: 0};
    const motor = {
      ...{...both, implausible: 0, overSpeed: [both]},
      ...{overThrottle: [none, none, both], alone: [none, none, bin(alone)]},
    };
    return idsOf({
      ...{seconds: 10, load: 0.2, mostRpm: 40_000, timeS: 0.25, overTime: []},
      motors: [motor, motor, motor, motor],
    });
  };

  it.each<[string, [number, number], [number, number], string]>([
    ['four times as much together', [6400, 24], [51_200, 720], 'rises-with-all'],
    ['the same, counted short of it by chance', [6400, 40], [51_200, 720], 'rises-with-all'],
    ['half as much again is no such pattern', [6400, 60], [51_200, 720], 'unclear'],
    ['more, but by so few that it may be chance', [3200, 4], [9600, 24], 'unclear'],
    ['as much alone', [6400, 88], [51_200, 720], 'unclear'],
  ])('%s', (_, alone, together, id) => expect(ids(alone, together)).toEqual([id]));
});

describe('why replies are lost', () => {
  it('a sound craft: nothing is lost, the run passes with its bound, and there is nothing to find', async () => {
    const {quality, ids, endedBy, loaded} = await stressed({});
    expect(endedBy).toBeUndefined();
    expect(loaded).toHaveLength(1);
    for (const throttle of loaded[0]!) expect(throttle).toBeGreaterThan(0.29);
    expect(judgeQuality(quality)).toMatchObject({holds: true});
    expect(judgeQuality(quality).text).toMatch(/^None of 1[56]\d,\d{3} replies lost in 10 s; with 95 % certainty/);
    expect(ids).toEqual([]);
    expect(quality.motors[0]!.oldestMs).toBeLessThan(1);
    expect(quality.overTime.length).toBeGreaterThan(30);
  });

  it('replies that are off in the controller', async () => {
    expect((await stressed({config: {replies: false}, seconds: 2})).ids).toEqual(['replies-off']);
  });

  it('firmware without replies', async () => {
    const {findings} = await stressed({config: {replies: true}, oldEscs: true, seconds: 2, craft: 'bramble'});
    expect(findings[0]).toMatchObject({id: 'no-reply-firmware', action: {station: 'firmware'}});
  });

  it('a battery that went off', async () => {
    const {ids, endedBy} = await stressed({batteryOff: true, seconds: 3});
    expect(endedBy).toBeDefined();
    expect(ids).toEqual(['no-battery']);
  });

  it('an 8-bit ESC on DShot600', async () => {
    const {findings} = await stressed({craft: 'sorrel', config: {protocol: 'dshot600'}, seconds: 2});
    expect(findings[0]).toMatchObject({id: 'too-fast-for-the-esc'});
    expect(findings[0]!.text).toContain('K8 answers DShot300 at the most, and DShot600 runs');
  });

  it('an exchange longer than the loop', async () => {
    const {findings} = await stressed({config: {loopHz: 8000}, seconds: 3});
    expect(findings.map((f) => f.id)).toContain('wire-too-slow');
    expect(findings[0]!.text).toContain('14 µs too long');
  });

  it('a loop that takes too long', async () => {
    const {ids} = await stressed({craft: 'sorrel', config: {loopHz: 6400, notchHarmonics: [1, 2, 3]}, seconds: 3});
    expect(ids).toContain('overloaded');
  });

  it('one loose wire: this motor, and the more the harder it works', async () => {
    const {findings, quality} = await stressed({change: (b) => (b.train.looseWires = [2])});
    expect(findings.map((f) => f.id)).toEqual(expect.arrayContaining(['one-motor']));
    expect(findings[0]!.text).toMatch(
      /^Motor 3 lost .* the others 0 %, with the same firmware; it rises with throttle/,
    );
    expect(quality.motors.map((m) => m.lost > 0)).toEqual([false, false, true, false]);
    const {missing, code, checksum} = quality.motors[2]!.lostAs!;
    expect(missing + code + checksum).toBe(quality.motors[2]!.lost);
  });

  it('noise on all wires is no single motor, and its spoilt replies are counted by kind', async () => {
    const {ids, quality} = await stressed({change: (b) => (b.train.wireNoise = 0.03)});
    expect(ids[0]).toMatch(/spoilt|rises-with-(throttle|speed)/);
    for (const m of quality.motors) {
      expect(m.lostAs!.code).toBeGreaterThan(m.lostAs!.missing);
      expect(m.longestRun).toBeGreaterThanOrEqual(1);
    }
  });

  it('a supply that gives way under all motors: little is lost alone, much together, and both are told', async () => {
    const {findings, quality} = await stressed({change: (b) => (b.train.supplyNoise = 0.05)});
    expect(findings.map((f) => f.id)).toEqual(['rises-with-all']);
    const {alone, together, upTo} = aloneAndTogether(quality)!;
    // The stand-in spoils 5 % of the mean throttle: one of four motors at 30 % against all four.
    expect(shareOf(together)! / shareOf(alone)!).toBeGreaterThan(3);
    expect(shareOf(together)!).toBeCloseTo(0.05 * 0.3, 2);
    expect(upTo).toBeCloseTo(0.3);
    expect(findings[0]!.text).toContain(`all together ${percent(shareOf(together)!)}`);
  });

  it('what each motor loses alone as well is not blamed on the others', async () => {
    const {quality, ids} = await stressed({change: (b) => (b.train.looseWires = [0, 1, 2, 3])});
    expect(ids).toEqual(['rises-with-throttle']);
    const {alone, together} = aloneAndTogether(quality)!;
    expect(shareOf(together)! / shareOf(alone)!).toBeLessThan(1.5);
  });

  it('some spoilt replies check by chance: their speeds are found out', async () => {
    const {quality, findings} = await stressed({change: (b) => (b.train.wireNoise = 0.3), seconds: 20});
    expect(quality.motors.reduce((n, m) => n + m.implausible, 0)).toBeGreaterThan(0);
    expect(findings.at(-1)).toMatchObject({id: 'implausible', tag: 'wait'});
  });

  it('let go: what was counted until then stands', async () => {
    const h = new Harness();
    await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
    const cancel = {aborted: false};
    h.time.after(4000, () => (cancel.aborted = true));
    const {quality, endedBy} = await h.run(
      stressReplies(h.client, {
        ...{clock: h.time, cancel, question: tallyQuestion(h.craft, undefined, 16)},
        script: stressScript(0.05, 0.3, 60, 4),
      }),
    );
    expect(endedBy).toMatchObject({code: 'let-go'});
    expect(quality.seconds).toBeGreaterThan(3);
    expect(quality.seconds).toBeLessThan(5.5);
    expect(quality.motors[0]!.asked).toBeGreaterThan(10_000);
    expect(h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
  });
});
