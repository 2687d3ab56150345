/** A hold whose lease has been out for longer than this has ended, ms. */
const graceMs = 300;
/** A renewal that comes this much later than the quickest one of its hold is a copy or was kept back somewhere, ms. */
const lateMs = 150;
/** A number this far above all that were seen is no next hold: one frame must not use up all numbers there are. */
const maxAhead = 1_000;

interface Renewal {
  readonly hold: number;
  /** The sender's clock, ms; only differences mean anything. */
  readonly sentMs: number;
  readonly leaseMs: number;
  /** Whether it commands a motor to turn. */
  readonly turns: boolean;
}

/** `until`: when the lease runs out, ms on the adapter's clock. */
type Renewed =
  | {readonly kind: 'taken'; readonly until: number}
  | {readonly kind: 'hold-ended' | 'late' | 'not-begun' | 'hold-too-high'};

/** Texts of what is refused, by code. */
export const holdRefusals = {
  late: 'This renewal came too late to be meant for now.',
  'hold-ended': 'This hold has ended: it was stopped, its lease ran out, or the power was off.',
  'not-begun': 'A hold begins with a renewal that turns no motor.',
  'hold-too-high':
    'This number is far above the last hold. Everything was stopped; ask for the last number with "hello".',
} as const;

/** Which hold may turn motors: numbers only rise, what has ended stays ended, what comes late says nothing. */
export class Holds {
  /** Highest number seen. */
  last = 0;
  private ended = 0;
  private leaseEnds = 0;
  /** Adapter's clock minus sender's at the quickest renewal of the hold, ms. */
  private quickest = Infinity;

  /** Begins or renews a hold at `now`, ms; a higher number ends the ones before it. */
  renew({hold, sentMs, leaseMs, turns}: Renewal, now: number): Renewed {
    if (this.isTooHigh(hold)) return {kind: 'hold-too-high'};
    if (now > this.leaseEnds + graceMs) this.ended = this.last;
    if (hold <= this.ended) return {kind: 'hold-ended'};
    if (hold > this.last) {
      // Its first renewal may itself have been kept back: it turns nothing.
      if (turns) return {kind: 'not-begun'};
      this.quickest = Infinity;
    }
    this.quickest = Math.min(this.quickest, now - sentMs);
    const kept = now - sentMs - this.quickest;
    if (kept > lateMs) return {kind: 'late'};
    this.last = hold;
    this.ended = hold - 1;
    // The lease counts from when it was sent.
    this.leaseEnds = now + leaseMs - kept;
    return {kind: 'taken', until: this.leaseEnds};
  }

  /** Whether a hold may turn motors at `now`, ms. */
  isAlive(now: number): boolean {
    return this.last > this.ended && now <= this.leaseEnds + graceMs;
  }

  /** Whether this is far above every number seen: then it is refused, and what turns is stopped all the same. */
  isTooHigh(hold: number): boolean {
    return hold > this.last + maxAhead;
  }

  /** Ends a hold and all before it. True when no hold is left that may turn motors. */
  end(hold: number): boolean {
    this.ended = Math.max(this.ended, hold);
    this.last = Math.max(this.last, hold);
    return this.last <= this.ended;
  }
}
