/** Wires of the bench, recorded as a dump and read back by the decoder: every count must be the one that the controller kept. */
import {describe, expect, it} from 'vitest';
import {decodeWire} from '@core/capture/decode/decode-wire';
import {lossOf, meaningOf, speedOf} from '@core/capture/ask/figures';
import {VcdReader} from '@core/capture/read/vcd';
import {writeVcd} from '@core/capture/read/write-vcd';
import {throttleValue} from '@core/dshot/command';
import type {WireConfig} from '@core/link/operations';
import {benches} from '../../benches/benches';
import {Harness} from '../../testing/bench-harness';
import {SimulatedBench} from '../bench';
import {VirtualTime} from '@core/link/virtual-time';
import type {LossKind} from '@core/replies/reply-quality';

const running = new Harness();
await running.carryOut(await running.order({leaveSteps: ['prove-replies']}));

interface Setting {
  readonly config?: Partial<WireConfig>;
  readonly noise?: number;
  readonly loose?: readonly number[];
  readonly throttle?: number;
}

/** An updated bench, kept turning, recorded for 300 ms; its wires as the decoder reads them, and what was counted meanwhile. */
function recorded({config = {}, noise = 0, loose = [], throttle = 0.3}: Setting) {
  const time = new VirtualTime();
  const setup = benches['juniper']!();
  const bench = new SimulatedBench(
    {
      ...setup,
      escs: setup.escs.map((esc, i) => ({...esc, flash: running.bench.escs[i]!.flash.read(0, 0x10000)})),
      controller: {...setup.controller, saved: {...running.bench.controller.kept, ...config}},
    },
    time,
  );
  bench.train.wireNoise = noise;
  bench.train.looseWires = loose;
  bench.train.outputs.forEach((_, output) => bench.train.command(output, throttleValue(throttle), {leaseEnds: 5000}));
  time.advanceTo(400);
  const counts = () => bench.train.told(time.now()).map(({asked, lostAs}) => ({asked, ...lostAs}));
  let decoded: ReturnType<typeof decodeWire>[] = [];
  const before: {value?: ReturnType<typeof counts>; after?: ReturnType<typeof counts>} = {};
  bench.record(300, (recorder) => {
    before.after = counts();
    const {wires, to} = recorder.finish(time.now());
    const reader = new VcdReader();
    reader.push(new TextEncoder().encode(writeVcd(wires, to)));
    const capture = reader.end();
    decoded = capture.wires.map((wire) => decodeWire(wire, capture));
  });
  before.value = counts();
  time.advanceTo(800);
  const counted = before.after!.map((now, i) => {
    const was = before.value![i]!;
    const since = (kind: LossKind) => (now[kind] ?? 0) - (was[kind] ?? 0);
    return {asked: now.asked - was.asked, missing: since('missing'), code: since('code'), checksum: since('checksum')};
  });
  const read = decoded.map((wire) => ({
    asked: wire.commands.length,
    missing: lossOf(wire).missing,
    code: wire.replies.filter((r) => r.why === 'gcr_code').length,
    checksum: wire.replies.filter((r) => r.why === 'checksum').length,
  }));
  return {decoded, counted, read, bench};
}

describe('a recording of the bench', () => {
  it.each([
    ['DShot300, quiet', {}],
    ['DShot300, noise on the wires', {noise: 0.1}],
    ['DShot600, noise on the wires', {config: {protocol: 'dshot600'}, noise: 0.2}],
    ['DShot150, a loose wire', {config: {protocol: 'dshot150', loopHz: 2000}, loose: [1], throttle: 0.8}],
    ['DShot300 at 3.2 kHz', {config: {loopHz: 3200}, noise: 0.05}],
    ['an exchange longer than the loop', {config: {loopHz: 8000}}],
  ] as const)('%s: commands and losses are those that were counted, each by its kind', (_, setting) => {
    const {read, counted} = recorded(setting);
    expect(read).toEqual(counted);
    expect(counted[0]!.asked).toBeGreaterThan(500);
  });

  it('noise and a loose wire are told apart: one motor, or all', () => {
    const loose = recorded({loose: [2], throttle: 0.8}).counted.map((c) => c.missing + c.code + c.checksum);
    expect(loose.map((n) => n > 0)).toEqual([false, false, true, false]);
    expect(recorded({noise: 0.1}).counted.every((c) => c.code > 0)).toBe(true);
  });

  it('speeds are those of the motors, and values that an ESC tells beside them are no speeds', () => {
    const {decoded, bench} = recorded({config: {extendedReplies: true}});
    const wire = {...decoded[0]!, extended: decoded[0]!.replies.map(() => true)};
    const meanings = wire.replies.map((_, i) => meaningOf(wire, i)!);
    const kinds = new Set(meanings.map((m) => m.kind));
    expect([...kinds].sort()).toEqual(['current', 'speed', 'state', 'temperature', 'voltage']);
    const rpm = meanings.flatMap((m) => speedOf(m, 14)?.rpm ?? []);
    const turns = (bench.train.outputs[0]!.state.omega * 30) / Math.PI;
    expect(Math.min(...rpm)).toBeGreaterThan(0.9 * turns);
    expect(Math.max(...rpm)).toBeLessThan(1.1 * turns);
    const volts = meanings.flatMap((m) => (m.kind === 'voltage' ? [m.value] : []));
    expect(Math.abs(volts[0]! - bench.train.volts)).toBeLessThan(0.4);
  });

  it('analog pulses are as long as the throttle says', () => {
    const {decoded} = recorded({config: {protocol: 'analog', replies: false}});
    expect(decoded.map((w) => w.protocol)).toEqual(Array.from({length: 4}, () => 'analog'));
  });

  it('pulses of Oneshot125 come once a loop', () => {
    const {decoded} = recorded({config: {protocol: 'oneshot125', replies: false, loopHz: 2000}});
    expect(decoded[0]!.protocol).toBe('oneshot125');
  });
});
