import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {pianoRoll, type Melody} from '@core/sheets/parameters/sounds';

const rowPx = 7;

/** A melody as a piano roll: time to the right, pitch upwards; the rows of the black keys are shaded. */
@Component({
  selector: 'bx-melody-roll',
  template: `
    @let height = roll().rows.length * rowPx;
    <svg
      [attr.viewBox]="'0 0 1000 ' + height"
      [style.height.px]="height"
      preserveAspectRatio="none"
      role="img"
      [attr.aria-label]="roll().spoken"
    >
      @for (row of roll().rows; track $index) {
        <rect
          x="0"
          [attr.y]="$index * rowPx"
          width="1000"
          [attr.height]="rowPx"
          [attr.class]="row.isBlack ? 'black' : 'white'"
        />
      }
      @for (bar of roll().bars; track $index) {
        <rect
          [attr.x]="bar.from"
          [attr.y]="bar.row * rowPx + 1"
          [attr.width]="bar.width"
          [attr.height]="rowPx - 2"
          class="note"
        />
      }
    </svg>
    <p class="quiet">
      <span>{{ roll().range }}</span><span class="n">{{ roll().length }}</span>
    </p>
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      max-height: 190px;
      border: 1px solid var(--rule);
      background: var(--sheet);
    }
    .white {
      fill: var(--sheet);
    }
    .black {
      fill: var(--tint);
    }
    .note {
      fill: var(--petrol);
    }
    p {
      display: flex;
      justify-content: space-between;
      font-size: var(--fs-note);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MelodyRollComponent {
  readonly melody = input.required<Melody>();
  protected readonly rowPx = rowPx;
  protected readonly roll = computed(() => pianoRoll(this.melody()));
}
