/**
 * The gentle pulses of a hold: throttle climbs slowly from little until the motor turns, a little on, stays for a moment, and
 * rests until it stands; then again, from just below where it started. Eyes see which motor it is, and every pulse is one more
 * start that was measured.
 */

/** Throttle climbs from this, 0…1, by a step every so often, ms. */
const firstThrottle = 0.01;
const climbStep = 0.001;
export const climbEveryMs = 50;
/** Once the start is seen the climb need not be slow any more. */
const afterStart = 4;
/** The next climb begins this far below the start before it, 0…1. */
const belowStart = 0.006;
/** Time at the top, and least time of rest, ms. */
const turnMs = 900;
const restMs = 350;
/** Rest of a motor whose speed nobody tells, ms. */
const blindRestMs = 1200;
/** Longest wait for a motor that coasts, ms. */
const longestRestMs = 6000;

/** Throttle that the pulses reach: little, or enough for analog ESCs whose low end lies high. */
export const pulseTop = {digital: 0.06, analog: 0.12} as const;

/** What is known of the motor; undefined where no speed comes. */
export interface MotorSight {
  readonly turns: boolean;
  readonly stands: boolean;
}

export class PulsePattern {
  throttle = firstThrottle;
  phase: 'climbing' | 'turning' | 'resting' = 'climbing';
  private startsAt: number | undefined;
  private sinceMs: number;

  constructor(
    readonly top: number,
    nowMs: number,
  ) {
    this.sinceMs = nowMs;
  }

  /** Someone saw it turn: the throttle of this moment, which counts as the start. Undefined while nothing climbs. */
  saw(): number | undefined {
    if (this.phase !== 'climbing') return undefined;
    this.phase = 'turning';
    return (this.startsAt = this.throttle);
  }

  /** The throttle from now on; asked every `climbEveryMs`. */
  next(nowMs: number, motor: MotorSight | undefined): number {
    if (this.phase === 'resting') this.rest(nowMs - this.sinceMs, motor);
    else this.climb(nowMs, motor);
    return this.throttle;
  }

  private climb(nowMs: number, motor: MotorSight | undefined): void {
    if (motor?.turns) this.saw();
    if (this.throttle < this.top) {
      const step = climbStep * (this.phase === 'turning' ? afterStart : 1);
      this.throttle = Math.min(this.top, this.throttle + step);
      this.sinceMs = nowMs;
    } else if (nowMs - this.sinceMs >= turnMs) {
      this.phase = 'resting';
      this.throttle = 0;
      this.sinceMs = nowMs;
    }
  }

  private rest(restedMs: number, motor: MotorSight | undefined): void {
    const stands = motor ? motor.stands && restedMs >= restMs : restedMs >= blindRestMs;
    if (!stands && restedMs < longestRestMs) return;
    this.phase = 'climbing';
    this.throttle = Math.max(firstThrottle, (this.startsAt ?? 0) - belowStart);
  }
}
