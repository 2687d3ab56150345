/** A hold whose lease has been out for longer than this has ended, ms. */
const graceMs = 300;
/** A renewal that comes this much later than the quickest one of its hold is a copy or was kept back somewhere, ms. */
const lateMs = 150;

export interface Renewal {
  readonly hold: number;
  /** The sender's clock, ms; only differences mean anything. */
  readonly sentMs: number;
  readonly leaseMs: number;
}

/** Which hold may turn motors: numbers only rise, what has ended stays ended, what comes late says nothing. */
export class Holds {
  /** Highest number seen. */
  last = 0;
  private ended = 0;
  private leaseEnds = 0;
  /** Adapter's clock minus sender's at the quickest renewal of the hold, ms. */
  private quickest = Infinity;

  /** Begins or renews a hold at `now`, ms; a higher number ends the ones before it. */
  renew({hold, sentMs, leaseMs}: Renewal, now: number): 'taken' | 'ended' | 'late' {
    if (now > this.leaseEnds + graceMs) this.ended = this.last;
    if (hold <= this.ended) return 'ended';
    if (hold > this.last) this.quickest = Infinity;
    this.quickest = Math.min(this.quickest, now - sentMs);
    if (now - sentMs - this.quickest > lateMs) return 'late';
    this.last = hold;
    this.ended = hold - 1;
    this.leaseEnds = now + leaseMs;
    return 'taken';
  }

  /** Ends a hold and all before it. True when no hold is left that may turn motors. */
  end(hold: number): boolean {
    this.ended = Math.max(this.ended, hold);
    this.last = Math.max(this.last, hold);
    return this.last <= this.ended;
  }
}
