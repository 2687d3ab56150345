/** Records the motor wires of the bench edge by edge, as a logic analyser would: every command, and every reply that came. */
import type {Wire} from '@core/capture/read/capture';
import type {LossKind} from '@core/replies/reply-quality';
import {encodeCommand} from '@core/dshot/command';
import {bitUs, isDigital, pulseSpanUs, type DigitalProtocol, type Protocol} from '@core/dshot/protocol';
import {lineOfGroups, replyGroups} from '@core/dshot/reply';
import {commandEdges, replyEdges, type Edge} from '@core/dshot/waveform';
import type {Random} from '../../random';
import type {LostReply} from '../esc/reply-line';

/** Groups of five bits that stand for nothing, with runs that a line can carry. */
const wrongGroups = [0x1f, 0x11];
/** Scatter of an edge, share of a bit, and where it ends. */
const [edgeScatter, maxScatter] = [0.008, 0.03];
/** An analog pulse is sent by a timer of its own, ms. */
const analogEveryMs = 2.5;
/** Longest disturbance on a wire at rest, µs. */
const maxGlitchUs = 0.15;

/** Rest that is recorded before the first frame, ms. */
const leadMs = 0.05;

/** Loops of one output that were counted together. */
interface RecordedLoops {
  readonly count: number;
  readonly loopMs: number;
  /** DShot value. */
  readonly value: number;
  /** Throttle, 0…1. */
  readonly throttle: number;
  readonly replies: boolean;
  readonly protocol: Protocol;
  readonly lost: readonly LostReply[];
  /** The 12 bits of the reply of a loop. */
  readonly body: (loop: number) => number;
  /** Chance of a disturbance in a loop. */
  readonly disturbed: number;
}

interface Recorded {
  readonly edges: number[];
  /** When the next loop begins, and until when the wire is busy, ms. */
  nextMs: number;
  busyTo: number;
  replies: boolean;
}

export class WireRecorder {
  private readonly wires: Recorded[];

  constructor(
    outputs: number,
    private readonly beganMs: number,
    private readonly random: Random,
  ) {
    this.wires = Array.from({length: outputs}, () => ({
      edges: [],
      nextMs: beganMs + leadMs,
      busyTo: 0,
      replies: false,
    }));
  }

  loops(output: number, loops: RecordedLoops): void {
    const wire = this.wires[output]!;
    wire.replies = loops.replies;
    const lost = new Map(loops.lost.map(({loop, kind}) => [loop, kind]));
    for (let loop = 0; loop < loops.count; loop++) {
      // Loops come as evenly as their clock ticks; one whose wire is still busy waits, and those behind it too.
      const at = Math.max(wire.nextMs, isDigital(loops.protocol) ? wire.busyTo : 0);
      wire.nextMs = at + loops.loopMs;
      if (isDigital(loops.protocol)) this.frame(wire, at, {...loops, protocol: loops.protocol}, [loop, lost.get(loop)]);
      else this.pulse(wire, at, loops);
    }
  }

  private frame(
    wire: Recorded,
    at: number,
    {value, replies, protocol, body, disturbed}: RecordedLoops & {readonly protocol: DigitalProtocol},
    [loop, lost]: readonly [number, LossKind | undefined],
  ): void {
    const command = commandEdges(encodeCommand({value, telemetryRequest: false}, replies), protocol, replies);
    const reply = replies && lost !== 'missing' ? replyEdges(this.line(body(loop), lost), protocol) : [];
    const bit = bitUs(protocol);
    this.put(wire, at, [...command, ...reply], bit);
    const endUs = wire.edges.at(-1)! * 1000 - at * 1000;
    // At rest a disturbance spoils nothing, and is seen.
    if (this.random.next() < disturbed) {
      const from = endUs + 8 * bit;
      this.put(
        wire,
        at,
        [
          {us: from, level: 0},
          {us: from + maxGlitchUs * (0.4 + 0.6 * this.random.next()), level: 1},
        ],
        0,
      );
    }
    // A reply may come up to 90 µs late: the wire is left alone for one that did not come only as long as it takes.
    wire.busyTo = at + (Math.max(endUs, 0) + 6 * bit) / 1000;
  }

  private pulse(wire: Recorded, at: number, {protocol, throttle}: RecordedLoops): void {
    if (isDigital(protocol)) return;
    // A pulse that is still under way is not begun anew.
    if (at <= wire.busyTo && wire.edges.length > 0) return;
    const [shortest, longest] = pulseSpanUs[protocol];
    const us = shortest + (longest - shortest) * throttle;
    this.put(
      wire,
      at,
      [
        {us: 0, level: 1},
        {us, level: 0},
      ],
      0,
    );
    wire.busyTo = at + (protocol === 'analog' ? analogEveryMs : us / 1000 + 0.002);
  }

  private line(body: number, lost: LossKind | undefined): number {
    const groups = replyGroups(body);
    if (lost === 'code') groups[this.random.below(4)] = wrongGroups[this.random.below(wrongGroups.length)]!;
    // The checksum of another reply: one bit of the carried ones was turned.
    if (lost === 'checksum') groups[3] = replyGroups(body ^ (1 << this.random.below(4)))[3]!;
    return lineOfGroups(groups);
  }

  private put(wire: Recorded, at: number, edges: readonly Edge[], bit: number): void {
    for (const {us} of edges) {
      const scatter = Math.max(-maxScatter, Math.min(maxScatter, edgeScatter * this.random.normal()));
      wire.edges.push(at + (us + scatter * bit) / 1000);
    }
  }

  /** Every wire so far, in s from the begin of the recording; named after outputs, counted from 1. */
  finish(now: number): {readonly wires: readonly Wire[]; readonly to: number} {
    const last = Math.max(now, ...this.wires.map((w) => w.edges.at(-1) ?? 0));
    return {
      to: (last - this.beganMs) / 1000 + 1e-4,
      wires: this.wires.map(({edges, replies}, i) => ({
        name: `bench.motor_${i + 1}`,
        first: replies ? 1 : 0,
        edges: Float64Array.from(edges, (ms) => (ms - this.beganMs) / 1000),
        unknown: new Float64Array(0),
      })),
    };
  }
}
