import {ChangeDetectionStrategy, Component, computed, effect, inject, signal} from '@angular/core';
import type {JournalEntry} from '@core/run/journal';
import {claimLines, journalLines, orderLines} from '@core/sheets/keeping/logbook';
import {momentText} from '@core/words/moment';
import {SoundsComponent} from '../shared/sounds.component';
import {SnapshotsComponent} from './snapshots.component';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {WorkStore} from '../state/work.store';
import {browserJournal, database, type KeptOrder} from '../store/database';

/** Everything that happened to this craft: work orders with their journals, and who claimed what. */
@Component({
  selector: 'bx-logbook',
  imports: [SnapshotsComponent, SoundsComponent],
  template: `
    <h1>Logbook</h1>
    <p>What was done to this craft, from the journal that is written before and after every change to its hardware.</p>
    @if (!rows().length && !claims().length) {
      <div class="empty">
        <b>Nothing was done to this craft yet.</b>
        <p>The first work order that is carried out appears here, step by step, and can be rolled back from here.</p>
      </div>
    }
    @for (row of rows(); track row.kept.id) {
      <section [attr.aria-label]="row.title">
        <div class="head">
          <div>
            <b>{{ row.title }}</b>&ngsp;
            <span class="tag" [class]="row.state.kind">{{ row.state.text }}</span>
            <div class="quiet">{{ row.about }}</div>
          </div>
          <div class="acts">
            <button type="button" class="btn" [attr.aria-expanded]="open() === row.kept.id" (click)="toggle(row.kept)">
              {{ open() === row.kept.id ? 'Hide the journal' : 'Journal' }}
            </button>
            @if (row.canRollBack) {
              <button
                type="button"
                class="btn"
                [disabled]="work.running() || !!work.open()"
                (click)="work.prepareRollBack(row.kept.order)"
              >
                Roll back to before
              </button>
            }
          </div>
        </div>
        @if (open() === row.kept.id) {
          <ol>
            @for (entry of lines(); track $index) {
              <li [class]="entry.event">
                <span class="n">{{ entry.time }}</span>
                <span class="event">{{ entry.event }}</span>
                <span>{{ entry.text }}</span>
              </li>
            }
          </ol>
        }
      </section>
    }
    @if (record.notes()?.length) {
      <h2>Decided by a person</h2>
      <table class="plain">
        <tbody>
          @for (note of record.notes(); track $index) {
            <tr>
              <td>{{ note.text }}</td>
              <td class="n">{{ when(note.at) }}</td>
            </tr>
          }
        </tbody>
      </table>
    }
    @if (claims().length) {
      <h2>Boards confirmed by a person</h2>
      <table class="plain">
        <tbody>
          @for (claim of claims(); track claim.of) {
            <tr>
              <td>{{ claim.of }}</td>
              <td>{{ claim.board }}</td>
              <td>{{ claim.by }}</td>
              <td class="n">{{ claim.when }}</td>
            </tr>
          }
        </tbody>
      </table>
    }
    <bx-snapshots />
    <h2>What ESCs say after power-up</h2>
    <bx-sounds />
  `,
  styles: `
    section {
      border-bottom: 1px solid var(--rule);
      padding: var(--s5) 0;
    }
    .head {
      display: flex;
      justify-content: space-between;
      gap: var(--s8);
      align-items: center;
    }
    .acts {
      display: flex;
      gap: var(--s4);
      white-space: nowrap;
    }
    .quiet {
      font-size: var(--fs-note);
    }
    ol {
      list-style: none;
      padding: var(--s4) 0 0;
      font-size: var(--fs-note);
      max-height: 300px;
      overflow: auto;
      position: relative;
    }
    li {
      display: grid;
      grid-template-columns: 76px 76px 1fr;
      padding: var(--s1) 0;
      border-bottom: 1px solid var(--rule-2);
    }
    .event {
      color: var(--ink-2);
    }
    .done .event {
      color: var(--moss);
    }
    .stopped .event,
    .isolated .event,
    .retry .event {
      color: var(--copper);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LogbookComponent {
  private readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  protected readonly work = inject(WorkStore);
  private readonly orders = signal<readonly KeptOrder[]>([]);
  protected readonly open = signal<string | undefined>(undefined);
  private readonly journal = signal<readonly JournalEntry[]>([]);
  protected readonly lines = computed(() => journalLines(this.journal()));

  protected readonly rows = computed(() => orderLines(this.orders()));
  protected readonly claims = computed(() => claimLines(this.fleet.current()?.controllerClaim, this.record.claims()));

  constructor() {
    effect(() => {
      const craftId = this.record.craftId();
      // A finished or stopped order appears at once.
      this.work.running();
      void database.orders
        .where({craftId})
        .toArray()
        .then(
          (orders) => this.orders.set(orders),
          // A store that refuses has no orders to list; the ink bar says so.
          () => this.orders.set([]),
        );
    });
  }

  protected async toggle({id}: KeptOrder): Promise<void> {
    const opens = this.open() !== id;
    this.journal.set(opens ? await browserJournal.entries(id) : []);
    this.open.set(opens ? id : undefined);
  }

  protected readonly when = momentText;
}
