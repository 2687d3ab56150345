/**
 * One output held turning in gentle pulses: each start is seen, speed is traced, the coast-down after letting go too. What the
 * trace says is said by core/motion, as of a burst.
 */
import {rpmOfErpm} from '../../dshot/reply';
import type {BenchClient} from '../../link/client';
import type {Report} from '../../link/operations';
import type {Clock} from '../../link/port';
import {startsOf, turningRpm} from '../../motion/starting';
import {coastDownS, isEstimate} from '../../motion/time-constants';
import {usualStep, type OwnTrace} from '../../motion/trace';
import type {Problem} from '../../problem';
import {holdEnded} from './hold-guard';
import {SpinLease} from './lease';
import {climbEveryMs, pulseTop, PulsePattern, type MotorSight} from '../sighting/pulse-pattern';
import {pulseUs, type SpeedSample} from './speed-sample';

/** Time the trace goes on after letting go, ms: longer than any coast-down worth measuring. */
const coastMs = 2500;
/** Reports in a row that must tell a speed until a motor counts as turning. */
const steadyReports = 3;

/** What a session has seen so far. */
export interface HoldTrace {
  readonly output: number;
  readonly samples: readonly SpeedSample[];
  /** Pulses at which it began to turn, one for each start that was seen, µs. */
  readonly startsUs: readonly number[];
  /** Time to 37 % of the speed after a cut, s; where it fell between two reports, the time between them. Undefined until then. */
  readonly coastDownS: number | undefined;
}

interface HoldSessionHost {
  readonly client: BenchClient;
  readonly clock: Clock;
  readonly poles: number;
  /** Throttle that the pulses reach, 0…1; that of digital protocols where left out. */
  readonly top?: number;
  /** Gets every report; the returned function takes it back. */
  readonly onReport: (listener: (report: Report) => void) => () => void;
  /** Begins a hold under the watch, which calls `end` when it must end; the returned function takes it back. */
  readonly beginHold: (end: (why?: Problem) => void) => () => void;
  /** Throttle changed, between pulses it is 0. */
  readonly onThrottle: (throttle: number) => void;
  /** The hold has ended, with the reason where it was not just let go. */
  readonly onEnd: (why?: Problem) => void;
  /** The trace is complete: it has coasted down, or was ended. */
  readonly onDone: (trace: HoldTrace) => void;
}

/** Holds one output turning until let go. Throws "second-hold" while another hold turns motors. */
export class HoldSession {
  private readonly lease: SpinLease;
  private readonly release: () => void;
  private readonly offReports: () => void;
  private readonly samples: SpeedSample[] = [];
  /** Starts that a person told, where no speed came, µs. */
  private readonly toldUs: number[] = [];
  private readonly pattern: PulsePattern;
  private originMs: number | undefined;
  private held = true;
  private done = false;

  constructor(
    readonly output: number,
    private readonly host: HoldSessionHost,
  ) {
    this.pattern = new PulsePattern(host.top ?? pulseTop.digital, host.clock.now());
    this.release = host.beginHold((why) => this.letGo(why));
    try {
      this.lease = new SpinLease(host.client, host.clock, ({problem}) => this.letGo(holdEnded(problem)));
    } catch (error) {
      this.release();
      throw error;
    }
    this.offReports = host.onReport((report) => this.hear(report));
    this.command(this.pattern.throttle);
    host.clock.after(climbEveryMs, () => this.pulse());
  }

  get isHeld(): boolean {
    return this.held;
  }

  /** Whether speeds come, so that nobody has to tell when it turns. */
  get seesSpeed(): boolean {
    return this.samples.length > 0;
  }

  trace(): HoldTrace {
    const {output, samples, toldUs} = this;
    const own = ownTraceOf(samples);
    const startsUs = samples.length ? startsOf(own).map((s) => pulseUs(s.percent / 100)) : toldUs;
    const fell = coastDownS(own);
    const quick = !isEstimate(fell) && fell.atLeast === undefined && hasCut(samples) ? own.stepS : undefined;
    return {output, samples: [...samples], startsUs: [...startsUs], coastDownS: fell.value ?? quick};
  }

  /** A person sees it turn: where no speed comes this is a start. Returns its pulse, µs. */
  itTurns(): number | undefined {
    const at = this.held && !this.seesSpeed ? this.pattern.saw() : undefined;
    if (at === undefined) return undefined;
    this.toldUs.push(pulseUs(at));
    return pulseUs(at);
  }

  /** The motor stops; its speed is traced until it stands. Letting go twice is harmless. */
  letGo(why?: Problem): void {
    if (!this.held) return;
    this.held = false;
    this.release();
    void this.lease.stop();
    this.host.onThrottle(0);
    this.host.onEnd(why);
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

  private command(throttle: number): void {
    this.lease.set([{output: this.output, throttle}]);
    this.host.onThrottle(throttle);
  }

  private pulse(): void {
    if (!this.held) return;
    const before = this.pattern.throttle;
    // Until the hardware has taken the hold nothing turns, so nothing climbs.
    const now = this.lease.isBegun ? this.pattern.next(this.host.clock.now(), this.sight()) : before;
    if (now !== before) this.command(now);
    this.host.clock.after(climbEveryMs, () => this.pulse());
  }

  private sight(): MotorSight | undefined {
    const last = this.samples.slice(-steadyReports);
    if (!last.length) return undefined;
    return {
      turns: last.length === steadyReports && last.every((s) => s.rpm > turningRpm && s.throttle > 0),
      stands: last.every((s) => s.rpm === 0),
    };
  }

  private hear(report: Report): void {
    const motor = report.motors[this.output];
    if (!motor || motor.erpm === null) return;
    this.originMs ??= report.atMs;
    const atS = (report.atMs - this.originMs) / 1000;
    this.samples.push({atS, rpm: rpmOfErpm(motor.erpm, this.host.poles), throttle: motor.throttle});
  }
}

function ownTraceOf(samples: readonly SpeedSample[]): OwnTrace {
  const timeS = Float64Array.from(samples, (s) => s.atS);
  const column = (of: (s: SpeedSample) => number) => Float64Array.from(samples, of);
  return {
    timeS,
    rpm: column((s) => s.rpm),
    throttle: column((s) => s.throttle),
    amps: undefined,
    volts: undefined,
    stepS: usualStep(timeS),
  };
}

const hasCut = (samples: readonly SpeedSample[]): boolean =>
  samples.some((s, i) => s.throttle === 0 && samples[i - 1] !== undefined && samples[i - 1]!.rpm > 300);
