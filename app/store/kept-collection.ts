/**
 * Rows of a table that several tabs edit: the newest edit of each goes to the store one after the other, is merged there with
 * what another tab kept meanwhile, and nothing that is on its way is taken back by what the store still says. Used by the
 * fleet; what a row's edit carries along (its steps back and forth, say) is the edit's own.
 */
import {mergeEdits} from '@core/craft/merge-edits';
import {watchTable, type TableWatch} from './watch-table';

/** An edit on its way to the store, with what it carries along. */
export interface KeptEdit<Row, Step> {
  readonly row: Row;
  readonly steps: readonly Step[];
}

interface Arrived<Row> {
  /** As the store has it now. */
  readonly value: Row;
  /** Whether something of another tab is in it. */
  readonly tookOver: boolean;
}

interface CollectionQuestion<Row, Step> {
  /** Puts an edit into the store, merged with what is there. @param agreed the row as this tab and the store had it last. */
  readonly put: (edit: KeptEdit<Row, Step>, agreed: Row | undefined) => Promise<Arrived<Row>>;
  readonly read: () => Promise<readonly Row[]>;
  /** What another tab kept, once no edit is on its way. */
  readonly onNews: (rows: readonly Row[]) => void;
  /** An edit is in the store; where something of another tab came with it, `merge` brings that into a row. */
  readonly onKept: (edited: Row, arrived: Arrived<Row>, merge: (row: Row) => Row) => void;
  readonly onFault: (error: unknown) => void;
}

export class KeptCollection<Row extends {readonly id: string}, Step = never> {
  private watch: TableWatch | undefined;
  /** Each row as this tab and the store last agreed on it. */
  private readonly agreed = new Map<string, Row>();
  /** The newest edit of each row on its way to the store; one at a time, so that no edit meets the one before it. */
  private readonly waiting = new Map<string, KeptEdit<Row, Step>>();
  private queue: Promise<void> = Promise.resolve();
  /** Edits that are not in the store yet: until they are, what the store says is of before them. */
  private underWay = 0;

  constructor(private readonly q: CollectionQuestion<Row, Step>) {}

  get isSettled(): boolean {
    return this.underWay === 0;
  }

  /** What the store and this tab hold alike. */
  agree(rows: readonly Row[]): void {
    for (const row of rows) this.agreed.set(row.id, row);
  }

  /** From the first read on: a store that could not be read has nothing to be followed. */
  follow(): void {
    this.watch ??= watchTable(this.q.read, (rows) => this.hear(rows));
  }

  keep(row: Row, step?: Step): void {
    const steps = this.waiting.get(row.id)?.steps ?? [];
    this.waiting.set(row.id, {row, steps: step === undefined ? steps : [...steps, step]});
    this.underWay++;
    this.queue = this.queue.then(() => this.putNewest(row.id)).finally(() => this.underWay--);
    const done = this.queue.then(() => this.readAgain());
    void (this.watch?.during(done) ?? done);
  }

  private hear(rows: readonly Row[]): void {
    if (this.isSettled) this.q.onNews(rows);
  }

  /** Once all edits are kept, what another tab put there meanwhile is taken over. */
  private async readAgain(): Promise<void> {
    if (!this.isSettled) return;
    try {
      this.hear(await this.q.read());
    } catch (error) {
      this.q.onFault(error);
    }
  }

  private async putNewest(id: string): Promise<void> {
    const edit = this.waiting.get(id);
    if (!edit) return;
    this.waiting.delete(id);
    try {
      const arrived = await this.q.put(edit, this.agreed.get(id));
      this.agreed.set(id, arrived.value);
      const merge = (row: Row) => (row === edit.row ? arrived.value : mergeEdits(edit.row, row, arrived.value).value);
      // What came from another tab goes under whatever was edited since.
      const later = arrived.tookOver ? this.waiting.get(id) : undefined;
      if (later) this.waiting.set(id, {...later, row: merge(later.row)});
      this.q.onKept(edit.row, arrived, merge);
    } catch (error) {
      this.q.onFault(error);
    }
  }
}
