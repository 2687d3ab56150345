import {ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, signal} from '@angular/core';
import type {JournalEntry} from '@core/run/journal';
import type {Progress} from '@core/run/runner';
import type {ImagesOfStep} from '@core/order/step-kind';
import type {Step} from '@core/order/steps';
import {every} from '@core/link/port';
import {stepKinds} from '@core/run/step-kinds';
import {CLOCK} from '../../bench/clock';
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
      padding-bottom: var(--s3);
    }
    .strip {
      display: grid;
      grid-template-columns: 150px 1fr 196px 196px;
      gap: var(--s6);
      align-items: center;
      padding: var(--s4) 0;
      border-bottom: 1px solid var(--rule-2);
      font-size: var(--fs-small);
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

  protected readonly strips = computed((): Strip[] => {
    const steps = (this.work.open()?.order.steps ?? []).flatMap(imageStep);
    const journal = this.work.journal();
    const working = this.work.running() ? this.work.working() : {};
    return [...new Set(steps.map((s) => s.target.output))].map((output) =>
      stripOf(
        steps.filter((s) => s.target.output === output).map((s) => part(s, working[s.step.id], journal)),
        steps.find((s) => s.target.output === output)!,
      ),
    );
  });

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

/** The strip a step belongs to: a reply module shares its ESC's. */
const stripId = (stepId: string): string => stepId.replace(/-module$/, '');

/** How far one step of an ESC is. */
interface Part {
  readonly image: string;
  readonly pages: number;
  readonly done: number;
  readonly state: Strip['state'];
  readonly progress: Progress | undefined;
}

/** A step that writes images, with them. */
interface ImageStep extends ImagesOfStep {
  readonly step: Step;
}

function imageStep(step: Step): ImageStep[] {
  const images = stepKinds.of(step).images?.(step);
  return images ? [{step, ...images}] : [];
}

function part({step, writes}: ImageStep, progress: Progress | undefined, journal: readonly JournalEntry[]): Part {
  const own = journal.filter((e) => e.stepId === step.id);
  const pages = progress?.pagesTotal ?? writes.reduce((sum, w) => sum + w.pages, 0);
  const last = own.findLast((e) => e.event !== 'page' && e.event !== 'retry' && e.event !== 'snapshot')?.event;
  const state = stateOf(last, progress);
  const written = own.filter((e) => e.event === 'page').length;
  const done = state === 'done' ? pages : (progress?.pagesDone ?? Math.min(pages, written));
  return {image: writes.map((w) => w.image.name).join(', then '), pages, done, state, progress};
}

function stateOf(last: JournalEntry['event'] | undefined, progress: Progress | undefined): Strip['state'] {
  if (last === 'done' || last === 'isolated') return last;
  if (progress?.paused) return 'paused';
  if (progress?.pagesTotal !== undefined) return 'writing';
  return last === 'stopped' ? 'stopped' : 'waiting';
}

/** One ESC's images in one strip, base first. */
function stripOf(parts: readonly Part[], {step, target}: ImageStep): Strip {
  const sum = (of: (p: Part) => number) => parts.reduce((total, p) => total + of(p), 0);
  const [pages, done] = [
    Math.max(
      1,
      sum((p) => p.pages),
    ),
    sum((p) => p.done),
  ];
  const now = parts.find((p) => p.state !== 'done') ?? parts.at(-1)!;
  const state = now.state === 'waiting' && done > 0 ? 'writing' : now.state;
  const {progress} = now;
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
    name: step.kind === 'visit' ? step.title.split(',')[0]! : `Motor ${target.output + 1}`,
    image: parts.map((p) => p.image).join(', then '),
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
