/** The runner's record: intent before hardware is touched, outcome after. */
import type {NewProof} from '../proof/proof';

export interface SnapshotPage {
  readonly serial: string;
  readonly output: number;
  /** The whole settings page as it was. */
  readonly page: Uint8Array;
}

export interface JournalEntry {
  readonly orderId: string;
  /** Epoch ms. */
  readonly at: number;
  readonly stepId: string;
  /**
   * "kept": firmware of others was read out and is safe. "part": ended without the ESCs that were isolated; it is attempted again on resume. "reopened": it was done, and a
   * proof contradicts it.
   */
  readonly event:
    | 'begin'
    | 'snapshot'
    | 'kept'
    | 'page'
    | 'retry'
    | 'part'
    | 'isolated'
    | 'done'
    | 'reopened'
    | 'stopped';
  readonly text: string;
  readonly snapshot?: readonly SnapshotPage[];
  /** Power cycles counted when the step began. */
  readonly cycles?: number;
  /** Address of a page that was written and checked. */
  readonly address?: number;
  readonly output?: number;
  readonly proof?: NewProof;
}

/** Where entries go. `append` resolves when the entry is safe. */
export interface Journal {
  append(entry: JournalEntry): Promise<void>;
  entries(orderId: string): Promise<readonly JournalEntry[]>;
}

/** A journal in memory, for tests and the headless door. */
export class MemoryJournal implements Journal {
  readonly all: JournalEntry[] = [];

  append(entry: JournalEntry): Promise<void> {
    this.all.push(entry);
    return Promise.resolve();
  }

  entries(orderId: string): Promise<readonly JournalEntry[]> {
    return Promise.resolve(this.all.filter((e) => e.orderId === orderId));
  }
}

export type StepState = 'open' | 'begun' | 'done';

/** How far a step is, from the journal alone. */
export function stepState(entries: readonly JournalEntry[], stepId: string): StepState {
  const own = entries.filter((e) => e.stepId === stepId);
  if (own.findLast((e) => e.event === 'done' || e.event === 'reopened')?.event === 'done') return 'done';
  return own.some((e) => e.event === 'begin') ? 'begun' : 'open';
}
