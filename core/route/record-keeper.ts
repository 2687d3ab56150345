/**
 * Keeps the record of one craft in a store that may fail. What was not read is not there: as long as the first read has failed
 * nothing is written, what happens meanwhile waits, and is laid over what was read as soon as that succeeds. Every change is
 * a step from the record as the store has it, so that nothing of another tab is overwritten unseen.
 */
import type {Clock} from '../link/port';
import {blankRecord, type CraftRecord, type RecordChange} from './craft-record';

/** A step: from the record as it is to what is another thing in it. */
export type RecordStep = (record: CraftRecord) => RecordChange;

/** Where records are kept; both reject when the store refuses. */
export interface RecordTable {
  read(craftId: string): Promise<CraftRecord | undefined>;
  /** Puts what `how` makes of the kept record in its place, in one piece, and resolves with it. */
  update(craftId: string, how: (kept: CraftRecord | undefined) => CraftRecord): Promise<CraftRecord>;
}

interface KeeperHost {
  readonly clock: Clock;
  /** The record as it is now, with what waits to be kept in it. */
  readonly onRecord: (record: CraftRecord) => void;
  /** The store refuses, at which of the two; undefined when it does what it should again. */
  readonly onFault: (fault: {readonly at: 'read' | 'write'; readonly error: unknown} | undefined) => void;
}

/** A read or a write that failed is tried again after so long, ms. */
const tryAgainMs = 2_000;

export class RecordKeeper {
  private waiting: readonly RecordStep[] = [];
  private wasRead = false;
  private ended = false;
  private busy: Promise<void> = Promise.resolve();
  private stopRetry: () => void = () => undefined;
  private base: CraftRecord;

  /** @param writer names this tab: another one's changes are told from its own. */
  constructor(
    private readonly table: RecordTable,
    readonly craftId: string,
    private readonly writer: string,
    private readonly host: KeeperHost,
  ) {
    this.base = blankRecord(craftId);
  }

  /** Reads the record; resolves when that has succeeded, or failed and will be tried again. */
  async open(): Promise<void> {
    try {
      const kept = await this.table.read(this.craftId);
      if (this.ended) return;
      this.wasRead = true;
      if (kept) this.base = kept;
      this.host.onFault(undefined);
      this.tell();
      if (this.waiting.length) void this.flush();
    } catch (error) {
      this.failed('read', error, () => void this.open());
    }
  }

  get isRead(): boolean {
    return this.wasRead;
  }

  /** The record with everything that waits. */
  get record(): CraftRecord {
    return this.waiting.reduce((record, step) => ({...record, ...step(record)}), this.base);
  }

  /** Resolves when the change is kept, or when that was refused: then it waits, and is tried again. */
  change(step: RecordStep): Promise<void> {
    this.waiting = [...this.waiting, step];
    this.tell();
    return this.wasRead ? this.flush() : Promise.resolve();
  }

  /** What another tab has put there. */
  hear(now: CraftRecord | undefined): void {
    if (!now || now.writer === this.writer || this.ended) return;
    this.base = now;
    this.tell();
  }

  /** Nothing is told any more; what waits is still tried once. */
  close(): void {
    if (this.wasRead && this.waiting.length) void this.flush();
    this.ended = true;
    this.stopRetry();
  }

  private tell(): void {
    if (!this.ended) this.host.onRecord(this.record);
  }

  private flush(): Promise<void> {
    return (this.busy = this.busy.then(() => this.write()));
  }

  /** What waits goes onto the record as the store has it. */
  private async write(): Promise<void> {
    const steps = this.waiting;
    if (!steps.length) return;
    try {
      this.base = await this.table.update(this.craftId, (kept) => ({
        ...steps.reduce((record, step) => ({...record, ...step(record)}), kept ?? this.base),
        writer: this.writer,
      }));
      this.waiting = this.waiting.slice(steps.length);
      this.stopRetry();
      if (!this.ended) this.host.onFault(undefined);
      this.tell();
    } catch (error) {
      this.failed('write', error, () => void this.flush());
    }
  }

  private failed(at: 'read' | 'write', error: unknown, again: () => void): void {
    if (this.ended) return;
    this.host.onFault({at, error});
    this.stopRetry();
    this.stopRetry = this.host.clock.after(tryAgainMs, again);
  }
}
