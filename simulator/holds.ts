/** A hold whose lease has been out for longer than this has ended, ms. */
const graceMs = 300;

/** Which hold may turn motors: numbers only rise, and what has ended stays ended. */
export class Holds {
  /** Highest number seen. */
  last = 0;
  private ended = 0;
  private leaseEnds = 0;

  /** Begins or renews a hold at `now`, ms; a higher number ends the ones before it. False when it has ended already. */
  renew(hold: number, now: number, leaseEnds: number): boolean {
    if (now > this.leaseEnds + graceMs) this.ended = this.last;
    if (hold <= this.ended) return false;
    this.last = Math.max(this.last, hold);
    this.ended = hold - 1;
    this.leaseEnds = leaseEnds;
    return true;
  }

  /** Ends a hold and all before it. True when no hold is left that may turn motors. */
  end(hold: number): boolean {
    this.ended = Math.max(this.ended, hold);
    this.last = Math.max(this.last, hold);
    return this.last <= this.ended;
  }
}
