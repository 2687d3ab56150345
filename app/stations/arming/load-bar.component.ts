import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {loadLimits} from '@core/dshot/loop-budget';

/** A load as a bar, with the lines of good practice and of the most, and a frame for what the plan would make of it. */
@Component({
  selector: 'bx-load-bar',
  template: `
    <svg viewBox="0 0 100 14" preserveAspectRatio="none" aria-hidden="true">
      <rect class="all" x="0" y="5" width="100" height="4" />
      <rect class="used" x="0" y="2" [attr.width]="used()" height="10" />
      @if (planned() !== undefined) {
        <rect class="planned" x="0" y="2" [attr.width]="framed()" height="10" />
      }
      <line [attr.x1]="good" [attr.x2]="good" y1="0" y2="14" />
      <line class="most" [attr.x1]="lost" [attr.x2]="lost" y1="0" y2="14" />
    </svg>
  `,
  styles: `
    svg {
      width: 100%;
      height: 14px;
      display: block;
    }
    .all {
      fill: var(--rule-2);
    }
    .used {
      fill: var(--petrol);
    }
    .planned {
      fill: none;
      stroke: var(--ink);
      vector-effect: non-scaling-stroke;
    }
    line {
      stroke: var(--ink);
      stroke-dasharray: 2 2;
    }
    line.most {
      stroke: var(--copper);
      stroke-dasharray: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LoadBarComponent {
  /** Share of the loop, 0…1 and beyond. */
  readonly load = input.required<number>();
  readonly planned = input<number | undefined>(undefined);

  protected readonly good = loadLimits.good * 100;
  protected readonly lost = loadLimits.most * 100;
  protected readonly used = computed(() => widthOf(this.load()));
  protected readonly framed = computed(() => widthOf(this.planned() ?? 0));
}

const widthOf = (share: number): number => Math.min(100, share * 100);
