/** Watches over the one hold that may turn motors: at every report, when something changes, and in between. */
import type {Power} from '../../link/operations';
import type {Clock} from '../../link/port';
import {ProblemError, type Problem} from '../../problem';
import {whyHoldEnds, type HoldState} from './hold-guard';
import {secondHold} from './lease';

/** How often a hold is looked after while no report comes, ms. */
const lookEveryMs = 50;

/** What only the page knows. */
export type PageState = Pick<HoldState, 'propsOffCycle' | 'isVisible'>;

export class HoldWatch {
  private endOwn: ((why?: Problem) => void) | undefined;
  private heard: {readonly power: Power; readonly at: number} | undefined;

  constructor(
    private readonly clock: Clock,
    private readonly sight: () => PageState,
    /** Told when a hold begins and ends. */
    private readonly onTurning: (turning: boolean) => void = () => undefined,
  ) {}

  /** A report, or an answer about power, came from the bench. */
  hear(power: Power): void {
    this.heard = {power, at: this.clock.now()};
    this.look();
  }

  /** The connection ended: nothing that was heard counts any more. */
  linkEnded(): void {
    this.heard = undefined;
    this.look();
  }

  /** Looks whether the hold may go on; ends it when not. */
  look(): void {
    const why = this.endOwn && this.whyNot();
    if (why) this.end(why);
  }

  /**
   * Begins a hold: `end` is called once when something else than its own release ends it. The returned function takes the
   * hold back. Throws "second-hold" while another one turns motors, or with what forbids to turn any now.
   */
  begin(end: (why?: Problem) => void): () => void {
    const why = this.endOwn ? secondHold : this.whyNot();
    if (why) throw new ProblemError(why);
    const release = () => {
      if (this.endOwn !== own) return;
      this.endOwn = undefined;
      this.onTurning(false);
    };
    const own = (why?: Problem) => {
      release();
      end(why);
    };
    this.endOwn = own;
    this.onTurning(true);
    const again = () => {
      if (this.endOwn !== own) return;
      this.look();
      this.clock.after(lookEveryMs, again);
    };
    this.clock.after(lookEveryMs, again);
    return release;
  }

  /** Ends the hold, whoever made it: the stop control, a window that lost its focus. */
  end(why?: Problem): void {
    this.endOwn?.(why);
  }

  private whyNot(): Problem | undefined {
    const {heard} = this;
    const reportAgeMs = heard ? this.clock.now() - heard.at : Infinity;
    return whyHoldEnds({...this.sight(), power: heard?.power, reportAgeMs});
  }
}
