import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Scroller} from 'primeng/scroller';
import {SelectButton} from 'primeng/selectbutton';
import type {Frame} from '@core/capture/decode/frames';
import {CaptureStore} from '../../../state/capture.store';
import {grouped} from '@core/words/grouped';

/** Height of a row, px, and rows that are asked for beyond those that are seen. */
const [rowPx, beyond] = [26, 40];

/** Every frame of the wire, or the faulty ones alone: only the rows that are seen are there. */
@Component({
  selector: 'bx-frame-table',
  imports: [FormsModule, Scroller, SelectButton],
  template: `
    <div class="head">
      <p-selectbutton
        ariaLabel="Which frames"
        [options]="choices()"
        optionLabel="label"
        optionValue="value"
        [allowEmpty]="false"
        [ngModel]="captures.faultsOnly()"
        (ngModelChange)="captures.setFaultsOnly($event)"
      />
    </div>
    <div role="group" aria-label="Frames of the wire">
      <div class="row titles" aria-hidden="true">
        <span>Time</span><span>Frame</span><span>Verdict</span><span>Meaning</span>
      </div>
      @if (count()) {
        <p-virtualscroller
          #scroller
          [items]="places()"
          [itemSize]="rowPx"
          [scrollHeight]="height()"
          (onScrollIndexChange)="seen($event)"
        >
          <ng-template #item let-options="options">
            @if (frameOf(options.index); as frame) {
              <button
                type="button"
                class="row"
                [class.picked]="frame.row === captures.row()"
                [attr.aria-label]="label(frame)"
                (click)="picked.emit(frame)"
              >
                <span class="n">{{ isMissing(frame) ? '–' : (frame.from * 1e3).toFixed(4) + ' ms' }}</span><span
                  class="n"
                  >{{ frame.kind }} {{ frame.command }}</span
                ><span
                  ><span class="tag" [class.ok]="frame.ok" [class.diff]="!frame.ok">{{
                    frame.ok ? 'right' : isMissing(frame) ? 'missing' : 'bad'
                  }}</span></span
                ><span class="text">{{ frame.text }}</span>
              </button>
            } @else {
              <div class="row quiet"><span>…</span></div>
            }
          </ng-template>
        </p-virtualscroller>
      } @else {
        <p class="quiet none">
          {{ captures.faultsOnly() ? 'No frame of this wire is faulty.' : 'No frame on this wire.' }}
        </p>
      }
    </div>
  `,
  styles: `
    .head p-selectbutton {
      display: flex;
      width: 330px;
      padding: var(--s3) 0;
    }
    .row {
      display: grid;
      grid-template-columns: 112px 118px 66px minmax(0, 1fr);
      gap: var(--s4);
      width: 100%;
      height: 26px;
      align-items: center;
      border: 0;
      border-bottom: 1px solid var(--rule-2);
      background: none;
      text-align: left;
      font-size: var(--fs-note);
      padding: 0 var(--s2);
    }
    button.row {
      cursor: pointer;
    }
    button.row:hover {
      background: var(--tint);
    }
    .row.picked {
      background: var(--petrol-soft);
      box-shadow: inset 3px 0 0 var(--petrol);
    }
    .titles {
      color: var(--ink-2);
      font-size: var(--fs-note);
    }
    .text {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .none {
      padding: var(--s6) 0;
      font-size: var(--fs-note);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FrameTableComponent {
  protected readonly captures = inject(CaptureStore);
  readonly picked = output<Frame>();
  protected readonly rowPx = rowPx;
  protected readonly height = computed(() => `${Math.min(9, this.count()) * rowPx}px`);
  private readonly scroller = viewChild<Scroller>('scroller');

  private readonly faults = computed(() => this.captures.looked()?.faults ?? 0);
  private readonly rows = computed(() => this.captures.detail()?.rows ?? 0);
  protected readonly choices = computed(() => [
    {value: true, label: `Faulty, ${grouped(this.faults())}`},
    {value: false, label: `All, ${grouped(this.rows())}`},
  ]);
  protected readonly count = computed(() => (this.captures.faultsOnly() ? this.faults() : this.rows()));
  /** As long as the list; what stands in a row is fetched when it is seen. */
  protected readonly places = computed((): unknown[] => new Array(this.count()));

  /** Frames that were fetched, by their place in the list. */
  private readonly frames = signal<ReadonlyMap<number, Frame>>(new Map());
  private generation = 0;

  constructor() {
    // Another wire, another list, another way to read it: what was fetched is of the one before.
    effect(() => {
      this.captures.detail();
      this.captures.faultsOnly();
      untracked(() => {
        this.generation++;
        this.frames.set(new Map());
        void this.fetch(0, beyond);
      });
    });
    // A frame that was picked in the timeline comes into sight.
    effect(() => {
      const row = this.captures.row();
      if (row === undefined || untracked(() => this.isSeen(row))) return;
      if (!untracked(() => this.captures.faultsOnly())) this.scroller()?.scrollToIndex(row);
    });
  }

  protected frameOf = (place: number): Frame | undefined => this.frames().get(place);
  protected isMissing = (frame: Frame): boolean => frame.kind === 'reply' && frame.text === 'no reply';
  protected label = (f: Frame): string => `${f.kind} ${f.command}, ${f.ok ? 'right' : 'faulty'}: ${f.text}`;

  protected seen({first = 0, last = 0}: {first?: number; last?: number}): void {
    void this.fetch(Math.max(0, first - beyond), last + beyond);
  }

  private isSeen(row: number): boolean {
    return [...this.frames().values()].some((f) => f.row === row);
  }

  private async fetch(from: number, to: number): Promise<void> {
    const {generation} = this;
    const known = this.frames();
    let begin = from;
    while (begin < to && known.has(begin)) begin++;
    if (begin >= Math.min(to, this.count())) return;
    const fetched = await this.captures.frames(begin, to - begin, this.captures.faultsOnly());
    if (!fetched || generation !== this.generation) return;
    this.frames.update((all) => new Map([...all, ...fetched.map((f, i) => [begin + i, f] as const)]));
  }
}
