import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import type {PagePlan} from '@core/firmware/plan/page-plan';
import {pageMap} from '@core/sheets/firmware/page-map';

/** The flash of one ESC, page by page: what stays, what is written, what is kept. */
@Component({
  selector: 'bx-page-map',
  template: `
    <svg [attr.viewBox]="'0 0 ' + drawnWidth() + ' 48'" role="img" [attr.aria-label]="map().summary">
      <defs>
        <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" fill="var(--rule-2)" />
          <path d="M0 0V5" stroke="var(--ink-3)" stroke-width="3" />
        </pattern>
      </defs>
      @for (page of pages(); track page.i) {
        <rect [attr.x]="page.x" y="2" [attr.width]="page.w" height="26" [class]="page.kind">
          <title>{{ page.text }}</title>
        </rect>
      }
      @for (mark of marks(); track mark.x) {
        <text [attr.x]="mark.x" y="43" [attr.text-anchor]="mark.anchor">{{ mark.address }}</text>
      }
    </svg>
    <div class="key">
      @for (item of map().key; track item.kind) {
        <span
          ><svg width="12" height="12" aria-hidden="true">
            <rect width="12" height="12" [class]="item.kind" /></svg
          >{{ item.text }}</span
        >
      }
    </div>
  `,
  styles: `
    :host {
      display: block;
      padding-top: var(--s4);
    }
    svg {
      width: 100%;
      display: block;
    }
    text {
      font: var(--fs-axis) var(--mono);
      fill: var(--ink-3);
    }
    rect {
      stroke: var(--edge);
      stroke-width: 0.5;
    }
    .boot {
      fill: url(#hatch);
    }
    .write {
      fill: var(--petrol);
    }
    .equal {
      fill: var(--petrol-soft);
    }
    .settings {
      fill: var(--ochre);
    }
    .empty {
      fill: none;
    }
    .key {
      display: flex;
      flex-wrap: wrap;
      gap: var(--s3) var(--s8);
      font-size: var(--fs-note);
      color: var(--ink-2);
      padding-top: var(--s3);
    }
    .key span {
      display: flex;
      gap: var(--s3);
      align-items: center;
    }
    .key svg {
      width: 12px;
      height: 12px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PageMapComponent {
  readonly chipName = input.required<string>();
  readonly plan = input.required<PagePlan>();
  /** What filled pages stand for: pages to write, or just pages of the image. */
  readonly wording = input<'write' | 'image'>('write');
  /** Width of the drawing's own units: what it is shown at, so that its type keeps its size. */
  readonly drawnWidth = input(916);
  protected readonly map = computed(() => pageMap(this.chipName(), this.plan(), this.wording()));

  protected readonly pages = computed(() => {
    const {pages} = this.map();
    const pitch = this.drawnWidth() / pages.length;
    const w = Math.max(1, pitch - (pitch > 8 ? 2 : 1));
    return pages.map((page, i) => ({...page, i, w, x: i * pitch + 0.5}));
  });

  /** Addresses under the drawing; one that would run into its neighbour is left away. */
  protected readonly marks = computed(() => {
    const width = this.drawnWidth();
    const all = this.map().marks;
    const marks: {x: number; address: string; anchor: string}[] = [];
    for (const {share, address} of all.slice(0, -1)) {
      const x = share * width;
      if (x >= (marks.at(-1)?.x ?? -markWidth) + markWidth && x < width - 2 * markWidth)
        marks.push({x, address, anchor: 'start'});
    }
    return [...marks, {x: width, address: all.at(-1)!.address, anchor: 'end'}];
  });
}

/** Room one address takes, in the drawing's units. */
const markWidth = 44;
