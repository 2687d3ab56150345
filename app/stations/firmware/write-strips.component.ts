import {ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, signal} from '@angular/core';
import {stripId, writeStrips} from '@core/sheets/firmware/write-strips';
import {CLOCK, every} from '../../bench/page-clock';
import {WorkStore} from '../../state/work.store';

const tickMs = 250;

/** One strip for each ESC that is written: pages, bytes, time left, and when its last bytes went out. */
@Component({
  selector: 'bx-write-strips',
  template: `
    <h2>Writing</h2>
    <div class="strips">
      @for (strip of strips(); track strip.id) {
        <div class="strip" [class]="strip.state" role="group" [attr.aria-label]="strip.name + ', ' + strip.words">
          <div class="who">
            <b>{{ strip.name }}</b>
            <span>{{ strip.image }}</span>
          </div>
          <svg
            [attr.viewBox]="'0 0 ' + width + ' 22'"
            preserveAspectRatio="none"
            role="progressbar"
            [attr.aria-label]="strip.name"
            [attr.aria-valuenow]="strip.done"
            aria-valuemin="0"
            [attr.aria-valuemax]="strip.pages"
          >
            @for (x of cells(strip.pages); track $index) {
              <rect
                [attr.x]="x"
                y="1"
                [attr.width]="width / strip.pages - 1.5"
                height="20"
                [class.full]="$index < strip.done"
                [class.now]="$index === strip.done && strip.state === 'writing'"
              />
            }
          </svg>
          <div class="n figures">
            <span>{{ strip.words }}</span>
            <span>{{ strip.bytes }}</span>
            <span>{{ strip.left }}</span>
          </div>
          <div class="life n" [class.old]="(ages()[strip.id] ?? 0) > 1500">
            @if (strip.state === 'writing') {
              <i [class.beat]="beats()"></i>last bytes {{ ((ages()[strip.id] ?? 0) / 1000).toFixed(1) }} s ago
            }
          </div>
        </div>
      }
    </div>
  `,
  styles: `
    .strips {
      padding-bottom: var(--s3);
    }
    .strip {
      display: grid;
      grid-template-columns: 150px 1fr 230px 162px;
      gap: var(--s6);
      align-items: center;
      padding: var(--s4) 0;
      border-bottom: 1px solid var(--rule-2);
      font-size: var(--fs-note);
    }
    .who b,
    .who span {
      display: block;
    }
    .who b {
      font-size: var(--fs-base);
    }
    .who span {
      color: var(--ink-2);
    }
    svg {
      width: 100%;
      height: 22px;
    }
    rect {
      fill: none;
      stroke: var(--edge);
      stroke-width: 0.8;
    }
    rect.full {
      fill: var(--petrol);
    }
    rect.now {
      fill: var(--petrol-soft);
      stroke: var(--petrol);
      stroke-width: 2;
    }
    .done rect.full {
      fill: var(--moss);
    }
    .isolated rect.full {
      fill: var(--copper);
    }
    .figures span {
      display: block;
    }
    .figures span + span {
      color: var(--ink-2);
    }
    .isolated .figures span:first-child {
      color: var(--copper);
      font-weight: 700;
    }
    .done .figures span:first-child {
      color: var(--moss);
    }
    .life {
      color: var(--ink-2);
    }
    .life.old {
      color: var(--ochre-ink);
      font-weight: 700;
    }
    .life i {
      display: inline-block;
      width: 9px;
      height: 9px;
      border-radius: 50%;
      border: 2px solid var(--moss);
      margin-right: var(--s3);
    }
    .life i.beat {
      background: var(--moss);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WriteStripsComponent {
  private readonly work = inject(WorkStore);
  protected readonly width = 400;
  private readonly clock = inject(CLOCK);
  private readonly now = signal(this.clock.now());
  protected readonly beats = computed(() => Math.floor(this.now() / 500) % 2 === 0);
  /** When each strip's bytes last moved. */
  private readonly moved = new Map<string, {bytes: number; at: number}>();
  protected readonly ages = computed((): Readonly<Record<string, number>> => {
    const now = this.now();
    const ages: Record<string, number> = {};
    for (const [id, {at}] of this.moved) {
      const strip = stripId(id);
      ages[strip] = Math.min(ages[strip] ?? Infinity, Math.max(0, now - at));
    }
    return ages;
  });

  protected readonly strips = computed(() => writeStrips(this.work.now()));

  constructor() {
    inject(DestroyRef).onDestroy(every(this.clock, tickMs, () => this.now.set(this.clock.now())));
    effect(() => {
      for (const [id, progress] of Object.entries(this.work.working())) {
        const bytes = progress.bytesDone ?? 0;
        if (this.moved.get(id)?.bytes !== bytes) this.moved.set(id, {bytes, at: this.clock.now()});
      }
    });
  }

  protected cells = (pages: number): number[] => Array.from({length: pages}, (_, i) => (i * this.width) / pages + 0.75);
}
