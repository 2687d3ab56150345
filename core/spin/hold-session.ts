/** One output held turning: throttle climbs until the start is seen, speed is traced, the coast-down after letting go too. */
import {rpmOfErpm} from '../dshot/reply';
import type {BenchClient} from '../link/client';
import type {Report} from '../link/operations';
import type {Clock} from '../link/port';
import {coastDown, startThreshold, type SpeedSample} from '../motor/measures';
import type {Problem} from '../problem';
import {holdEnded} from './hold-guard';
import {SpinLease} from './lease';

/** Throttle climbs from nothing to this while held, so that the start is seen; then it stays. */
export const holdThrottle = 0.06;
const firstThrottle = 0.01;
const climbStep = 0.001;
const climbEveryMs = 50;
/** Once the start is seen the climb need not be slow any more. */
const afterStart = 4;
/** Time the trace goes on after letting go, ms: longer than any coast-down worth measuring. */
const coastMs = 2500;

/** What a session has seen so far. */
export interface HoldTrace {
  readonly output: number;
  readonly samples: readonly SpeedSample[];
  /** Pulse at which it began to turn, µs. */
  readonly startsAtUs: number | undefined;
  /** s; undefined until it has coasted down. */
  readonly coastDownS: number | undefined;
}

export interface HoldSessionHost {
  readonly client: BenchClient;
  readonly clock: Clock;
  readonly poles: number;
  /** Gets every report; the returned function takes it back. */
  readonly onReport: (listener: (report: Report) => void) => () => void;
  /** Begins a hold under the watch, which calls `end` when it must end; the returned function takes it back. */
  readonly beginHold: (end: (why?: Problem) => void) => () => void;
  /** Throttle changed; 0 when the hold has ended, with the reason where it was not just let go. */
  readonly onThrottle: (throttle: number, why?: Problem) => void;
  /** The trace is complete: it has coasted down, or was ended. */
  readonly onDone: (trace: HoldTrace) => void;
}

/** Holds one output turning until let go. Throws "second-hold" while another hold turns motors. */
export class HoldSession {
  private readonly lease: SpinLease;
  private readonly release: () => void;
  private readonly offReports: () => void;
  private readonly samples: SpeedSample[] = [];
  private startsAtUs: number | undefined;
  private throttle = firstThrottle;
  private originMs: number | undefined;
  private held = true;
  private done = false;

  constructor(
    readonly output: number,
    private readonly host: HoldSessionHost,
  ) {
    this.release = host.beginHold((why) => this.letGo(why));
    try {
      this.lease = new SpinLease(host.client, host.clock, ({problem}) => this.letGo(holdEnded(problem)));
    } catch (error) {
      this.release();
      throw error;
    }
    this.offReports = host.onReport((report) => this.hear(report));
    this.command();
    host.clock.after(climbEveryMs, () => this.climb());
  }

  get isHeld(): boolean {
    return this.held;
  }

  trace(): HoldTrace {
    const {output, startsAtUs} = this;
    return {output, samples: [...this.samples], startsAtUs, coastDownS: coastDown(this.samples)};
  }

  /** The motor stops; its speed is traced until it stands. Letting go twice is harmless. */
  letGo(why?: Problem): void {
    if (!this.held) return;
    this.held = false;
    this.release();
    void this.lease.stop();
    this.host.onThrottle(0, why);
    this.host.clock.after(coastMs, () => this.end());
  }

  /** Lets go, and ends the trace at once. */
  end(): void {
    this.letGo();
    if (this.done) return;
    this.done = true;
    this.offReports();
    this.host.onDone(this.trace());
  }

  private command(): void {
    this.lease.set([{output: this.output, throttle: this.throttle}]);
    this.host.onThrottle(this.throttle);
  }

  private climb(): void {
    if (!this.held || this.throttle >= holdThrottle) return;
    const step = climbStep * (this.startsAtUs === undefined ? 1 : afterStart);
    this.throttle = Math.min(holdThrottle, this.throttle + step);
    this.command();
    this.host.clock.after(climbEveryMs, () => this.climb());
  }

  private hear(report: Report): void {
    const motor = report.motors[this.output];
    if (!motor || motor.erpm === null) return;
    this.originMs ??= report.atMs;
    const atS = (report.atMs - this.originMs) / 1000;
    this.samples.push({atS, rpm: rpmOfErpm(motor.erpm, this.host.poles), throttle: motor.throttle});
    this.startsAtUs ??= startThreshold(this.samples);
  }
}
