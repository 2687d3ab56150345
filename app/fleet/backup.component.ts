import {ChangeDetectionStrategy, Component, inject, signal} from '@angular/core';
import {Dialog} from 'primeng/dialog';
import type {Problem} from '@core/problem';
import {when} from '../shared/when';
import {download} from '../shared/download';
import {ProblemComponent} from '../shared/problem.component';
import {BenchStore} from '../state/bench.store';
import {FleetStore} from '../state/fleet.store';
import {collectBackup, packBackup, readBackup, restoreBackup, type Backup} from '../store/backup';

/** Everything as one zip file, and back. */
@Component({
  selector: 'bx-backup',
  imports: [Dialog, ProblemComponent],
  template: `
    <h2>Keep everything in one file</h2>
    <p class="quiet">
      Craft, plans, surveys, orders with their journals, claims and own images. Releases come from the service again.
    </p>
    @if (problem(); as trouble) {
      <bx-problem [problem]="trouble" closable (closed)="problem.set(undefined)" />
    }
    <button type="button" class="btn" (click)="save()">Save a backup</button>
    <label class="btn"
      >Bring a backup in<input type="file" accept=".zip" class="visually-hidden" (change)="pick($event)"
    /></label>
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
          Made on {{ day(backup.createdAt) }}: {{ backup.rows.craft.length }} craft,
          {{ backup.rows.orders.length }} work orders, {{ backup.files.length }} own images. It takes the place of
          everything kept in this browser now.
        </p>
        <div class="acts">
          <button type="button" class="btn" (click)="read.set(undefined)">Keep what is here</button>
          <button type="button" class="btn full" [disabled]="bench.occupied()" (click)="restore(backup)">
            Put it in place
          </button>
        </div>
      }
    </p-dialog>
  `,
  styles: `
    :host {
      display: block;
      max-width: 760px;
      padding-top: 14px;
      font-size: 13px;
    }
    p {
      padding: 6px 0 10px;
    }
    .btn + .btn {
      margin-left: 8px;
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
  protected readonly read = signal<Backup | undefined>(undefined);

  protected async save(): Promise<void> {
    const createdAt = new Date().toISOString();
    const {rows, ...kept} = await collectBackup(createdAt);
    // Craft in hand come first: a store that is full has older ones.
    const whole = {...kept, rows: {...rows, craft: this.fleet.crafts()}};
    download(`bidex ${createdAt.slice(0, 10)}.zip`, packBackup(whole), 'application/zip');
  }

  protected async pick(event: Event): Promise<void> {
    const input = event.target as HTMLInputElement;
    const file = input.files?.[0];
    if (!file) return;
    this.problem.set(undefined);
    const read = readBackup(new Uint8Array(await file.arrayBuffer()));
    input.value = '';
    if (read.ok) this.read.set(read.value);
    else this.problem.set(read.problem);
  }

  protected async restore(backup: Backup): Promise<void> {
    this.read.set(undefined);
    try {
      await restoreBackup(backup);
    } catch (error) {
      this.problem.set({
        code: 'restore-failed',
        place: 'backup',
        meaning: `The browser's store refused it: ${error instanceof Error ? error.message : String(error)}`,
        remedy: 'Everything is as it was before. Free space on this computer, then try again.',
      });
      return;
    }
    // Every view holds what was kept before; a fresh page holds what is kept now.
    location.reload();
  }

  protected readonly day = when;
}
