/** Turning motors under a lease: when renewals stop, for whatever reason, the motors stop. */
import {throttleValue} from '../dshot/command';
import type {BenchClient} from '../link/client';
import type {Report} from '../link/operations';
import {sleep, type Clock} from '../link/port';
import {rpmOfErpm} from '../dshot/reply';
import {ProblemError} from '../problem';
import type {ReplyMeasure} from './proof';

export const leaseMs = 200;
/** Two renewals may be lost before the lease ends. */
const renewMs = 65;

export interface OutputThrottle {
  readonly output: number;
  /** 0…1 */
  readonly throttle: number;
}

/** The minimum of AbortSignal the runner needs. */
export interface CancelSignal {
  readonly aborted: boolean;
}

/** Holds motors turning until `stop`. Make one per hold. */
export class SpinLease {
  private commands: readonly OutputThrottle[] = [];
  private cancel: (() => void) | undefined;
  private stopped = false;

  constructor(
    private readonly client: BenchClient,
    private readonly clock: Clock,
    /** Called when a renewal fails: the motors are stopping by themselves. */
    private readonly onLost: (error: ProblemError) => void = () => undefined,
  ) {}

  set(commands: readonly OutputThrottle[]): void {
    if (this.stopped) throw new Error('The lease has ended');
    this.commands = commands;
    this.cancel?.();
    this.renew();
  }

  /** Stops the motors. Stopping twice is harmless. */
  async stop(): Promise<void> {
    if (this.stopped) return;
    this.stopped = true;
    this.cancel?.();
    await stopMotors(this.client);
  }

  private renew(): void {
    const commands = this.commands.map(({output, throttle}) => ({output, value: throttleValue(throttle)}));
    this.client.request('spin', {leaseMs, commands}).catch((error: unknown) => {
      if (!this.stopped && error instanceof ProblemError) this.onLost(error);
    });
    this.cancel = this.clock.after(renewMs, () => {
      if (!this.stopped) this.renew();
    });
  }
}

/** Ends every lease at once. A closed link has stopped them already. */
export async function stopMotors(client: BenchClient): Promise<void> {
  if (client.isClosed) return;
  try {
    await client.request('spin', {leaseMs: 0, commands: []});
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    // Refused or unanswered: the lease runs out within 200 ms by itself.
  }
}

export interface ReplyMeasureOptions {
  readonly outputs: number;
  readonly poles: number;
  readonly clock: Clock;
  readonly cancel: CancelSignal;
  readonly idle: number;
  /** Share done, 0…1, and the level being measured. */
  readonly onProgress?: (share: number, throttle: number) => void;
}

/** Time to settle before counting, and to count, at each level, ms. */
const settleMs = 400;
const countMs = 2_000;

/** Counts replies at idle, 30 % and 60 %, 2 s each. Rejects with code "let-go" when cancelled; the motors stop either way. */
export async function measureReplies(client: BenchClient, o: ReplyMeasureOptions): Promise<ReplyMeasure[]> {
  const levels = [o.idle, 0.3, 0.6];
  let latest: Report | undefined;
  const off = client.onReport((report) => (latest = report));
  let lost: ProblemError | undefined;
  const lease = new SpinLease(client, o.clock, (error) => (lost = error));
  const outputs = Array.from({length: o.outputs}, (_, output) => output);
  const wait = async (ms: number, base: number, throttle: number) => {
    const start = o.clock.now();
    while (o.clock.now() - start < ms) {
      await sleep(o.clock, 50);
      if (lost) throw lost;
      if (o.cancel.aborted) throw letGo();
      o.onProgress?.(Math.min(1, (base + o.clock.now() - start) / (levels.length * (settleMs + countMs))), throttle);
    }
  };
  try {
    await client.request('reports', {on: true});
    const measures: ReplyMeasure[] = [];
    for (const [index, throttle] of levels.entries()) {
      const base = index * (settleMs + countMs);
      lease.set(outputs.map((output) => ({output, throttle})));
      await wait(settleMs, base, throttle);
      const before = latest;
      await wait(countMs, base + settleMs, throttle);
      const after = latest;
      measures.push({throttle, motors: outputs.map((m) => countReplies(before, after, m, o.poles))});
    }
    return measures;
  } finally {
    off();
    await lease.stop();
  }
}

function countReplies(before: Report | undefined, after: Report | undefined, motor: number, poles: number) {
  const [a, b] = [before?.motors[motor], after?.motors[motor]];
  if (!a || !b) return {asked: 0, lost: 0, rpm: null};
  return {
    asked: b.asked - a.asked,
    lost: b.lost - a.lost,
    rpm: b.erpm === null ? null : rpmOfErpm(b.erpm, poles),
  };
}

const letGo = () =>
  new ProblemError({
    code: 'let-go',
    place: 'reply measurement',
    meaning: 'The button was let go before all levels were measured, so there is no proof.',
    remedy: 'Hold until it says done, about 7 s.',
  });
