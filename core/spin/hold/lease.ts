/**
 * Turning motors under a lease: when renewals stop, for whatever reason, the motors stop. Every hold has a number that
 * only rises; what belongs to a hold that ended is refused by the hardware, however late it comes.
 */
import {throttleValue} from '../../dshot/command';
import type {BenchClient} from '../../link/client';
import type {Clock} from '../../link/port';
import {ProblemError, type Problem} from '../../problem';

export const leaseMs = 200;
/** Two renewals may be lost before the lease ends. */
const renewMs = 65;
/**
 * A hold begins with renewals that turn nothing, until one is answered this quickly: then the adapter knows how long a
 * renewal takes, and what is kept back on its way later is told from what is meant for now, ms.
 */
const beginMs = 60;
/**
 * A page may stall for a moment: its motors stop with the lease, and go on once a renewal that turns nothing was answered.
 * When no renewal was answered for this long, the hold has ended for the hardware too (docs/bench-link.md), ms.
 */
const holdEndsAfterMs = 500;

/** By so much two renewals on their way may be apart otherwise than they were sent, ms. */
const wireJitterMs = 15;

interface OutputThrottle {
  readonly output: number;
  /** 0…1 */
  readonly throttle: number;
}

/** The minimum of AbortSignal the runner needs. */
export interface CancelSignal {
  readonly aborted: boolean;
  /** Why, where it was not just let go. */
  readonly why?: Problem | undefined;
}

/** The hold that turns motors on a link; there is one at a time. */
const live = new WeakMap<BenchClient, SpinLease>();

/** Holds motors turning until `stop`. Make one per hold; throws "second-hold" while another one turns motors. */
export class SpinLease {
  readonly hold: number;
  private commands: readonly OutputThrottle[] = [];
  private cancel: (() => void) | undefined;
  private stopped = false;
  private answeredAt: number;
  private begun = false;
  /** When the newest renewal was sent. */
  private sentAt: number;
  /** When the newest renewal that was answered had been sent, and when renewals last came further apart than the lease. */
  private renewedAt: number;
  private lapsedAt = -Infinity;
  private endedAt: number | undefined;
  private lostBy: ProblemError | undefined;

  constructor(
    private readonly client: BenchClient,
    private readonly clock: Clock,
    /** Called once when the hardware has ended the hold, or is about to: the motors are stopping by themselves. */
    private readonly onLost: (error: ProblemError) => void = () => undefined,
    /** Lets the receiver's fail-safe act on the motors. */
    private readonly heeds?: 'receiver',
  ) {
    if (live.has(client)) throw new ProblemError(secondHold);
    this.hold = client.takeHold();
    this.answeredAt = this.renewedAt = this.sentAt = clock.now();
    live.set(client, this);
  }

  /** Whether the hardware has taken the hold: commands turn motors from now on. */
  get isBegun(): boolean {
    return this.begun;
  }

  /**
   * Whether the lease may have run out since then: the page stalled, or renewals were lost, so that the motors stopped by
   * themselves. @param sinceMs on the clock that it was made with.
   */
  mayHaveLapsedSince(sinceMs: number): boolean {
    const until = this.endedAt ?? this.clock.now();
    return this.lapsedAt >= sinceMs || isLapse(this.renewedAt, until);
  }

  /** Commands the outputs. Throws what ended the hold where the hardware has, an Error after `stop`. */
  set(commands: readonly OutputThrottle[]): void {
    if (this.stopped) throw this.lostBy ?? new Error('The lease has ended');
    this.commands = commands;
    this.cancel?.();
    this.renew();
  }

  /** Stops the motors: resolves when the hardware has said so or the link has ended. Stopping twice is harmless. */
  async stop(): Promise<void> {
    this.end();
    await stopMotors(this.client, this.hold);
  }

  /** No renewal leaves after this. */
  private end(): void {
    this.stopped = true;
    this.endedAt ??= this.clock.now();
    this.cancel?.();
    if (live.get(this.client) === this) live.delete(this.client);
  }

  private renew(): void {
    const sentMs = this.clock.now();
    // The page stalled, and its motors stopped. A hand that let go meanwhile is heard after this timer: nothing turns before.
    if (isLapse(this.sentAt, sentMs)) this.begun = false;
    this.sentAt = sentMs;
    const commands = this.commands.map(({output, throttle}) => ({
      output,
      value: this.begun ? throttleValue(throttle) : 0,
    }));
    const heeds = this.heeds && {heeds: this.heeds};
    this.client.request('spin', {hold: this.hold, sentMs, leaseMs, ...heeds, commands}).then(
      () => this.answered(sentMs),
      (error: unknown) => {
        if (error instanceof ProblemError) this.missed(error);
        else throw error;
      },
    );
    this.cancel = this.clock.after(renewMs, () => {
      if (!this.stopped) this.renew();
    });
  }

  private answered(sentMs: number): void {
    this.answeredAt = this.clock.now();
    if (isLapse(this.renewedAt, sentMs)) this.lapsedAt = sentMs;
    this.renewedAt = Math.max(this.renewedAt, sentMs);
    if (this.begun || this.stopped || this.answeredAt - sentMs > beginMs) return;
    this.begun = true;
    this.cancel?.();
    this.renew();
  }

  /** One renewal without answer, or one that came late, is made good by the next; when none was answered for long, the hold has ended. */
  private missed(error: ProblemError): void {
    if (this.stopped) return;
    const isOneOfMany = ['unanswered', 'late'].includes(error.problem.code);
    if (isOneOfMany && this.clock.now() - this.answeredAt <= holdEndsAfterMs) return;
    this.end();
    this.lostBy = error;
    void stopMotors(this.client, this.hold);
    this.onLost(error);
  }
}

/** Whether a lease may have run out between two renewals that were sent then. */
const isLapse = (from: number, to: number): boolean => to - from > leaseMs - wireJitterMs;

/** Ends a hold and all before it, by default every hold there is. Resolves when answered, or when the link has ended. */
export async function stopMotors(client: BenchClient, hold = client.lastHold): Promise<void> {
  if (client.isClosed) return;
  try {
    await client.request('spin.stop', {hold});
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    // The link has ended, or there is no flight controller: the lease runs out within 200 ms by itself.
  }
}

export const secondHold: Problem = {
  code: 'second-hold',
  place: 'hold',
  meaning: 'Another hold is turning motors. Only one hold can run at a time.',
  remedy: 'Let go of the other one first.',
};
