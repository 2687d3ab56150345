import type {JournalEntry} from '@core/run/journal';
import type {SimulatedBench} from '@simulator/hardware/bench';

/** Lets a test break what the drill guards, to see that it is found. */
export interface Sabotage {
  /** Tells lies in the journal. */
  readonly entry?: (entry: JournalEntry) => JournalEntry;
  /** Overwrites without asking and keeps nothing. */
  readonly careless?: boolean;
  /** Sends a request of its own after the order has ended. */
  readonly orphan?: boolean;
  /** Prepares the bench. */
  readonly bench?: (bench: SimulatedBench) => void;
  /** Someone is at the bench after every stop. */
  readonly someone?: boolean;
  /** Motors are held in this run. */
  readonly spins?: boolean;
  /** The craft is proven whole, and changed afterwards. */
  readonly lives?: boolean;
  /** Proofs that rest on whatever there is, measurements that are all taken for good, or records that forget. */
  readonly record?: 'forgiving' | 'credulous' | 'forgetful';
  /** A roll-back that leaves something as it is. */
  readonly lazyRollBack?: boolean;
}
