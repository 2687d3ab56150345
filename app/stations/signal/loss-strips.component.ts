import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import type {LossBin} from '@core/replies/reply-quality';
import {shareOf} from '@core/replies/reply-quality';
import {percent} from '@core/words/percent';

export interface LossRow {
  readonly name: string;
  readonly bins: readonly LossBin[];
}

const height = 22;
/** A bar is as high as the logarithm of the loss: from 0.01 % at the foot to all at the top. */
const decades = 4;

/** Loss of each motor over something, as bars: nothing where none was lost, a gap where nothing was asked. */
@Component({
  selector: 'bx-loss-strips',
  template: `
    @for (row of drawn(); track row.name) {
      <div class="row">
        <span class="n">{{ row.name }}</span>
        <svg
          [attr.viewBox]="'0 0 ' + row.count + ' 22'"
          preserveAspectRatio="none"
          role="img"
          [attr.aria-label]="row.label"
        >
          <path class="asked" [attr.d]="row.asked" />
          <path class="lost" [attr.d]="row.lost" />
        </svg>
        <span class="n worst" [class.bad]="row.worst">{{ row.worst ? row.worst : 'none' }}</span>
      </div>
    }
    <div class="row axis">
      <span></span>
      <span class="ends n"
        ><span>{{ from() }}</span
        ><span>{{ title() }}</span
        ><span>{{ to() }}</span></span
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
  readonly rows = input.required<readonly LossRow[]>();
  readonly title = input.required<string>();
  readonly from = input.required<string>();
  readonly to = input.required<string>();

  protected readonly drawn = computed(() =>
    this.rows().map(({name, bins}) => {
      const shares = bins.map(shareOf);
      const worst = Math.max(0, ...shares.map((s) => s ?? 0));
      const bar = (i: number, h: number) => `M${i} ${height}h1v${-h}h-1z`;
      return {
        ...{name, count: Math.max(1, bins.length), worst: worst > 0 ? percent(worst) : ''},
        asked: shares.map((s, i) => (s === undefined ? '' : bar(i, height))).join(''),
        lost: shares.map((s, i) => (s ? bar(i, barHeight(s)) : '')).join(''),
        label: `Motor ${name} over ${this.title()}: ${worst > 0 ? `at most ${percent(worst)} lost` : 'none lost'}`,
      };
    }),
  );
}

const barHeight = (share: number): number =>
  Math.max(4, Math.round(height * Math.min(1, 1 + Math.log10(share) / decades)));
