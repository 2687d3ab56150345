import {ChangeDetectionStrategy, Component, DestroyRef, effect, inject, signal, untracked} from '@angular/core';
import {Dialog} from 'primeng/dialog';
import type {Problem} from '@core/problem';
import {backupText, lackText, restoreRefusals} from '@core/sheets/keeping/backup';
import {momentText} from '@core/words/moment';
import {download} from '../shared/download';
import {ProblemComponent} from '../shared/problem.component';
import {WorkerClient} from '../jobs/worker-client';
import {BenchStore} from '../state/bench.store';
import {pickedFiles} from '../shared/picked-files';
import {FileInbox} from '../state/file-inbox';
import {FleetStore} from '../state/fleet.store';
import {replacing} from '../store/store-lock';
import {StoreMode} from '../store/store-mode';
import type {BackupSummary, BackupWorker, PackedBackup} from '../workers/backup.worker';

/** Everything as one zip file, and back. */
@Component({
  selector: 'bx-backup',
  imports: [Dialog, ProblemComponent],
  template: `
    <h2>Keep everything in one file</h2>
    <p class="quiet">
      Craft, plans, surveys, orders with their journals, claims, own images and flight logs. Releases come from the
      service again.
    </p>
    @if (problem(); as trouble) {
      <bx-problem [problem]="trouble" closable (closed)="problem.set(undefined)" />
    }
    @if (share() !== undefined) {
      <div class="bar" role="progressbar" [attr.aria-valuenow]="share()! * 100" aria-label="Reading the backup">
        <i [style.width.%]="share()! * 100"></i>
      </div>
      <button type="button" class="btn" (click)="cancel()">Cancel reading</button>
    }
    <button type="button" class="btn" [disabled]="packing()" (click)="pack()">
      {{ packing() ? 'Packing and reading back …' : 'Save a backup' }}
    </button>
    <label class="btn"
      >Restore backup<input type="file" accept=".zip" class="visually-hidden" (change)="pick($event)"
    /></label>
    @if (packed(); as backup) {
      <div class="gate" [class.bad]="backup.lacks.length" role="status">
        <b>{{ backup.lacks.length ? 'This backup is not complete' : 'Packed and read back' }}</b>
        It holds {{ holds(backup) }}.
        @if (backup.lacks.length) {
          These could not be read and are not in it: {{ lackText(backup.lacks) }}. They stay as they are where it is put
          in place.
        }
        <div class="acts">
          <button type="button" class="btn full" (click)="save(backup)">
            {{ backup.lacks.length ? 'Save it without them' : 'Save the file' }}
          </button>
        </div>
      </div>
    }
    @defer (when read() !== undefined) {
      <p-dialog
        header="Put this backup in place?"
        closeAriaLabel="Close"
        [modal]="true"
        [draggable]="false"
        [visible]="read() !== undefined"
        (visibleChange)="read.set(undefined)"
      >
        @if (read(); as backup) {
          <p>
            Made on {{ day(backup.createdAt) }}: {{ holds(backup) }}. It takes the place of everything kept in this
            browser now.
            @if (backup.lacks.length) {
              It was made without {{ lackText(backup.lacks) }}: those stay as they are.
            }
          </p>
          <div class="acts">
            <button type="button" class="btn" (click)="read.set(undefined)">Keep what is here</button>
            <button type="button" class="btn full" [disabled]="bench.occupied()" (click)="restore()">
              Put it in place
            </button>
          </div>
        }
      </p-dialog>
    }
  `,
  styles: `
    :host {
      display: block;
      max-width: 760px;
      padding-top: var(--s6);
      font-size: var(--fs-body);
    }
    p {
      padding: var(--s3) 0 var(--s5);
    }
    .btn + .btn {
      margin-left: var(--s4);
    }
    .acts {
      display: flex;
      justify-content: flex-end;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BackupComponent {
  protected readonly bench = inject(BenchStore);
  private readonly fleet = inject(FleetStore);
  private readonly mode = inject(StoreMode);
  private readonly inbox = inject(FileInbox);
  protected readonly problem = signal<Problem | undefined>(undefined);
  /** A backup that was read and found whole, and waits for a yes. */
  protected readonly read = signal<BackupSummary | undefined>(undefined);
  /** A backup that was packed and read back, and waits to be saved. */
  protected readonly packed = signal<PackedBackup | undefined>(undefined);
  protected readonly packing = signal(false);
  /** Share read; undefined while nothing is. */
  protected readonly share = signal<number | undefined>(undefined);
  private readonly worker = new WorkerClient<BackupWorker>(
    () => new Worker(new URL('../workers/backup.worker', import.meta.url), {type: 'module'}),
  );

  constructor() {
    effect(() => {
      const isFree = this.share() === undefined && this.read() === undefined && this.problem() === undefined;
      if (!isFree || !this.inbox.has('backup')) return;
      const file = untracked(() => this.inbox.take('backup'));
      if (file) untracked(() => void this.take(file));
    });
    inject(DestroyRef).onDestroy(() => this.cancel());
  }

  protected async pack(): Promise<void> {
    this.problem.set(undefined);
    this.packed.set(undefined);
    this.packing.set(true);
    const createdAt = new Date().toISOString();
    // Craft in hand come first: a store that is full has older ones. What was not read is not there.
    const craft = this.fleet.loaded() ? this.fleet.crafts() : undefined;
    const inMemory = this.mode.inMemory();
    const packed = await this.worker.run((remote) => remote.pack(createdAt, {craft, inMemory}), {place: 'backup'});
    this.packing.set(false);
    if (packed.ok) this.packed.set(packed.value);
    else this.problem.set(packed.problem);
  }

  protected save({createdAt, zip}: PackedBackup): void {
    download(`bidex ${createdAt.slice(0, 10)}.zip`, zip, 'application/zip');
    this.packed.set(undefined);
  }

  protected readonly holds = backupText;
  protected readonly lackText = lackText;

  protected async pick(event: Event): Promise<void> {
    const [file] = pickedFiles(event);
    if (file) await this.take(file);
  }

  private async take(file: File): Promise<void> {
    this.problem.set(undefined);
    this.share.set(0);
    const read = await this.worker.run((remote, onProgress) => remote.read(file, onProgress), {
      place: file.name,
      onProgress: (share) => this.share.set(share),
    });
    this.share.set(undefined);
    if (read.ok) this.read.set(read.value);
    else if (read.problem.code !== 'cancelled') this.problem.set(read.problem);
  }

  /** Ends reading at once; nothing was changed by it. */
  protected cancel(): void {
    this.worker.cancel();
    this.share.set(undefined);
    this.read.set(undefined);
  }

  protected async restore(): Promise<void> {
    this.read.set(undefined);
    if (this.bench.occupied()) return this.problem.set(restoreRefusals.order);
    const put = () => this.worker.run((remote) => remote.put(), {place: 'backup'});
    const replaced = await replacing(this.bench.isConnected(), put);
    if (replaced.kind === 'busy') return this.problem.set(restoreRefusals[replaced.why]);
    if (!replaced.value.ok) return this.problem.set(replaced.value.problem);
    // Every view holds what was kept before; a fresh page holds what is kept now.
    location.reload();
  }

  protected readonly day = momentText;
}
