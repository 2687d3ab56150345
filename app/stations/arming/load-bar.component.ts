import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {loadBar} from '@core/sheets/signal/loop';

/** A load as a bar, with the lines of good practice and of the most, and a frame for what the plan would make of it. */
@Component({
  selector: 'bx-load-bar',
  template: `
    <svg viewBox="0 0 100 14" preserveAspectRatio="none" aria-hidden="true">
      <rect class="all" x="0" y="5" width="100" height="4" />
      <rect class="used" x="0" y="2" [attr.width]="bar().used" height="10" />
      @if (bar().planned !== undefined) {
        <rect class="planned" x="0" y="2" [attr.width]="bar().planned" height="10" />
      }
      <line [attr.x1]="bar().good" [attr.x2]="bar().good" y1="0" y2="14" />
      <line class="most" [attr.x1]="bar().most" [attr.x2]="bar().most" y1="0" y2="14" />
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
  protected readonly bar = computed(() => loadBar(this.load(), this.planned()));
}
