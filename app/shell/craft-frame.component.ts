import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import {RouterLink, RouterLinkActive, RouterOutlet} from '@angular/router';
import {stationNames, stationTitles} from '@core/words/station-names';
import {DocketComponent} from '../docket/docket.component';
import {KeptStations} from '../shared/kept-stations';
import {BenchStore} from '../state/bench.store';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {CraftQuestionStore} from '../state/craft-question.store';
import {ShelfStore} from '../state/shelf.store';
import {WorkStore} from '../state/work.store';

const stateWords = {open: 'open', part: 'in part', done: 'done', absent: ''} as const;

/** One craft: its route of stations, the open station's sheet, and the docket. */
@Component({
  selector: 'bx-craft-frame',
  imports: [RouterLink, RouterLinkActive, RouterOutlet, DocketComponent],
  template: `
    @if (busyWith(); as other) {
      <main>
        <section class="sheet">
          <div class="empty">
            <b>A work order of {{ other.name }} is being carried out.</b>
            <p>
              One craft is on the bench at a time. Plan and records of this one open when the order is done or stopped.
            </p>
            <a class="btn full big" [routerLink]="['/craft', other.id, 'firmware']">Back to {{ other.name }}</a>
          </div>
        </section>
      </main>
    } @else if (craft()) {
      <nav class="route" aria-label="Stations">
        @for (stop of stops(); track stop.name) {
          <a
            class="stop"
            [class]="stop.state"
            [routerLink]="['/craft', craftId(), stop.name]"
            routerLinkActive="here"
            ariaCurrentWhenActive="page"
          >
            {{ stop.title }}<small>{{ stop.note }}</small
            ><span class="visually-hidden">, {{ stop.words }}</span>
          </a>
        }
      </nav>
      <main>
        <section class="sheet" tabindex="0" aria-label="Sheet"><router-outlet /></section>
        <bx-docket />
      </main>
    } @else if (fleet.loaded()) {
      <main>
        <section class="sheet">
          <div class="empty">
            <b>There is no craft "{{ craftId() }}" in this fleet.</b>
            <p>It may live in another browser.</p>
            <a class="btn" routerLink="/">Back to the fleet</a>
          </div>
        </section>
      </main>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      flex: 1;
      min-height: 0;
    }
    .route {
      flex: 0 0 66px;
      display: flex;
      align-items: flex-start;
      padding: var(--s2) var(--s8) 0;
      border-bottom: 1px solid var(--rule);
    }
    .stop {
      flex: 1;
      position: relative;
      font-size: var(--fs-body);
      color: var(--ink-2);
      padding-top: var(--s8);
      line-height: 1.25;
      text-decoration: none;
      white-space: nowrap;
    }
    .stop::before {
      content: '';
      position: absolute;
      left: 0;
      top: 8px;
      width: 11px;
      height: 11px;
      border-radius: 50%;
      border: 2px solid var(--ink-3);
      background: var(--paper);
      z-index: 1;
    }
    .stop::after {
      content: '';
      position: absolute;
      left: 11px;
      right: 0;
      top: 13px;
      border-top: 2px solid var(--rule);
    }
    .stop:last-child {
      flex: 0.55;
    }
    .stop:last-child::after {
      display: none;
    }
    .stop.done::before {
      background: var(--moss);
      border-color: var(--moss);
    }
    .stop.done::after {
      border-color: var(--moss);
    }
    .stop.part::before {
      border-color: var(--ochre);
      background: linear-gradient(90deg, var(--ochre) 50%, var(--paper) 50%);
    }
    .stop.here {
      color: var(--ink);
      font-weight: 700;
    }
    .stop.here::before {
      width: 15px;
      height: 15px;
      left: -2px;
      top: 6px;
      border-width: 4px;
      border-color: var(--petrol);
    }
    .stop:hover {
      color: var(--ink);
      text-decoration: underline;
    }
    .stop small {
      display: block;
      font: var(--fs-note) / 1.25 var(--mono);
      color: var(--ink-3);
      font-weight: 400;
    }
    main {
      display: flex;
      flex: 1;
      min-height: 0;
      position: relative;
    }
    @media (max-width: 1150px) {
      main {
        flex-direction: column;
      }
      .stop small {
        display: none;
      }
    }
    .sheet {
      flex: 1;
      min-width: 0;
      padding: var(--s8) var(--s8) var(--s9);
      overflow: auto;
      /* What stands outside of the flow inside it scrolls with it, and does not make the page taller. */
      position: relative;
      outline: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CraftFrameComponent {
  readonly craftId = input.required<string>();
  protected readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  private readonly route = inject(CraftQuestionStore);
  private readonly shelf = inject(ShelfStore);
  private readonly work = inject(WorkStore);
  private readonly bench = inject(BenchStore);

  /** The other craft whose order is running: nothing else may be opened meanwhile. */
  protected readonly busyWith = computed(() => {
    const running = this.work.running() ? this.work.open()?.craftId : undefined;
    return running !== undefined && running !== this.craftId()
      ? this.fleet.crafts().find((c) => c.id === running)
      : undefined;
  });

  protected readonly craft = computed(() => (this.fleet.loaded() ? this.fleet.current() : undefined));
  protected readonly stops = computed(() => {
    const states = this.route.states();
    const shown = stationNames.filter((name) => states?.[name].state !== 'absent');
    return shown.map((name) => ({
      name,
      title: stationTitles[name],
      state: states?.[name].state ?? 'open',
      note: states?.[name].note ?? '',
      words: stateWords[states?.[name].state ?? 'open'],
    }));
  });

  constructor() {
    const kept = inject(KeptStations);
    inject(DestroyRef).onDestroy(() => kept.clear());
    effect(() => {
      const id = this.craftId();
      const busy = this.busyWith() !== undefined;
      untracked(() => {
        if (busy) return;
        this.fleet.open(id);
        void this.record.open(id);
        void this.work.load(id);
        // The bench of another craft is let go: what is shown must be what is connected.
        if (this.bench.craftId() !== undefined && this.bench.craftId() !== id) void this.bench.disconnect();
        if (!this.shelf.catalogue()) void this.shelf.load();
      });
    });
  }
}
