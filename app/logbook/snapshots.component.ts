import {ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked} from '@angular/core';
import {NgTemplateOutlet} from '@angular/common';
import {FormsModule} from '@angular/forms';
import {RouterLink} from '@angular/router';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import {snapshotFile, snapshotsSheet, type SnapshotFormat} from '@core/sheets/keeping/snapshots';
import type {Snapshot} from '@core/snapshot/snapshot';
import {download} from '../shared/download';
import {ProblemComponent} from '../shared/problem.component';
import {pickedFiles} from '../shared/picked-files';
import {FileInbox} from '../state/file-inbox';
import {FleetStore} from '../state/fleet.store';
import {OtherCraftStore} from '../state/other-craft.store';
import {RecordStore} from '../state/record.store';
import {SnapshotStore} from '../state/snapshot.store';

/** Snapshots: taken and brought in, held against the plan, what was found or another one, and planned again. */
@Component({
  selector: 'bx-snapshots',
  imports: [FormsModule, InputText, NgTemplateOutlet, RouterLink, Select, ProblemComponent],
  templateUrl: './snapshots.component.html',
  styleUrl: './snapshots.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SnapshotsComponent {
  protected readonly snapshots = inject(SnapshotStore);
  private readonly inbox = inject(FileInbox);
  protected readonly record = inject(RecordStore);
  private readonly others = inject(OtherCraftStore);
  protected readonly fleet = inject(FleetStore);

  protected readonly name = signal('');
  protected readonly pickedId = signal<string | undefined>(undefined);
  protected readonly against = signal<string>('found');
  protected readonly onlyDiffering = signal(true);

  protected readonly sheet = computed(() =>
    snapshotsSheet({
      ...{listed: this.snapshots.listed(), crafts: this.others.crafts()},
      ...{craft: this.fleet.current(), found: this.record.found()},
      ...{pickedId: this.pickedId(), against: this.against(), onlyDiffering: this.onlyDiffering()},
    }),
  );

  constructor() {
    effect(() => {
      const craftId = this.record.craftId();
      untracked(() => void Promise.all([this.snapshots.load(craftId), this.others.load(craftId)]));
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

  protected async pickFile(event: Event): Promise<void> {
    const [file] = pickedFiles(event);
    if (file) await this.snapshots.bringIn(await file.text());
  }

  protected pick(id: string): void {
    this.pickedId.update((before) => (before === id ? undefined : id));
  }

  protected save(snapshot: Snapshot, as: SnapshotFormat): void {
    const {name, content, type} = snapshotFile(snapshot, as);
    download(name, content, type);
  }
}
