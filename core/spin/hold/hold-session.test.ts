/** What turns one motor by hand, in virtual time on the simulated bench: it stops whatever happens, and measures meanwhile. */
import {describe, expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import type {Report} from '../../link/operations';
import {ProblemError, type Problem} from '../../problem';
import {HoldSession, type HoldTrace} from './hold-session';
import {HoldWatch, type PageState} from './hold-watch';
import {decodeSettings, encodeSettings} from '../../settings/page';
import {leaseMs, stopMotors} from './lease';
import {pulseTop} from '../sighting/pulse-pattern';

/** Juniper with replies, its reports on, its propellers confirmed off; everything a page would do is played by hand. */
async function bench() {
  const h = new Harness();
  const order = await h.order({leaveSteps: ['prove-replies']});
  if ((await h.carryOut(order)).kind !== 'finished') throw new Error('The order did not finish');
  await h.run(h.client.request('hello', null));
  const {cycles} = await h.run(h.client.request('power', null));
  const page: {-readonly [K in keyof PageState]: PageState[K]} = {propsOffCycle: cycles, isVisible: true};
  const turning: boolean[] = [];
  const watch = new HoldWatch(
    h.time,
    () => page,
    (is) => turning.push(is),
  );
  const listeners = new Set<(report: Report) => void>();
  h.client.onReport((report) => {
    watch.hear(report.power);
    for (const listener of listeners) listener(report);
  });
  h.client.onClose(() => watch.linkEnded());
  watch.hear(await h.run(h.client.request('power', null)));
  await h.run(h.client.request('reports', {on: true}));
  const throttles: number[] = [];
  const reasons: Problem[] = [];
  const done: HoldTrace[] = [];
  const hold = (output = 1) =>
    new HoldSession(output, {
      client: h.client,
      clock: h.time,
      poles: 14,
      onReport: (listener) => {
        listeners.add(listener);
        return () => listeners.delete(listener);
      },
      beginHold: (end) => watch.begin(end),
      onThrottle: (throttle) => throttles.push(throttle),
      onEnd: (why) => why && reasons.push(why),
      onDone: (trace) => done.push(trace),
    });
  const pass = (ms: number) => h.run(new Promise<void>((resolve) => h.time.after(ms, resolve)));
  const commanded = () => h.bench.train.outputs.map((o) => (h.time.now() <= o.leaseEnds ? o.throttle : 0));
  return {h, page, watch, turning, throttles, reasons, done, hold, pass, commanded};
}
const codeOf = (act: () => unknown) => {
  try {
    act();
    return 'began';
  } catch (error) {
    return (error as ProblemError).problem.code;
  }
};

describe('a hold session', () => {
  it('turns one motor in pulses to 6 %, sees a start in each, and the coast-down', async () => {
    const b = await bench();
    const session = b.hold();
    expect(b.turning).toEqual([true]);
    await b.pass(1_000);
    expect(b.commanded().map((t) => t > 0)).toEqual([false, true, false, false]);
    await b.pass(9_000);
    expect(b.throttles[0]).toBeCloseTo(0.01, 6);
    expect(Math.max(...b.throttles)).toBeCloseTo(pulseTop.digital, 9);
    session.letGo();
    await b.pass(50);
    expect([b.commanded()[1], b.turning.at(-1), session.isHeld]).toEqual([0, false, false]);
    await b.pass(3_000);
    const [trace] = b.done;
    // The stand-in's motor 2 starts at 1.9 %, 1019 µs, each time a little otherwise; climbs go in steps of 1 µs.
    expect(trace!.startsUs.length).toBeGreaterThanOrEqual(3);
    for (const start of trace!.startsUs) {
      expect(start).toBeGreaterThan(1_014);
      expect(start).toBeLessThan(1_027);
    }
    // Its ESC brakes: it falls in about a report.
    expect(trace!.coastDownS).toBeGreaterThan(0.005);
    expect(trace!.coastDownS).toBeLessThan(0.2);
    expect(trace!.samples.at(-1)!.rpm).toBeLessThan(100);
    expect(b.done).toHaveLength(1);
  });

  it('tells a motor that coasts by its time, from reports alone', async () => {
    const b = await bench();
    const esc = b.h.bench.escs[2]!;
    const {start, end} = esc.chip.settings;
    const read = decodeSettings(esc.flash.view(start, end));
    if (!read.ok) throw new Error('no settings');
    esc.flash
      .view(start, end)
      .set(encodeSettings(8, {...read.value.values, activeBraking: 0}, esc.flash.view(start, end)));
    esc.start();
    const session = b.hold(2);
    await b.pass(3_000);
    session.letGo();
    await b.pass(3_000);
    expect(b.done[0]!.coastDownS).toBeGreaterThan(0.3);
  });

  it('without replies a person tells when it turns, pulse by pulse', async () => {
    const b = await bench();
    b.h.bench.controller.set({replies: false});
    b.h.bench.controller.save();
    b.h.bench.controller.restart();
    const session = b.hold();
    for (let i = 0; i < 300; i++) {
      await b.pass(50);
      if (b.h.bench.train.outputs[1]!.state.omega > 60) session.itTurns();
    }
    session.letGo();
    await b.pass(3_000);
    expect(session.seesSpeed).toBe(false);
    expect(b.done[0]!.startsUs.length).toBeGreaterThanOrEqual(3);
    for (const start of b.done[0]!.startsUs) expect(Math.abs(start - 1_020)).toBeLessThan(8);
  });

  it('letting go twice, and ending after it, tell the trace once', async () => {
    const b = await bench();
    const session = b.hold();
    await b.pass(300);
    session.letGo();
    session.letGo();
    session.end();
    await b.pass(3_000);
    expect([b.done.length, b.throttles.filter((t) => t === 0).length]).toEqual([1, 1]);
  });

  it.each([
    ['the page is hidden', 'page-hidden', (b: Bench) => ((b.page.isVisible = false), b.watch.look())],
    [
      'the propellers are not confirmed any more',
      'props-not-confirmed',
      (b: Bench) => void (b.page.propsOffCycle = undefined),
    ],
    ['the battery goes off', 'power-lost', (b: Bench) => b.h.bench.setBattery(false)],
    ['no report comes any more', 'reports-stale', (b: Bench) => void b.h.client.request('reports', {on: false})],
    ['nothing comes through the cable', 'unanswered', (b: Bench) => void (b.h.bench.mishaps.longest = 0)],
    ['the cable comes out', 'link-lost', (b: Bench) => b.h.bench.detach()],
  ] as [string, string, (b: Bench) => void][])('ends by itself when %s', async (_, code, act) => {
    const b = await bench();
    const session = b.hold();
    await b.pass(800);
    expect(b.commanded()[1]).toBeGreaterThan(0);
    act(b);
    await b.pass(600 + leaseMs);
    expect([session.isHeld, b.commanded()]).toEqual([false, [0, 0, 0, 0]]);
    expect(b.reasons.map((r) => r.code)).toEqual([code]);
    expect(b.reasons[0]!.meaning).toContain('The hold has ended and the motors stop.');
    // Nothing turns again when everything is as it was.
    b.page.isVisible = true;
    b.h.bench.mishaps.longest = Infinity;
    b.h.bench.setBattery(true);
    await b.pass(1_000);
    expect(b.commanded()).toEqual([0, 0, 0, 0]);
  });

  it('a window that loses its focus and the stop control end it, with no reason to tell', async () => {
    const b = await bench();
    const session = b.hold();
    await b.pass(400);
    b.watch.end();
    await b.h.run(stopMotors(b.h.client));
    expect([session.isHeld, b.commanded()[1], b.reasons]).toEqual([false, 0, []]);
  });

  it('a second one is refused, and the first goes on', async () => {
    const b = await bench();
    const first = b.hold(0);
    expect(codeOf(() => b.hold(1))).toBe('second-hold');
    await b.pass(700);
    expect(b.commanded().map((t) => t > 0)).toEqual([true, false, false, false]);
    first.end();
    expect(codeOf(() => b.hold(1))).toBe('began');
  });

  it('does not begin where it would have to end at once', async () => {
    const b = await bench();
    b.page.propsOffCycle = undefined;
    expect(codeOf(() => b.hold())).toBe('props-not-confirmed');
    await b.pass(300);
    expect([b.commanded(), b.turning]).toEqual([[0, 0, 0, 0], []]);
  });
});
type Bench = Awaited<ReturnType<typeof bench>>;
