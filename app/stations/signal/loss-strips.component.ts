import {ChangeDetectionStrategy, Component, input} from '@angular/core';
import type {LossStrips} from '@core/sheets/signal/stress';

/** Loss of each motor over something, as bars: nothing where none was lost, a gap where nothing was asked. */
@Component({
  selector: 'bx-loss-strips',
  template: `
    @for (strip of over().strips; track strip.motor) {
      <div class="row">
        <span class="n">{{ strip.motor }}</span>
        <svg
          [attr.viewBox]="'0 0 ' + strip.bins + ' 22'"
          preserveAspectRatio="none"
          role="img"
          [attr.aria-label]="strip.label"
        >
          <path class="asked" [attr.d]="strip.asked" />
          <path class="lost" [attr.d]="strip.lost" />
        </svg>
        <span class="n worst" [class.bad]="strip.worst">{{ strip.worst || 'none' }}</span>
      </div>
    }
    <div class="row axis">
      <span></span>
      <span class="ends n"
        ><span>0</span><span>{{ over().title }}</span
        ><span>{{ over().to }}</span></span
      >
      <span class="n worst">worst</span>
    </div>
  `,
  styles: `
    .row {
      display: grid;
      grid-template-columns: 22px minmax(0, 1fr) 58px;
      gap: var(--s3);
      align-items: center;
      font-size: var(--fs-note);
      padding-bottom: var(--s1);
    }
    svg {
      width: 100%;
      height: 18px;
      display: block;
      background: repeating-linear-gradient(90deg, var(--sheet) 0 2px, var(--rule-2) 2px 4px);
    }
    .asked {
      fill: var(--tint);
    }
    .lost {
      fill: var(--copper);
    }
    .worst {
      text-align: right;
      color: var(--ink-2);
      white-space: nowrap;
    }
    .worst.bad {
      color: var(--copper);
    }
    .axis {
      color: var(--ink-2);
      font-size: var(--fs-axis);
    }
    .ends {
      display: flex;
      justify-content: space-between;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LossStripsComponent {
  readonly over = input.required<LossStrips>();
}
