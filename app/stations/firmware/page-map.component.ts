import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {findChip} from '@core/firmware/chips';
import {hexOf} from '@core/hex';
import type {PagePlan} from '@core/firmware/page-plan';

type PageKind = 'boot' | 'write' | 'equal' | 'empty' | 'settings';

/** The flash of one ESC, page by page: what stays, what is written, what is kept. */
@Component({
  selector: 'bx-page-map',
  template: `
    <svg [attr.viewBox]="'0 0 ' + drawnWidth() + ' 48'" role="img" [attr.aria-label]="summary()">
      <defs>
        <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" fill="var(--rule-2)" />
          <path d="M0 0V5" stroke="var(--ink-3)" stroke-width="3" />
        </pattern>
      </defs>
      @for (page of pages(); track page.i) {
        <rect [attr.x]="page.x" y="2" [attr.width]="page.w" height="26" [class]="page.kind">
          <title>0x{{ page.address }}: {{ words[page.kind] }}</title>
        </rect>
      }
      @for (mark of marks(); track mark.x) {
        <text [attr.x]="mark.x" y="43" [attr.text-anchor]="mark.anchor">0x{{ mark.address }}</text>
      }
    </svg>
    <div class="key">
      @for (item of key(); track item.kind) {
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
  protected readonly words: Record<PageKind, string> = {
    boot: 'bootloader, never touched',
    write: 'to write',
    equal: 'already equal',
    empty: 'empty',
    settings: 'settings page, kept',
  };

  protected readonly pages = computed(() => {
    const chip = findChip(this.chipName())!;
    const {image, toWrite} = this.plan();
    const count = chip.flashBytes / chip.pageBytes;
    const pitch = this.drawnWidth() / count;
    const kindAt = (address: number): PageKind => {
      if (address >= chip.bootloader.start && address < chip.bootloader.end) return 'boot';
      if (address === chip.settings.start) return 'settings';
      if (toWrite.some((p) => p.address === address)) return 'write';
      return image.some((p) => p.address === address) ? 'equal' : 'empty';
    };
    return Array.from({length: count}, (_, i) => {
      const address = i * chip.pageBytes;
      return {
        i,
        x: i * pitch + 0.5,
        w: Math.max(1, pitch - (pitch > 8 ? 2 : 1)),
        kind: kindAt(address),
        address: hexOf(address, 4),
      };
    });
  });

  /** Addresses under the drawing; one that would run into its neighbour is left away. */
  protected readonly marks = computed(() => {
    const chip = findChip(this.chipName())!;
    const width = this.drawnWidth();
    const {image} = this.plan();
    const last = {x: width, address: hexOf(chip.flashBytes - 1, 4), anchor: 'end'};
    const ends = image.length ? [image[0]!.address, image.at(-1)!.address + chip.pageBytes] : [];
    const marks: (typeof last)[] = [];
    for (const address of [0, ...ends]) {
      const x = (address / chip.flashBytes) * width;
      if (x >= (marks.at(-1)?.x ?? -markWidth) + markWidth && x < width - 2 * markWidth)
        marks.push({x, address: hexOf(address, 4), anchor: 'start'});
    }
    return [...marks, last];
  });

  protected readonly key = computed((): {kind: PageKind; text: string}[] => [
    {kind: 'boot', text: 'bootloader, never touched'},
    ...(this.wording() === 'image'
      ? [{kind: 'write' as const, text: `${this.plan().image.length} pages of the image`}]
      : [
          {kind: 'write' as const, text: `${this.plan().toWrite.length} pages to write`},
          {kind: 'equal' as const, text: `${this.plan().equalCount} pages already equal`},
        ]),
    {kind: 'settings', text: 'settings page, kept'},
    {kind: 'empty', text: 'empty'},
  ]);
  protected readonly summary = computed(() =>
    this.key()
      .map((k) => k.text)
      .join(', '),
  );
}

/** Room one address takes, in the drawing's units. */
const markWidth = 44;
