import {ChangeDetectionStrategy, Component, DestroyRef, inject, signal} from '@angular/core';
import {Dialog} from 'primeng/dialog';
import type {Problem} from '@core/problem';
import {when} from '../shared/when';
import {download} from '../shared/download';
import {ProblemComponent} from '../shared/problem.component';
import {WorkerClient} from '../jobs/worker-client';
import {BenchStore} from '../state/bench.store';
import {FleetStore} from '../state/fleet.store';
import {replacing} from '../store/store-lock';
import type {BackupSummary, BackupWorker} from '../workers/backup.worker';

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
    <button type="button" class="btn" (click)="save()">Save a backup</button>
    <label class="btn"
      >Bring a backup in<input type="file" accept=".zip" class="visually-hidden" (change)="pick($event)"
    /></label>
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
            Made on {{ day(backup.createdAt) }}: {{ backup.craft }} craft, {{ backup.orders }} work orders,
            {{ backup.files }} own images, {{ backup.logs }} flight logs. It takes the place of everything kept in this
            browser now.
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
  protected readonly problem = signal<Problem | undefined>(undefined);
  /** A backup that was read and found whole, and waits for a yes. */
  protected readonly read = signal<BackupSummary | undefined>(undefined);
  /** Share read; undefined while nothing is. */
  protected readonly share = signal<number | undefined>(undefined);
  private readonly worker = new WorkerClient<BackupWorker>(
    () => new Worker(new URL('../workers/backup.worker', import.meta.url), {type: 'module'}),
  );

  constructor() {
    inject(DestroyRef).onDestroy(() => this.cancel());
  }

  protected async save(): Promise<void> {
    const createdAt = new Date().toISOString();
    // Craft in hand come first: a store that is full has older ones.
    const craft = this.fleet.crafts();
    const zip = await this.worker.run((remote) => remote.pack(createdAt, craft), {place: 'backup'});
    if (zip.ok) download(`bidex ${createdAt.slice(0, 10)}.zip`, zip.value, 'application/zip');
    else this.problem.set(zip.problem);
  }

  protected async pick(event: Event): Promise<void> {
    const input = event.target as HTMLInputElement;
    const file = input.files?.[0];
    if (!file) return;
    this.problem.set(undefined);
    this.share.set(0);
    const read = await this.worker.run((remote, onProgress) => remote.read(file, onProgress), {
      place: file.name,
      onProgress: (share) => this.share.set(share),
    });
    input.value = '';
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
    if (this.bench.occupied()) return this.problem.set(busy.order);
    const put = () => this.worker.run((remote) => remote.put(), {place: 'backup'});
    const replaced = await replacing(this.bench.isConnected(), put);
    if (replaced.kind === 'busy') return this.problem.set(busy[replaced.why]);
    if (!replaced.value.ok) return this.problem.set(replaced.value.problem);
    // Every view holds what was kept before; a fresh page holds what is kept now.
    location.reload();
  }

  protected readonly day = when;
}

const busy: Readonly<Record<'order' | 'bench', Problem>> = {
  order: {
    code: 'order-running',
    place: 'backup',
    meaning: 'A work order is being carried out, here or in another tab. Its journal must not be replaced.',
    remedy: 'Nothing was changed. Let it finish, or stop it, then bring the backup in again.',
  },
  bench: {
    code: 'bench-held',
    place: 'backup',
    meaning: 'Another tab of Bidex holds the bench and may write to it.',
    remedy: 'Nothing was changed. Close that tab, or take the bench over here, then bring the backup in again.',
  },
};
