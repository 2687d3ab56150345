/** The transmitter in a person's hands: sticks, switches, a power switch, and how it numbers and bounds its channels. */

export const transmitterSticks = ['roll', 'pitch', 'throttle', 'yaw'] as const;
type TransmitterStick = (typeof transmitterSticks)[number];

export interface TransmitterSetup {
  /** Channel of each stick, counted from 1. */
  readonly channel: Readonly<Record<TransmitterStick, number>>;
  /** Sticks that it sends the other way round. */
  readonly reversed: readonly TransmitterStick[];
  /** Pulses at the ends and in the middle, µs. */
  readonly lowUs: number;
  readonly centreUs: number;
  readonly highUs: number;
  readonly channels: number;
}

/** What a hand does with a stick: to one end and back to where it rests, or from end to end over and over. */
interface Motion {
  readonly stick: TransmitterStick;
  readonly kind: 'move' | 'sweep';
  readonly beganMs: number;
}

const [moveMs, sweepMs, sweeps] = [1400, 700, 4];

export class Transmitter {
  on = true;
  /** Ends as they are set now; a person may set them. */
  ends: Pick<TransmitterSetup, 'lowUs' | 'centreUs' | 'highUs'>;
  /** Channels as they are numbered now; a person may choose another model. */
  model: Pick<TransmitterSetup, 'channel' | 'reversed'>;
  /** Position of each switch, −1, 0 or 1, by channel. */
  readonly switches = new Map<number, number>();
  private motions: Motion[] = [];

  constructor(private readonly setup: TransmitterSetup) {
    this.ends = this.model = setup;
  }

  /** Moves a stick all the way to its growing end and back. */
  move(stick: TransmitterStick, nowMs: number): void {
    this.motions = [...this.motions.filter((m) => m.stick !== stick), {stick, kind: 'move', beganMs: nowMs}];
  }

  /** Sweeps all sticks from end to end, then lets them go. */
  sweep(nowMs: number): void {
    this.motions = transmitterSticks.map((stick) => ({stick, kind: 'sweep', beganMs: nowMs}));
  }

  /** Pulse of each channel at a moment, µs, before the noise of the air. */
  pulses(nowMs: number): number[] {
    const {channels} = this.setup;
    const {channel, reversed} = this.model;
    const positions = Array.from({length: channels}, (_, c) => this.switches.get(c + 1) ?? -1);
    for (const stick of transmitterSticks) {
      const position = this.position(stick, nowMs);
      positions[channel[stick] - 1] = reversed.includes(stick) ? -position : position;
    }
    const {lowUs, centreUs, highUs} = this.ends;
    return positions.map((p) => (p < 0 ? centreUs + p * (centreUs - lowUs) : centreUs + p * (highUs - centreUs)));
  }

  /** −1 … 1; the throttle rests at its low end, the others in the middle. */
  private position(stick: TransmitterStick, nowMs: number): number {
    const rest = stick === 'throttle' ? -1 : 0;
    const motion = this.motions.find((m) => m.stick === stick);
    if (!motion) return rest;
    const passed = nowMs - motion.beganMs;
    if (passed < 0) return rest;
    if (motion.kind === 'move') return passed < moveMs ? rest + (1 - rest) * plateau(passed / moveMs) : rest;
    if (passed >= sweepMs * 2 * sweeps) return rest;
    // From end to end with a rest at each, so that the ends are seen.
    const phase = (passed / sweepMs) % 2;
    return Math.max(-1, Math.min(1, 1.3 * Math.sin(Math.PI * phase)));
  }
}

/** Up, held, down again. */
const plateau = (share: number): number => Math.min(1, 3 * Math.min(share, 1 - share));
