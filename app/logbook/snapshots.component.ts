import {ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import Papa from 'papaparse';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import {stringify} from 'smol-toml';
import {describeCarryOver} from '@core/settings/carry-over-text';
import {
  isLayoutRevision,
  parameterDefinitions,
  type LayoutRevision,
  type ParameterKey,
} from '@core/settings/definitions';
import {
  compareSides,
  restoreAsPlan,
  sideOfFound,
  sideOfPlan,
  sideOfSnapshot,
  snapshotRows,
  type Side,
  type Snapshot,
} from '@core/snapshot/snapshot';
import {readableSnapshot} from '@core/snapshot/readable';
import {momentText} from '@core/words/moment';
import {download} from '../shared/download';
import {ProblemComponent} from '../shared/problem.component';
import {pickedFiles} from '../shared/picked-files';
import {FileInbox} from '../state/file-inbox';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {SnapshotStore} from '../state/snapshot.store';

/** Snapshots: taken and brought in, held against the plan, what was found or another one, and planned again. */
@Component({
  selector: 'bx-snapshots',
  imports: [FormsModule, InputText, Select, ProblemComponent],
  templateUrl: './snapshots.component.html',
  styleUrl: './snapshots.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SnapshotsComponent {
  protected readonly snapshots = inject(SnapshotStore);
  private readonly inbox = inject(FileInbox);
  protected readonly record = inject(RecordStore);
  private readonly fleet = inject(FleetStore);

  protected readonly name = signal('');
  protected readonly pickedId = signal<string | undefined>(undefined);
  protected readonly against = signal<string>('found');
  protected readonly onlyDiffering = signal(true);

  protected readonly picked = computed(() => this.snapshots.listed().find((s) => s.id === this.pickedId()));
  private readonly motors = computed(() => this.fleet.current()?.arms.length ?? 0);
  protected readonly motorNumbers = computed(() => Array.from({length: this.motors()}, (_, i) => i + 1));
  protected readonly others = computed(() => [
    {label: 'what was found last', value: 'found'},
    {label: 'the plan', value: 'plan'},
    ...this.snapshots
      .listed()
      .filter((s) => s.id !== this.pickedId())
      .map((s) => ({label: `${s.name}, ${this.when(s.at)}`, value: s.id})),
  ]);

  private readonly otherSide = computed((): Side | undefined => {
    const [found, craft, against] = [this.record.found(), this.fleet.current(), this.against()];
    if (against === 'found') return found && sideOfFound(found);
    if (against === 'plan') return craft && sideOfPlan(craft);
    const other = this.snapshots.listed().find((s) => s.id === against);
    return other && sideOfSnapshot(other);
  });
  private readonly lines = computed(() => {
    const [left, right] = [this.picked(), this.otherSide()];
    return left && right ? compareSides(sideOfSnapshot(left), right, this.motors()) : [];
  });
  protected readonly differing = computed(() => this.lines().filter((l) => l.differs).length);
  protected readonly shown = computed(() => this.lines().filter((l) => l.differs || !this.onlyDiffering()));

  /** Layout that a plan from the snapshot is for: of what was found, else the newest the snapshot knows. */
  private readonly layout = computed((): LayoutRevision | undefined => {
    const layout =
      this.record.found()?.escs.find((e) => e.identity)?.identity?.layoutRevision ?? this.picked()?.escs[0]?.layout;
    return layout !== undefined && isLayoutRevision(layout) ? layout : undefined;
  });
  protected readonly restore = computed(() => {
    const [picked, layout, craft] = [this.picked(), this.layout(), this.fleet.current()];
    return picked && craft && layout !== undefined ? restoreAsPlan(picked, layout, craft) : undefined;
  });
  /** What carrying over does, once for ESCs of the same layout. */
  protected readonly report = computed(() => {
    const [restore, layout] = [this.restore(), this.layout()];
    if (!restore || layout === undefined) return [];
    return [...new Set(restore.carried.map((c) => describeCarryOver(c.from, layout, c.carried)))];
  });

  constructor() {
    effect(() => {
      const craftId = this.record.craftId();
      untracked(() => void this.snapshots.load(craftId));
    });
    // The next one when the last one's problem was read.
    effect(() => {
      if (this.snapshots.problem() === undefined && this.inbox.has('snapshot')) untracked(() => void this.takeNext());
    });
  }

  private async takeNext(): Promise<void> {
    const file = this.inbox.take('snapshot');
    if (file) await this.snapshots.bringIn(await file.text());
  }

  protected async take(): Promise<void> {
    await this.snapshots.take(this.name().trim() || 'as found');
    this.name.set('');
  }

  protected planAll(): void {
    const restore = this.restore();
    if (restore) this.snapshots.plan(restore, Object.keys(restore.parameters) as ParameterKey[]);
  }

  protected planOne(name: string): void {
    const restore = this.restore();
    const key = parameterDefinitions.find((d) => d.name === name)?.key;
    if (restore && key) this.snapshots.plan(restore, [key]);
  }

  protected canPlan(name: string): boolean {
    const key = parameterDefinitions.find((d) => d.name === name)?.key;
    return key !== undefined && this.restore()?.parameters[key] !== undefined;
  }

  protected async pickFile(event: Event): Promise<void> {
    const [file] = pickedFiles(event);
    if (file) await this.snapshots.bringIn(await file.text());
  }

  protected save(snapshot: Snapshot, as: 'json' | 'toml' | 'csv'): void {
    const name = `${snapshot.craft}, ${snapshot.name}.${as}`;
    if (as === 'json') download(name, JSON.stringify(snapshot, null, 2), 'application/json');
    else if (as === 'csv') download(name, Papa.unparse(snapshotRows(snapshot)), 'text/csv');
    else download(name, stringify(readableSnapshot(snapshot)), 'application/toml');
  }

  protected readonly when = momentText;
}
