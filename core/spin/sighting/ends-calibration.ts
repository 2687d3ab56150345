/**
 * Throttle ends of analog ESCs taught anew, all at once: the highest pulse goes out while the battery is off, ESCs that power
 * up to it take it for full throttle, and the lowest one follows. Both levels are leased, so a page that goes ends them.
 */
import type {BenchClient} from '../../link/client';
import {every, type Clock} from '../../link/port';
import {ProblemError, type Problem} from '../../problem';

/** A level is sent anew this often, and ends by itself after so long, ms. */
const renewMs = 500;
const leaseMs = 1500;
/** Time that ESCs take to take the highest pulse after power-up, and the lowest one after it, ms (common practice: 2 to 3 s, 1 s). */
const highMs = 3000;
const lowMs = 1200;

/** Where it is: it begins with the battery off, because an ESC that runs would take the highest pulse for full throttle. */
export type EndsPhase = 'battery off' | 'highest' | 'taken' | 'lowest' | 'done';
type Level = 'highest' | 'lowest';

interface EndsHost {
  readonly client: BenchClient;
  readonly clock: Clock;
  readonly isPowered: () => boolean;
  readonly onPhase: (phase: EndsPhase) => void;
  /** It has ended, with the reason where it was refused; the levels are no longer sent. */
  readonly onEnd: (why?: Problem) => void;
}

export class EndsCalibration {
  private phase: EndsPhase = 'battery off';
  private level: Level | undefined;
  private isOver = false;
  private readonly endRenewing: () => void;
  private cancelWait: () => void = () => undefined;

  constructor(private readonly host: EndsHost) {
    host.onPhase(this.phase);
    this.endRenewing = every(host.clock, renewMs, () => void this.renew());
  }

  /** Stops where it is: after the highest pulse the lowest one goes out, so that no ESC starts on it. Twice is harmless. */
  end(why?: Problem): void {
    if (this.isOver) return;
    this.isOver = true;
    this.endRenewing();
    this.cancelWait();
    if (this.level === 'highest' && !why) void this.send('lowest');
    this.level = undefined;
    this.host.onEnd(why);
  }

  /** Goes on where the battery says so, and sends the level that is due. */
  private async renew(): Promise<void> {
    const isPowered = this.host.isPowered();
    if (this.phase === 'battery off' && !isPowered) this.turnTo('highest', 'highest');
    else if (this.phase === 'highest' && isPowered) {
      this.turnTo('taken');
      this.wait(highMs, () => this.turnTo('lowest', 'lowest'));
    } else if (this.phase === 'taken' && !isPowered) {
      // It went off before they had taken it: from power-up on, once more.
      this.cancelWait();
      this.turnTo('highest');
    }
    if (this.level) await this.send(this.level);
  }

  private turnTo(phase: EndsPhase, level = this.level): void {
    this.phase = phase;
    this.level = level;
    this.host.onPhase(phase);
    if (phase === 'lowest') this.wait(lowMs, () => this.finish());
  }

  private wait(ms: number, then: () => void): void {
    this.cancelWait = this.host.clock.after(ms, then);
  }

  private finish(): void {
    this.turnTo('done');
    this.end();
  }

  private async send(level: Level): Promise<void> {
    try {
      await this.host.client.request('ends.send', {level, leaseMs});
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.end(error.problem);
    }
  }
}
