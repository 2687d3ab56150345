import {ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, signal} from '@angular/core';
import type {JournalEntry} from '@core/work/journal';
import type {Progress} from '@core/work/runner';
import type {StepOf} from '@core/work/steps';
import {WorkStore} from '../../state/work.store';

interface Strip {
  readonly id: string;
  readonly name: string;
  readonly image: string;
  readonly pages: number;
  readonly done: number;
  readonly state: 'waiting' | 'writing' | 'paused' | 'done' | 'isolated' | 'stopped';
  readonly words: string;
  readonly bytes: string;
  readonly left: string;
}

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
      padding-bottom: 6px;
    }
    .strip {
      display: grid;
      grid-template-columns: 132px 1fr 250px 150px;
      gap: 14px;
      align-items: center;
      padding: 7px 0;
      border-bottom: 1px solid var(--rule-2);
      font-size: 12.5px;
    }
    .who b,
    .who span {
      display: block;
    }
    .who b {
      font-size: 14px;
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
      margin-right: 6px;
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
  private readonly now = signal(performance.now());
  protected readonly beats = computed(() => Math.floor(this.now() / 500) % 2 === 0);
  /** When each strip's bytes last moved. */
  private readonly moved = new Map<string, {bytes: number; at: number}>();
  protected readonly ages = computed((): Readonly<Record<string, number>> => {
    const now = this.now();
    return Object.fromEntries([...this.moved].map(([id, {at}]) => [id, Math.max(0, now - at)]));
  });

  protected readonly strips = computed((): Strip[] => {
    const order = this.work.open()?.order;
    const journal = this.work.journal();
    const working = this.work.running() ? this.work.working() : {};
    return (order?.steps ?? []).flatMap((step) =>
      step.kind === 'write-firmware' || step.kind === 'visit' ? [strip(step, working[step.id], journal)] : [],
    );
  });

  constructor() {
    const timer = setInterval(() => this.now.set(performance.now()), tickMs);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
    effect(() => {
      for (const [id, progress] of Object.entries(this.work.working())) {
        const bytes = progress.bytesDone ?? 0;
        if (this.moved.get(id)?.bytes !== bytes) this.moved.set(id, {bytes, at: performance.now()});
      }
    });
  }

  protected cells = (pages: number): number[] => Array.from({length: pages}, (_, i) => (i * this.width) / pages + 0.75);
}

function strip(
  step: StepOf<'write-firmware' | 'visit'>,
  progress: Progress | undefined,
  journal: readonly JournalEntry[],
): Strip {
  const own = journal.filter((e) => e.stepId === step.id);
  const writes = step.kind === 'visit' ? step.writes : [step];
  const pages = Math.max(1, progress?.pagesTotal ?? writes.reduce((sum, w) => sum + w.pages, 0));
  const last = own.findLast((e) => e.event !== 'page' && e.event !== 'retry' && e.event !== 'snapshot')?.event;
  const state =
    last === 'done'
      ? 'done'
      : last === 'isolated'
        ? 'isolated'
        : progress?.paused
          ? 'paused'
          : progress?.pagesTotal !== undefined
            ? 'writing'
            : last === 'stopped'
              ? 'stopped'
              : 'waiting';
  const written = own.filter((e) => e.event === 'page').length;
  const done = state === 'done' ? pages : (progress?.pagesDone ?? Math.min(pages, written));
  const kib = (bytes: number) => (bytes / 1024).toFixed(1);
  const words = {
    waiting: 'waits for its turn',
    writing: `page ${Math.min(done + 1, pages)} of ${pages}`,
    paused: `paused after page ${done} of ${pages}`,
    done: `✓ ${pages} pages written and checked`,
    isolated: `isolated at page ${done + 1} of ${pages}`,
    stopped: `stopped after page ${done} of ${pages}`,
  }[state];
  return {
    id: step.id,
    name: step.kind === 'visit' ? step.title.split(',')[0]! : `Motor ${step.target.output + 1}`,
    image: writes.map((w) => w.image.name).join(', then '),
    pages,
    done,
    state,
    words,
    bytes:
      progress?.bytesTotal !== undefined && state !== 'done'
        ? `${kib(progress.bytesDone ?? 0)} of ${kib(progress.bytesTotal)} KiB`
        : '',
    left:
      state === 'writing' && progress?.leftMs !== undefined ? `about ${Math.ceil(progress.leftMs / 1000)} s left` : '',
  };
}
